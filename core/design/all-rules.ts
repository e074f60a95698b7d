import type { ActionKind } from "../rules/action";
import type { Rule } from "../rules/rule";
import type { Id } from "../values/ref";
import type { Block } from "./block";
import type { StudyDocument } from "./document";

/** Where rules stand: with the study (no part), a page or block, or a scene of a block. */
export type RulePlace = { part: Id | null; scene: Id | null };
export type PlacedRule = { rule: Rule; place: RulePlace; all: readonly Rule[]; path: string };

/** All rules of a study with their places, in the order in which they are looked at. */
export function placedRules({ rules, parts }: StudyDocument): PlacedRule[] {
  const here = (all: readonly Rule[], place: RulePlace, path: string): PlacedRule[] =>
    all.map((rule, index) => ({ rule, place, all, path: `${path}rules[${index}]` }));
  return [
    ...here(rules, { part: null, scene: null }, ""),
    ...Object.values(parts).flatMap((part) => [
      ...here(part.rules, { part: part.id, scene: null }, `parts.${part.id}.`),
      ...(part.kind === "block"
        ? part.scenes.flatMap(({ id, rules: own = [] }, index) =>
            here(own, { part: part.id, scene: id }, `parts.${part.id}.scenes[${index}].`),
          )
        : []),
    ]),
  ];
}

/** All rules that can be looked at while trials of a block are played; those that are switched off left out. */
export const rulesInTrials = ({ rules }: Pick<StudyDocument, "rules">, block: Block): Rule[] =>
  [...rules, ...block.rules, ...block.scenes.flatMap((scene) => scene.rules ?? [])].filter(({ off }) => !off);

/** Whether any of some rules, where it is not switched off, does something of a kind. */
export const anyDoes = (rules: readonly Rule[], ...kinds: readonly ActionKind[]): boolean =>
  rules.some((rule) => !rule.off && rule.do.some((action) => kinds.includes(action.do)));

export const allRules = (document: StudyDocument): Rule[] => placedRules(document).map(({ rule }) => rule);

/** Whether trials of any block can be shown more than once in an attempt: by its order, or by rules. */
export const trialsComeAgain = (document: StudyDocument): boolean =>
  anyDoes(allRules(document), "repeat-trial") ||
  Object.values(document.parts).some((part) => part.kind === "block" && part.order.again !== undefined);
