import { Plus, Trash2 } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { NumberField, Property, TextField } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import type { Of } from "~/core/describe/rules";
import type { ActionOf } from "~/core/rules/action";
import { freeName, nameProblem } from "~/core/values/names";
import { OperandField } from "./operand-field";

type Script = ActionOf<"script">;

/** What a script gets, its words, and which variables what it gives goes into. */
export function ScriptFields({ action, onChange, of }: { action: Script; onChange: (action: Script) => void; of: Of }) {
  const { document } = useStudy();
  const { code, gets, gives, limitMs } = action;
  const getting = (index: number, change: Partial<Script["gets"][number]>) =>
    onChange({ ...action, gets: gets.map((each, at) => (at === index ? { ...each, ...change } : each)) });
  const giving = (index: number, change: Partial<Script["gives"][number]>) =>
    onChange({ ...action, gives: gives.map((each, at) => (at === index ? { ...each, ...change } : each)) });
  const free = document.variables.find(({ id }) => !gives.some(({ variable }) => variable === id));
  const taken = [...gets, ...gives].map(({ name }) => name);
  return (
    <>
      <p className="text-xs text-muted">
        A function in JavaScript, run apart from the study: it gets <code>values</code> under the names below and
        returns an object. It reaches no network and no page.
      </p>
      {gets.map(({ name, value }, index) => (
        <Property key={index} label={index === 0 ? "Gets" : ""}>
          <span className="grid min-w-0 flex-1 gap-1">
            <span className="flex items-center gap-1">
              <TextField
                label={`Name of value ${index + 1}`}
                value={name}
                problem={(next) =>
                  nameProblem(
                    next,
                    taken.filter((other) => other !== name),
                  )
                }
                onChange={(next) => getting(index, { name: next })}
              />
              <IconButton
                icon={Trash2}
                label={`Give it no ${name}`}
                onClick={() => onChange({ ...action, gets: gets.filter((_, at) => at !== index) })}
              />
            </span>
            <OperandField
              label={`value ${name}`}
              value={value}
              onChange={(next) => getting(index, { value: next })}
              block={of.block}
            />
          </span>
        </Property>
      ))}
      <AddLine
        says="another value it gets"
        onClick={() => onChange({ ...action, gets: [...gets, { name: freeName("value", taken), value: 0 }] })}
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
      {gives.map(({ name, variable }, index) => (
        <Property key={index} label={index === 0 ? "Gives" : ""}>
          <span className="grid min-w-0 flex-1 gap-1">
            <span className="flex items-center gap-1">
              <TextField
                label={`Name of what it gives ${index + 1}`}
                value={name}
                problem={(next) =>
                  nameProblem(
                    next,
                    taken.filter((other) => other !== name),
                  )
                }
                onChange={(next) => giving(index, { name: next })}
              />
              <IconButton
                icon={Trash2}
                label={`Take no ${name}`}
                onClick={() => onChange({ ...action, gives: gives.filter((_, at) => at !== index) })}
              />
            </span>
            <span className="flex items-center gap-1 text-muted">
              into
              <select
                aria-label={`Variable for ${name}`}
                className="field"
                value={variable}
                onChange={({ target }) => giving(index, { variable: target.value })}
              >
                {document.variables.map((each) => (
                  <option key={each.id} value={each.id}>
                    {each.name}
                  </option>
                ))}
              </select>
            </span>
          </span>
        </Property>
      ))}
      {free ? (
        <AddLine
          says="another value it gives"
          onClick={() =>
            onChange({ ...action, gives: [...gives, { name: freeName(free.name, taken), variable: free.id }] })
          }
        />
      ) : (
        document.variables.length === 0 && (
          <p className="text-xs text-chestnut">What it gives goes into variables: add one in Plan.</p>
        )
      )}
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

const AddLine = ({ says, onClick }: { says: string; onClick: () => void }) => (
  <button
    type="button"
    className="flex items-center gap-1 justify-self-start text-sm font-medium text-plumage"
    onClick={onClick}
  >
    <Plus size={14} aria-hidden="true" /> {says}
  </button>
);
