import { useSearchParams } from "react-router";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import type { Deed, DeedKind } from "~/server/study-log";

const kinds: readonly (readonly [DeedKind | "", string])[] = [
  ["", "everything"],
  ["released", "releases"],
  ["rights", "who works on it"],
  ["collecting", "links and waves"],
  ["opened", "what was looked at"],
  ["exported", "what was taken away"],
  ["left-out", "what does not count"],
  ["recipe", "recipes"],
  ["scored", "scores and norms"],
  ["key", "keys"],
  ["removed", "what was removed"],
  ["study", "bin"],
];
const aPage = 200;

/** What was done in a study, newest first. */
export function StudyLog({ kind, page, deeds }: { kind: DeedKind | undefined; page: number; deeds: Deed[] }) {
  const [, setQuery] = useSearchParams();
  const ask = (change: { log: string; page: number }) =>
    setQuery(
      { ...(change.log === "" ? {} : { log: change.log }), ...(change.page > 1 ? { page: String(change.page) } : {}) },
      { preventScrollReset: true, replace: true },
    );
  return (
    <section aria-labelledby="log">
      <div className="flex items-baseline justify-between gap-3">
        <h2 id="log" className="font-serif text-[20px]">
          Log
        </h2>
        <select
          aria-label="What the log shows"
          className="field !w-[190px]"
          value={kind ?? ""}
          onChange={({ target }) => ask({ log: target.value, page: 1 })}
        >
          {kinds.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      </div>
      {deeds.length === 0 ? (
        <p className="mt-1 text-muted">{page > 1 ? "Nothing earlier." : "Nothing yet."}</p>
      ) : (
        <ul className="mt-1 text-sm" data-log>
          {deeds.map((deed, index) => (
            <li key={index} className="grid grid-cols-[120px_1fr] gap-2 border-b border-hairline py-1">
              <span className="text-muted">
                <When iso={deed.at} form="moment" />
              </span>
              <span>
                {deed.what} <span className="text-muted">by {deed.by}</span>
              </span>
            </li>
          ))}
        </ul>
      )}
      <p className="mt-2 flex gap-2">
        {page > 1 && <Button onClick={() => ask({ log: kind ?? "", page: page - 1 })}>Later</Button>}
        {deeds.length === aPage && <Button onClick={() => ask({ log: kind ?? "", page: page + 1 })}>Earlier</Button>}
      </p>
      <p className="text-xs text-muted">
        Nothing here can be changed or taken out. Participants stand here by their numbers only.
      </p>
    </section>
  );
}
