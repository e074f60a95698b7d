import { UsedIn } from "~/app/components/used-in";
import { AddLine } from "~/app/components/add-line";
import { MarginList } from "~/app/components/margin-list";
import { Margin } from "~/app/compose/margin";
import { textFromScalar, scalarFromText } from "~/app/compose/rules/operand-field";
import { Choice, Property, Section, Switch, TextField } from "~/app/components/fields";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { addVariable, removeVariable, setVariable } from "~/core/design/edits/rules";
import { namesEverywhere } from "~/core/design/names-in-reach";
import { usesOfVariable } from "~/core/design/uses-of-rules";
import { ownColumnNames } from "~/core/export/tables/trials";
import { listFromText } from "~/core/values/given";
import { freeName, nameProblem } from "~/core/values/names";
import type { Value } from "~/core/values/ref";
import { variableTypes, type Variable, type VariableType } from "~/core/values/study-values";
import { RemoveUsed } from "~/app/components/used-first";

const typesInWords: Record<VariableType, string> = {
  number: "a number",
  text: "a text",
  "yes-no": "yes or no",
  list: "a list",
};
const starts: Record<VariableType, Value | null> = { number: 0, text: "", "yes-no": false, list: [] };

export const startInWords = (start: Value | null): string =>
  Array.isArray(start) ? start.map(textFromScalar).join("; ") : textFromScalar(start);

/** The variables of the study, in the margin of Plan. */
export function VariableList() {
  const { document, edit, look } = useStudy();
  const add = () => {
    const id = newId("variable");
    edit(addVariable({ id, name: freeName("score", namesEverywhere(document, null)), type: "number", start: 0 }));
    look({ selected: { kind: "variable", variable: id } });
  };
  return (
    <Section title="Variables">
      <MarginList
        entries={document.variables.map(({ id, name, start, from }) => ({
          id,
          name: <span className="font-mono text-xs text-sheen">{name}</span>,
          hint: from ? `?${from.urlParameter}` : startInWords(start),
          open: () => look({ selected: { kind: "variable", variable: id } }),
        }))}
      />
      <div className="flex gap-3">
        <AddLine says="variable" onClick={add} />
        <button type="button" className="text-sm text-muted hover:text-ink" onClick={() => look({ asked: "values" })}>
          all values
        </button>
      </div>
    </Section>
  );
}

/** One variable: what it is called, what it holds, where it starts, where it is used. */
export function VariableSettings({ variable }: { variable: Variable }) {
  const { document, edit, look } = useStudy();
  const uses = usesOfVariable(document, variable.id);
  const set = (change: Partial<Variable>, what: string) =>
    edit(setVariable(variable.id, change), `variable ${variable.id} ${what}`);
  const { type, start, from } = variable;
  return (
    <Margin
      title={<span className="font-mono text-sm">{variable.name}</span>}
      kind="variable"
      up={{ name: "The study", holds: "all variables", go: () => look({ selected: { kind: "nothing" } }) }}
      actions={
        <RemoveUsed
          label="Remove the variable"
          uses={uses}
          onRemove={() => {
            edit(removeVariable(variable.id));
            look({ selected: { kind: "nothing" } });
          }}
        />
      }
    >
      <Section title="What">
        <Property label="Name" htmlFor="variable-name">
          <TextField
            id="variable-name"
            value={variable.name}
            onChange={(name) => set({ name }, "name")}
            problem={(name) => nameProblem(name, namesEverywhere(document, variable.id), ownColumnNames(document))}
          />
        </Property>
        <Property label="Holds" htmlFor="variable-type">
          <Choice
            id="variable-type"
            value={type}
            options={variableTypes.map((each) => [each, typesInWords[each]] as const)}
            onChange={(next) => set({ type: next, start: starts[next] }, "type")}
          />
        </Property>
        <Property label="Starts with" htmlFor="variable-start">
          {type === "yes-no" ? (
            <Choice
              id="variable-start"
              value={start === true ? "yes" : "no"}
              options={[
                ["no", "no"],
                ["yes", "yes"],
              ]}
              onChange={(next) => set({ start: next === "yes" }, "start")}
            />
          ) : (
            <TextField
              id="variable-start"
              value={startInWords(start)}
              onChange={(text) =>
                set(
                  { start: type === "list" ? listFromText(text) : type === "number" ? scalarFromText(text) : text },
                  "start",
                )
              }
              problem={(text) =>
                type === "number" && typeof scalarFromText(text) !== "number" ? "Type a number." : null
              }
            />
          )}
        </Property>
        {type === "list" && <p className="text-xs text-muted">Entries are separated by semicolons.</p>}
      </Section>
      <Section title="Comes from">
        <Property label="Link" htmlFor="variable-parameter">
          <TextField
            id="variable-parameter"
            prefix="?"
            value={from?.urlParameter ?? ""}
            onChange={(name) => set({ from: name === "" ? undefined : { urlParameter: name } }, "from")}
            problem={(name) => (/^[\w-]{0,40}$/.test(name) ? null : "Letters, digits, hyphens and underscores only.")}
          />
        </Property>
        <p className="text-xs text-muted">
          {from
            ? `A link that ends with ?${from.urlParameter}=… sets it; without that it starts as above.`
            : "Name a parameter of the link’s address, and the link sets it."}
        </p>
        <Switch
          label="Kept"
          means="a later sitting starts with it"
          checked={variable.kept === true}
          onChange={(kept) => set({ kept: kept ? true : undefined }, "kept")}
        />
      </Section>
      <UsedIn uses={uses} />
    </Margin>
  );
}
