import { Choice, Property, TextField } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { plannedAssignment } from "~/core/allocate/allocate";
import type { Block } from "~/core/design/block";
import { cellAsText } from "~/core/design/cells";
import { contextFor } from "~/core/values/context";
import type { Bindable, Scalar } from "~/core/values/ref";
import { rowValues, type Cases } from "~/core/values/table";
import { BindableControl } from "./bindable";

/** The cases by which a column is filled from others. */
export function CasesFields({
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
  const group = plannedAssignment(document, participant).group;
  const row = block.table.rows[0];
  const context = contextFor(
    { study: document, group, participant },
    { values: row ? rowValues(document, block.table, row, group) : {}, isPractice: block.practice },
  );
  const noColumns: Block = { ...block, table: { ...block.table, columns: [] } };
  const sources = cases.by.flatMap((id) => block.table.columns.find((each) => each.id === id) ?? []);
  const bySameness = cases.when.some(({ is }) => typeof is === "string");
  const valueField = (label: string, gives: Bindable<Scalar>, change: (next: Bindable<Scalar>) => void) => (
    <BindableControl
      label={`value for ${label}`}
      value={gives}
      onChange={change}
      block={noColumns}
      context={context}
      constant=""
    >
      {(constant, onConstant) => (
        <TextField label={`Value for ${label}`} value={String(constant)} onChange={onConstant} />
      )}
    </BindableControl>
  );
  return (
    <div className="grid gap-0.5">
      {sources.length > 1 && (
        <Property label="Cases">
          <Choice
            label="Cases are"
            value={bySameness ? "same" : "each"}
            options={[
              ["each", "each combination"],
              ["same", "same or different"],
            ]}
            onChange={(kind) =>
              onChange(
                kind === "each"
                  ? freshCases(block, cases.by)
                  : {
                      ...cases,
                      when: [
                        { is: "same", gives: "same" },
                        { is: "different", gives: "different" },
                      ],
                    },
              )
            }
          />
        </Property>
      )}
      {cases.when.map(({ is, gives }, index) => {
        const label =
          typeof is === "string"
            ? is
            : is
                .map((value, at) => {
                  const source = sources[at];
                  return source ? cellAsText(document, source, value) || "empty" : String(value);
                })
                .join(", ");
        return (
          <Property key={JSON.stringify(is)} label={`${label} →`}>
            {valueField(label, gives, (next) =>
              onChange({
                ...cases,
                when: cases.when.map((each, at) => (at === index ? { ...each, gives: next } : each)),
              }),
            )}
          </Property>
        );
      })}
      {!bySameness && (
        <Property label="else →">
          {cases.otherwise === null ? (
            <button
              type="button"
              className="text-sm font-semibold text-plumage"
              onClick={() => onChange({ ...cases, otherwise: "" })}
            >
              empty, change
            </button>
          ) : (
            valueField("anything else", cases.otherwise, (otherwise) => onChange({ ...cases, otherwise }))
          )}
        </Property>
      )}
      {missing(block, cases) > 0 && (
        <button
          type="button"
          className="justify-self-start text-sm font-semibold text-chestnut"
          onClick={() => onChange(freshCases(block, cases.by, cases))}
        >
          {missing(block, cases)} more in the table: add {missing(block, cases) === 1 ? "it" : "them"}
        </button>
      )}
    </div>
  );
}

/** A case for each combination the table has of the source columns, keeping what cases there are already give. */
export function freshCases(block: Block, by: string[], before?: Cases): Cases {
  const combinations = new Map(
    block.table.rows.map(({ cells }) => {
      const is = by.map((id) => cells[id] ?? null);
      return [JSON.stringify(is), is] as const;
    }),
  );
  const known = new Map(before?.when.map((each) => [JSON.stringify(each.is), each]));
  return {
    by,
    when: [...combinations].map(([key, is]) => known.get(key) ?? { is, gives: "" }),
    otherwise: before?.otherwise ?? null,
  };
}

/** Combinations of the table that no case names. */
function missing(block: Block, cases: Cases): number {
  if (cases.when.some(({ is }) => typeof is === "string")) return 0;
  const known = new Set(cases.when.map(({ is }) => JSON.stringify(is)));
  return freshCases(block, cases.by).when.filter(({ is }) => !known.has(JSON.stringify(is))).length;
}
