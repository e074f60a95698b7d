import type { Rule } from "../rules/rule";
import type { Id, Ref } from "../values/ref";
import { usesIn } from "../values/uses";
import { placedRules, type PlacedRule } from "./all-rules";
import type { StudyDocument } from "./document";
import { pathInWords } from "./path-in-words";
import type { Bracket, RunningNode } from "./running-order";
import { ruleName } from "../rules/rule";

/** Whether any field of a rule names this id: a variable it sets, a scene it goes to, a file it plays. */
export function names(rule: Rule, id: Id): boolean {
  const inside = (value: unknown): boolean => {
    if (typeof value === "string") return value === id;
    if (typeof value !== "object" || value === null) return false;
    return Object.values(value).some(inside);
  };
  return inside([rule.when, rule.if, rule.do]);
}

/** Where a rule stands, in words: `rule 2 of block “Practice”`. */
export function ruleInWords(document: StudyDocument, { rule, all, place }: PlacedRule): string {
  const part = place.part === null ? undefined : document.parts[place.part];
  const scene = part?.kind === "block" ? part.scenes.find(({ id }) => id === place.scene) : undefined;
  const of = !part ? "the study" : `${part.kind} “${part.name}”${scene ? `, scene “${scene.name}”` : ""}`;
  return `${ruleName(all, rule.id)} of ${of}`;
}

/** The rules that name something by its id, in words. */
export const rulesNaming = (document: StudyDocument, id: Id): string[] =>
  placedRules(document).flatMap((placed) => (names(placed.rule, id) ? [ruleInWords(document, placed)] : []));

/** What shows a page besides the running order, or goes to a part, in words: rules, and criteria before another attempt. */
export const usesOfPage = (document: StudyDocument, id: Id): string[] => [
  ...rulesNaming(document, id),
  ...Object.values(document.parts).flatMap((part) =>
    part.kind === "block" && part.criterion?.before === id ? [`“until good enough” of block “${part.name}”`] : [],
  ),
  ...bracketsIn(document.runningOrder).flatMap(({ until }) =>
    until?.before === id ? ["“until good enough” of a bracket"] : [],
  ),
];

const bracketsIn = (nodes: readonly RunningNode[]): Bracket[] =>
  nodes.flatMap((node) => (node.kind === "bracket" ? [node, ...bracketsIn(node.nodes)] : []));

/** Where a variable is used, in words: texts, properties, conditions, and rules that set it or are set off by it. */
export function usesOfVariable(document: StudyDocument, id: Id): string[] {
  const isIt = (ref: Ref) => "variable" in ref && ref.variable === id;
  const rules = placedRules(document);
  const isInRule = (path: string) => rules.some((placed) => path.startsWith(placed.path));
  const { parts, runningOrder, allocation } = document;
  const found = usesIn({ parts, runningOrder, allocation }).filter(({ ref, path }) => isIt(ref) && !isInRule(path));
  const bound = found.map(({ path }) => pathInWords(document, path.replace(/\.(?:from|ref)$/, "")));
  const held = Object.values(parts).flatMap((part) =>
    part.kind === "block"
      ? part.table.columns.flatMap(({ name, follows }) =>
          follows?.keeps === id ? [`the threshold of column “${name}” of block “${part.name}”`] : [],
        )
      : [],
  );
  return [...new Set([...bound, ...rulesNaming(document, id), ...held])];
}
