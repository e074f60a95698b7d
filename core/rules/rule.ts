import { list, object } from "../shape/compound";
import { only, text } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { condition } from "../values/condition";
import { id, type Id, type NewId } from "../values/ref";
import { actions, type Action } from "./action";
import { trigger, type Trigger } from "./trigger";

const ruleFields = object({
  id,
  /** What it is called in the data; “rule 2” where it has no name. */
  name: text({ most: 60 }),
  when: trigger,
  /** It does something only if this holds. */
  if: optional(condition),
  do: actions,
  off: optional(only(true)),
  note: optional(text({ most: 20_000 })),
});
/** When something happens, if conditions hold, do actions, in their order. */
export interface Rule extends Of<typeof ruleFields> {}
export const rule: Shape<Rule> = ruleFields;
/** Rules of one place, in the order in which they are looked at. */
export const rules: Shape<Rule[]> = list(rule, 0, 200);

export const newRule = (newId: NewId, when: Trigger, ...does: Action[]): Rule => ({
  id: newId("rule"),
  name: "",
  when,
  do: does,
});

/** What a rule is called: its name, or its number from 1 in its place. */
export const ruleName = (all: readonly Rule[], id: Id): string => {
  const index = all.findIndex((each) => each.id === id);
  return all[index]?.name || `rule ${index + 1}`;
};
