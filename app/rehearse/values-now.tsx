import { useState } from "react";
import { useStudy } from "~/app/editing/use-study";
import { settable } from "~/app/rehearse/how-played";
import type { Watched } from "~/core/run/onlooker";
import { byHandChannel, type ByHand } from "~/core/run/rehearsal";
import { textProblem, valueFromText } from "~/core/values/given";
import type { Variable } from "~/core/values/study-values";

type Settable = Pick<Variable, "id" | "name" | "type">;

/**
 * What values are in a session as it is played, and what its rules did, or why they did not; the latest first. Where a rehearsal
 * is being played (`session`), variables can be set by hand.
 */
export function ValuesNow({ watched: { values, rules }, session }: { watched: Watched; session: string | null }) {
  const { document } = useStudy();
  const byName = new Map<string, Settable>(settable(document).map((variable) => [variable.name, variable]));
  const [sent, setSent] = useState<Readonly<Record<string, string>>>({});
  const set = (session: string, variable: Settable, text: string) => {
    const channel = new BroadcastChannel(byHandChannel(session));
    channel.postMessage({
      on: "by-hand",
      variable: variable.id,
      value: valueFromText(variable, text),
    } satisfies ByHand);
    channel.close();
    setSent((before) => ({ ...before, [variable.name]: text.trim() || "empty" }));
  };
  return (
    <div className="grid grid-cols-[minmax(0,2fr)_minmax(0,3fr)] gap-4 p-4 small:grid-cols-1">
      <section>
        <h2 className="mb-1 text-xs font-semibold text-muted">Values now</h2>
        <dl className="grid grid-cols-[minmax(160px,1fr)_minmax(0,auto)] text-sm">
          {values.map(({ name, value }) => {
            const variable = session === null ? undefined : byName.get(name);
            const isComing = sent[name] !== undefined && sent[name] !== value;
            return (
              <div
                key={name}
                className="col-span-2 grid grid-cols-subgrid items-center border-b border-hairline py-0.5"
              >
                <dt className="truncate font-mono text-xs text-sheen">{name}</dt>
                <dd className={`text-right font-mono text-xs ${value === "empty" ? "text-muted" : ""}`}>
                  {isComing && session !== null && <span className="text-chestnut">set to {sent[name]}, still </span>}
                  {value}
                  {variable && session !== null && (
                    <SetByHand
                      key={session}
                      variable={variable}
                      value={value}
                      onSet={(text) => set(session, variable, text)}
                    />
                  )}
                </dd>
              </div>
            );
          })}
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

/** A value that is set by hand: asked for by a press, sent with Enter. */
function SetByHand({ variable, value, onSet }: { variable: Settable; value: string; onSet: (text: string) => void }) {
  const [text, setText] = useState<string | null>(null);
  if (text === null)
    return (
      <button
        type="button"
        className="ml-2 text-plumage hover:underline"
        aria-label={`Set ${variable.name}`}
        onClick={() => setText(value === "empty" ? "" : value)}
      >
        set
      </button>
    );
  const problem = textProblem(variable, text);
  return (
    <form
      className="ml-2 inline-block"
      onSubmit={(event) => {
        event.preventDefault();
        if (problem !== null) return;
        onSet(text);
        setText(null);
      }}
    >
      <input
        autoFocus
        aria-label={`New value of ${variable.name}`}
        aria-invalid={problem !== null}
        value={text}
        onChange={({ target }) => setText(target.value)}
        onKeyDown={({ key }) => key === "Escape" && setText(null)}
        className="field !h-6 !w-20 !text-xs"
      />
      {problem !== null && (
        <span role="alert" className="block font-sans text-alarm">
          {problem}
        </span>
      )}
    </form>
  );
}
