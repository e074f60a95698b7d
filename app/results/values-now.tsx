import type { Watched } from "~/core/run/onlooker";

/** What values are in a session as it is played, and what its rules did, or why they did not; the latest first. */
export function ValuesNow({ watched: { values, rules } }: { watched: Watched }) {
  return (
    <div className="grid grid-cols-[minmax(0,2fr)_minmax(0,3fr)] gap-4 p-4 small:grid-cols-1">
      <section>
        <h2 className="mb-1 text-xs font-semibold text-muted">Values now</h2>
        <dl className="grid grid-cols-[minmax(0,1fr)_auto] text-sm">
          {values.map(({ name, value }) => (
            <div key={name} className="col-span-2 grid grid-cols-subgrid border-b border-hairline py-0.5">
              <dt className="truncate font-mono text-xs text-sheen">{name}</dt>
              <dd className={`text-right font-mono text-xs ${value === "empty" ? "text-muted" : ""}`}>{value}</dd>
            </div>
          ))}
        </dl>
      </section>
      <section>
        <h2 className="mb-1 text-xs font-semibold text-muted">What rules did, the latest first</h2>
        {rules.length === 0 && <p className="text-sm text-muted">No rule has been set off yet.</p>}
        <ol className="text-sm">
          {rules.toReversed().map(({ at, trial, rule, did, whyNot }, index) => (
            <li key={index} className="border-b border-hairline py-1">
              <span className="mr-2 font-mono text-xs text-muted">
                {trial === null ? "" : `trial ${trial} · `}
                {(at / 1000).toFixed(2)} s
              </span>
              <b className="font-semibold">{rule}</b>{" "}
              {did === null ? <span className="text-muted">did nothing: {whyNot}</span> : did}
            </li>
          ))}
        </ol>
      </section>
    </div>
  );
}
