import type { Draft } from "immer";
import type { Rule } from "../../rules/rule";
import type { Criterion } from "../../rules/criterion";
import type { Id } from "../../values/ref";
import type { Variable } from "../../values/study-values";
import type { RulePlace } from "../all-rules";
import type { StudyDocument } from "../document";
import type { Page } from "../page";
import { assign, together, type Edit } from "./edit";
import { addPart } from "./parts";
import { findNode, setPlacing } from "./running-order";

type Rules = Draft<Rule[]>;

/** The rules of a place, to be changed; null where the place is gone. */
function rulesAt(draft: Draft<StudyDocument>, { part, scene }: RulePlace): Rules | null {
  if (part === null) return draft.rules;
  const found = draft.parts[part];
  if (!found || scene === null) return found?.rules ?? null;
  const here = found.kind === "block" ? found.scenes.find(({ id }) => id === scene) : undefined;
  return here ? (here.rules ??= []) : null;
}
const withRules =
  (place: RulePlace, change: (rules: Rules) => void): Edit =>
  (draft) => {
    const rules = rulesAt(draft, place);
    if (rules) change(rules);
  };

/** Adds rules at the end of a place. */
export const addRules = (place: RulePlace, ...added: Rule[]): Edit =>
  withRules(place, (rules) => void rules.push(...added));

/** Changes a rule; what is set to undefined is left out. */
export const setRule = (place: RulePlace, id: Id, change: Partial<Rule>): Edit =>
  withRules(place, (rules) => {
    const rule = rules.find((each) => each.id === id);
    if (rule) assign(rule, change);
  });

/** Moves a rule up or down by so many places: rules are looked at in their order. */
export const moveRule = (place: RulePlace, id: Id, by: number): Edit =>
  withRules(place, (rules) => {
    const from = rules.findIndex((each) => each.id === id);
    const to = Math.max(0, Math.min(rules.length - 1, from + by));
    const [rule] = from < 0 ? [] : rules.splice(from, 1);
    if (rule) rules.splice(to, 0, rule);
  });

export const removeRule = (place: RulePlace, id: Id): Edit =>
  withRules(place, (rules) => {
    const at = rules.findIndex((each) => each.id === id);
    if (at >= 0) rules.splice(at, 1);
  });

/** Says until when a block is repeated; undefined: it is played once. */
export const setCriterion =
  (block: Id, criterion: Criterion | undefined): Edit =>
  (draft) => {
    const part = draft.parts[block];
    if (part?.kind === "block") assign(part, { criterion });
  };

/** The same for a bracket. */
export const setBracketCriterion =
  (bracket: Id, until: Criterion | undefined): Edit =>
  (draft) => {
    const found = findNode(draft.runningOrder, bracket);
    const node = found?.siblings[found.index];
    if (node?.kind === "bracket") assign(node, { until });
  };

export const addVariable =
  (variable: Variable): Edit =>
  (draft) =>
    void draft.variables.push(variable);

/** Changes a variable; its name may change at any time, since everything refers to it by its id. */
export const setVariable =
  (id: Id, change: Partial<Variable>): Edit =>
  (draft) => {
    const found = draft.variables.find((each) => each.id === id);
    if (found) assign(found, change);
  };

export const removeVariable =
  (id: Id): Edit =>
  (draft) => {
    draft.variables = draft.variables.filter((each) => each.id !== id);
  };

/** Adds a page that only rules show, at the end of the running order. */
export const asidePage = (page: Page): Edit => together(addPart(page, null), setPlacing(page.id, { aside: true }));
