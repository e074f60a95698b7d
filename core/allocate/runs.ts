import { allRules } from "../design/all-rules";
import type { StudyDocument } from "../design/document";
import type { RunningNode } from "../design/running-order";

const known = new WeakMap<StudyDocument, number>();

/** How often the trials of a plan can be played at most: blocks, brackets and trials may come again. 1 where none does. */
export function mostRuns(document: StudyDocument): number {
  const found = known.get(document) ?? counted(document);
  known.set(document, found);
  return found;
}

function counted(document: StudyDocument): number {
  const blocks = Object.values(document.parts).map((part) =>
    part.kind === "block" ? (part.criterion?.attempts ?? 1) * (part.order.again?.most ?? 1) : 1,
  );
  const ofBrackets = (nodes: readonly RunningNode[]): number =>
    nodes.reduce(
      (most, node) =>
        node.kind === "bracket" ? Math.max(most, (node.until?.attempts ?? 1) * ofBrackets(node.nodes)) : most,
      1,
    );
  const rules = allRules(document).flatMap((rule) =>
    rule.do.map((action) => (action.do === "repeat-trial" || action.do === "begin-block-again" ? action.most : 1)),
  );
  return Math.max(1, ...blocks) * ofBrackets(document.runningOrder) * Math.max(1, ...rules);
}
