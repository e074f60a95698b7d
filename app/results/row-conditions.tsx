import { X } from "lucide-react";
import { IconButton, buttonClass } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { SentenceChoice, SentenceText } from "~/app/components/sentence";
import { comparisonNames, comparisons, needsNothing, type Condition } from "~/core/tidy/chosen-rows";

/** What rows are asked to fulfil, as words of a sentence: “where rt_ms is at least 300 and …”. */
export function RowConditions({
  conditions,
  columns,
  set,
  setLater = set,
}: {
  conditions: readonly Condition[];
  columns: readonly string[];
  set: (conditions: Condition[]) => void;
  /** Used while something is typed. */
  setLater?: (conditions: Condition[]) => void;
}) {
  const changed = (at: number, part: Partial<Condition>) =>
    conditions.map((each, index) => (index === at ? { ...each, ...part } : each));
  return conditions.map((condition, at) => (
    <span key={at} data-condition>
      {at === 0 ? " where " : " and "}
      <SentenceChoice
        label="Column"
        value={condition.column}
        options={columns.map((name) => [name, name] as const)}
        onChange={(column) => set(changed(at, { column }))}
      />{" "}
      <SentenceChoice
        label="Comparison"
        value={condition.is}
        options={comparisonNames.map((name) => [name, comparisons[name]] as const)}
        onChange={(is) => set(changed(at, { is }))}
      />{" "}
      {!needsNothing(condition.is) && (
        <SentenceText
          label="Value"
          value={condition.value}
          problem={() => null}
          onChange={(value) => setLater(changed(at, { value }))}
        />
      )}
      <IconButton
        icon={X}
        label={`No longer ask for ${condition.column}`}
        className="!h-5 !w-5 align-middle"
        onClick={() => set(conditions.filter((_, index) => index !== at))}
      />
    </span>
  ));
}

/** Asks rows to fulfil something more. */
export const AddCondition = ({ columns, add }: { columns: readonly string[]; add: (condition: Condition) => void }) => (
  <Menu
    align="end"
    trigger={
      <button type="button" className={buttonClass("plain")}>
        + Condition
      </button>
    }
  >
    {columns.map((column) => (
      <MenuItem key={column} onSelect={() => add({ column, is: "not-empty", value: "" })}>
        <span className="font-mono text-xs">{column}</span>
      </MenuItem>
    ))}
  </Menu>
);
