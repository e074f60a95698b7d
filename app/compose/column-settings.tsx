import { Trash2 } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { useStudy } from "~/app/editing/use-study";
import { plannedGroup } from "~/core/allocate/groups";
import { rowValues } from "~/core/compile/values";
import { cellAsText } from "~/core/design/cells";
import { removeColumn, setColumn, setColumnType } from "~/core/design/edits/table";
import { nameProblem, namesInReach } from "~/core/design/names";
import { placeInWords } from "~/core/design/places";
import { usesIn } from "~/core/design/uses";
import type { Block, Cases, Column, ColumnType } from "~/core/design/types";
import { emptyTally } from "~/core/run/resolve";
import { Margin } from "./margin";
import { BindableControl, Choice, Property, Section, TextField, Switch } from "./property";

const types: readonly (readonly [ColumnType, string])[] = [
  ["text", "text"],
  ["number", "number"],
  ["image", "picture"],
  ["color", "colour"],
  ["yes-no", "yes or no"],
];

export function ColumnSettings({ block, column }: { block: Block; column: Column }) {
  const { document, edit, look, view } = useStudy();
  const set = (change: Partial<Column>) => edit(setColumn(block.id, column.id, change), `column ${column.id}`);
  const uses = usesIn(block, `parts.${block.id}`).filter(({ ref }) => "column" in ref && ref.column === column.id);
  const others = block.table.columns.filter((each) => each.id !== column.id && !each.cases);
  const fillFrom = (by: string) => {
    if (by === "") return set({ cases: undefined });
    const source = block.table.columns.find(({ id }) => id === by);
    const values = [...new Set(block.table.rows.map(({ cells }) => cells[by] ?? null))].filter(
      (value) => value !== null,
    );
    if (source) set({ cases: { by, when: values.map((value) => ({ value, gives: "" })), otherwise: null } });
  };
  const where = [
    ...new Set(
      uses.map(({ path }) => placeInWords(document, path.replace(/\.(from|ref)$/, "")).replace(/^block “[^”]*”, /, "")),
    ),
  ];
  return (
    <Margin
      title={<span className="font-mono text-sm">{column.name}</span>}
      kind="column of the table"
      actions={
        <IconButton
          icon={Trash2}
          label={uses.length > 0 ? `Remove the column (used in ${uses.length} places)` : "Remove the column"}
          onClick={() => {
            edit(removeColumn(block.id, column.id));
            look({ selected: { kind: "nothing" } });
          }}
        />
      }
    >
      <Section title="What">
        <Property label="Name" htmlFor="column-name">
          <TextField
            id="column-name"
            value={column.name}
            onChange={(name) => set({ name })}
            problem={(name) => nameProblem(name, namesInReach(document, block, column.id))}
          />
        </Property>
        <Property label="Holds" htmlFor="column-type">
          <Choice
            id="column-type"
            value={column.type}
            options={types}
            onChange={(type) => edit(setColumnType(block.id, column.id, type))}
          />
        </Property>
        <Switch
          label="Factor"
          means="its values are levels"
          checked={column.factor}
          onChange={(on) => set({ factor: on })}
        />
      </Section>
      <Section title="Filled">
        <Property label="From" htmlFor="column-by">
          <Choice
            id="column-by"
            value={column.cases?.by ?? ""}
            options={[["", "typed by hand"], ...others.map(({ id, name }) => [id, `cases of ${name}`] as const)]}
            onChange={fillFrom}
          />
        </Property>
        {column.cases && (
          <CasesFields
            block={block}
            cases={column.cases}
            onChange={(cases) => set({ cases })}
            participant={view.participant}
          />
        )}
      </Section>
      <Section title="Used in">
        {where.length === 0 ? (
          <p className="text-sm text-muted">
            Nowhere yet. Take a property from it with the grid sign beside the property.
          </p>
        ) : (
          <ul className="list-disc pl-4 text-sm">
            {where.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
        )}
      </Section>
    </Margin>
  );
}

function CasesFields({
  block,
  cases,
  onChange,
  participant,
}: {
  block: Block;
  cases: Cases;
  onChange: (cases: Cases) => void;
  participant: number;
}) {
  const { document } = useStudy();
  const group = plannedGroup(document, participant);
  const row = block.table.rows[0];
  const context = {
    document,
    group,
    participant,
    values: row ? rowValues(document, block, row, group) : {},
    tally: emptyTally,
  };
  const source = block.table.columns.find(({ id }) => id === cases.by);
  const noColumns: Block = { ...block, table: { ...block.table, columns: [] } };
  return (
    <div className="grid gap-0.5">
      {cases.when.map(({ value, gives }, index) => (
        <Property key={String(value)} label={source ? `${cellAsText(document, source, value)} →` : `${value} →`}>
          <BindableControl
            label={`value for ${value}`}
            value={gives}
            onChange={(next) =>
              onChange({
                ...cases,
                when: cases.when.map((each, at) => (at === index ? { ...each, gives: next } : each)),
              })
            }
            block={noColumns}
            context={context}
            constant=""
          >
            {(constant, change) => (
              <TextField label={`Value for ${value}`} value={String(constant)} onChange={change} />
            )}
          </BindableControl>
        </Property>
      ))}
    </div>
  );
}
