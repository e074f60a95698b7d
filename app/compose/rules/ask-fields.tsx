import { Choice, NumberField, Property } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import type { Of } from "~/core/describe/rules";
import type { ActionOf } from "~/core/rules/action";
import { NamedTargets, NamedValues } from "./named-values";

type Ask = ActionOf<"ask">;

/** Which service is asked, what it is told, and what becomes of its answer. */
export function AskFields({ action, onChange, of }: { action: Ask; onChange: (action: Ask) => void; of: Of }) {
  const { document } = useStudy();
  const { service, sends, gives, limitMs, otherwise } = action;
  const taken = [...sends, ...gives].map(({ name }) => name);
  const address = document.services.find(({ id }) => id === service)?.address;
  return (
    <>
      <Property label="Service">
        <Choice
          label="Service that is asked"
          value={service}
          options={document.services.map(({ id, name }) => [id, name] as const)}
          onChange={(next) => onChange({ ...action, service: next })}
        />
      </Property>
      <p className="text-xs text-muted">
        {address && <span className="break-all font-mono">{address}</span>} is told what stands below and nothing else.
        It answers with values by name, as JSON.
      </p>
      <NamedValues
        says="Tells it"
        values={sends}
        taken={taken}
        onChange={(next) => onChange({ ...action, sends: next })}
        of={of}
      />
      <NamedTargets
        says="Takes"
        targets={gives}
        taken={taken}
        onChange={(next) => onChange({ ...action, gives: next })}
      />
      <Property label="Waits">
        <NumberField
          label="Time limit"
          value={limitMs}
          least={100}
          suffix="ms"
          onChange={(ms) => onChange({ ...action, limitMs: Math.min(60_000, ms) })}
        />
      </Property>
      <Property label="No answer">
        <Choice
          label="Without an answer"
          value={otherwise}
          options={[
            ["keep", "changes nothing"],
            ["empty", "empties the variables"],
          ]}
          onChange={(next) => onChange({ ...action, otherwise: next })}
        />
      </Property>
    </>
  );
}
