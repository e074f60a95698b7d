import { NumberField, Property } from "~/app/components/fields";
import type { Of } from "~/core/describe/rules";
import type { ActionOf } from "~/core/rules/action";
import { NamedTargets, NamedValues } from "./named-values";

type Script = ActionOf<"script">;

/** What a script gets, its words, and which variables what it gives goes into. */
export function ScriptFields({ action, onChange, of }: { action: Script; onChange: (action: Script) => void; of: Of }) {
  const { code, gets, gives, limitMs } = action;
  const taken = [...gets, ...gives].map(({ name }) => name);
  return (
    <>
      <p className="text-xs text-muted">
        A function in JavaScript, run apart from the study: it gets <code>values</code> under the names below and
        returns an object. It reaches no network and no page.
      </p>
      <NamedValues
        says="Gets"
        values={gets}
        taken={taken}
        onChange={(next) => onChange({ ...action, gets: next })}
        of={of}
      />
      <textarea
        aria-label="The script"
        className="field h-32 font-mono text-xs leading-5"
        spellCheck={false}
        maxLength={20_000}
        value={code}
        onChange={({ target }) => {
          if (target.value !== "") onChange({ ...action, code: target.value });
        }}
      />
      <NamedTargets
        says="Gives"
        targets={gives}
        taken={taken}
        onChange={(next) => onChange({ ...action, gives: next })}
      />
      <Property label="At most">
        <NumberField
          label="Time limit"
          value={limitMs}
          least={10}
          suffix="ms"
          onChange={(ms) => onChange({ ...action, limitMs: Math.min(10_000, ms) })}
        />
      </Property>
    </>
  );
}
