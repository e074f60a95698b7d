import { object } from "../../shape/compound";
import { oneOf, only, text } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { comparisonNames, comparisons, marksOf, needsNothing } from "../../tidy/chosen-rows";
import { anyRule } from "../rule-fields";
import type { SessionRuleKind } from "../kind";

const shape = object({
  ...anyRule,
  kind: only("value"),
  column: text({ most: 200 }),
  is: oneOf(...comparisonNames),
  value: text({ most: 200 }),
});
type Rule = Of<typeof shape>;

const says = ({ column, is, value }: Rule) =>
  `${column} ${comparisons[is]}${needsNothing(is) ? "" : ` ${value === "" ? "(nothing)" : value}`}`;

/** Sessions by an answer, a score, or anything else that is known of them. */
export const value: SessionRuleKind<Rule> = {
  on: "sessions",
  shape,
  called: "An answer, a score or another value",
  fresh: () => ({ column: "", is: "is", value: "" }),
  phrase: ({ is }) => [
    { as: "column", field: "column", label: "Column" },
    " ",
    {
      as: "choice",
      field: "is",
      label: "Comparison",
      options: comparisonNames.map((name) => [name, comparisons[name]]),
    },
    ...(needsNothing(is) ? [] : [" ", { as: "text", field: "value", label: "Value" } as const]),
  ],
  inMethod: (rule) => `met the criterion “${says(rule)}”`,
  needs: ({ column }) => ({ sessions: column === "" ? [] : [column] }),
  marks: ({ column, ...condition }, data) =>
    // Without anything to compare with nothing is meant: a rule that is being written leaves nobody out.
    column === "" || !data.has("sessions", column) || (condition.value === "" && !needsNothing(condition.is))
      ? new Uint8Array(data.sessions.length)
      : marksOf(data.column("sessions", column), condition),
};
