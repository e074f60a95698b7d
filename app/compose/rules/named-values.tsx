import { Trash2 } from "lucide-react";
import { AddLine } from "~/app/components/add-line";
import { IconButton } from "~/app/components/button";
import { Property, TextField } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import type { Of } from "~/core/describe/rules";
import type { ActionOf } from "~/core/rules/action";
import { freeName, nameProblem } from "~/core/values/names";
import { OperandField } from "./operand-field";

type Values = ActionOf<"script">["gets"];
type Targets = ActionOf<"script">["gives"];

/** Values under names, as a script gets and a service is told them. `says`: the verb they stand after. */
export function NamedValues({
  says,
  values,
  taken,
  onChange,
  of,
}: {
  says: string;
  values: Values;
  taken: readonly string[];
  onChange: (values: Values) => void;
  of: Of;
}) {
  const setOne = (index: number, change: Partial<Values[number]>) =>
    onChange(values.map((each, at) => (at === index ? { ...each, ...change } : each)));
  return (
    <>
      {values.map(({ name, value }, index) => (
        <Property key={index} label={index === 0 ? says : ""}>
          <span className="grid min-w-0 flex-1 gap-1">
            <NameLine
              label={`Name of value ${index + 1}`}
              removes={`Leave out ${name}`}
              name={name}
              taken={taken}
              onChange={(next) => setOne(index, { name: next })}
              onRemove={() => onChange(values.filter((_, at) => at !== index))}
            />
            <OperandField
              label={`value ${name}`}
              value={value}
              onChange={(next) => setOne(index, { value: next })}
              block={of.block}
            />
          </span>
        </Property>
      ))}
      <AddLine
        says="another value"
        onClick={() => onChange([...values, { name: freeName("value", taken), value: 0 }])}
      />
    </>
  );
}

/** Which variables what a script or service gives goes into, by its names. */
export function NamedTargets({
  says,
  targets,
  taken,
  onChange,
}: {
  says: string;
  targets: Targets;
  taken: readonly string[];
  onChange: (targets: Targets) => void;
}) {
  const { document } = useStudy();
  const free = document.variables.find(({ id }) => !targets.some(({ variable }) => variable === id));
  const setOne = (index: number, change: Partial<Targets[number]>) =>
    onChange(targets.map((each, at) => (at === index ? { ...each, ...change } : each)));
  return (
    <>
      {targets.map(({ name, variable }, index) => (
        <Property key={index} label={index === 0 ? says : ""}>
          <span className="grid min-w-0 flex-1 gap-1">
            <NameLine
              label={`Name of what it gives ${index + 1}`}
              removes={`Take no ${name}`}
              name={name}
              taken={taken}
              onChange={(next) => setOne(index, { name: next })}
              onRemove={() => onChange(targets.filter((_, at) => at !== index))}
            />
            <span className="flex items-center gap-1 text-muted">
              into
              <select
                aria-label={`Variable for ${name}`}
                className="field"
                value={variable}
                onChange={({ target }) => setOne(index, { variable: target.value })}
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
          says="into another variable"
          onClick={() => onChange([...targets, { name: freeName(free.name, taken), variable: free.id }])}
        />
      ) : (
        document.variables.length === 0 && (
          <p className="text-xs text-chestnut">What it gives goes into variables: add one in Plan.</p>
        )
      )}
    </>
  );
}

/** A name that is written, and what takes its line away. */
const NameLine = ({ label, removes, name, taken, onChange, onRemove }: NameLineProps) => (
  <span className="flex items-center gap-1">
    <TextField
      label={label}
      value={name}
      problem={(next) =>
        nameProblem(
          next,
          taken.filter((other) => other !== name),
        )
      }
      onChange={onChange}
    />
    <IconButton icon={Trash2} label={removes} onClick={onRemove} />
  </span>
);
type NameLineProps = {
  label: string;
  removes: string;
  name: string;
  taken: readonly string[];
  onChange: (name: string) => void;
  onRemove: () => void;
};
