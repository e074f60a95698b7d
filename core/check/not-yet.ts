import { partsInOrder } from "../design/lookup";
import type { RunningNode } from "../design/types";
import type { Check, Finding } from "./finding";

/** What the format can say and this Lapwing cannot play yet: refused before a release rather than played wrongly. */
export const notYet: Check = (document) => {
  const findings: Finding[] = [];
  const add = (where: string, what: string, place: Finding["place"] = {}) =>
    findings.push({
      level: "error",
      where,
      message: `${what} cannot be played yet in this version of Lapwing. Take it out to release the study.`,
      place,
    });
  const walk = (nodes: RunningNode[]): void =>
    nodes.forEach((node) => {
      if (node.kind === "part" && node.when) add("running order", "A part with a condition", { part: node.part });
      if (node.kind !== "bracket") return;
      add("running order", "A bracket that varies the order of parts");
      walk(node.nodes);
    });
  walk(document.runningOrder);
  if (document.variables.length > 0) add("variables", "A variable");
  for (const part of partsInOrder(document)) {
    if (part.kind !== "block") continue;
    const where = `block “${part.name}”`;
    const place = { part: part.id };
    if (part.order.method === "given") add(where, "A given order", place);
    if (part.order.take !== undefined) add(where, "Taking some rows of the table", place);
    if (part.order.within !== undefined) add(where, "Keeping equal values together", place);
    if (part.order.limits.length > 0) add(where, "A limit on the order", place);
    if (part.criterion) add(where, "Repeating until a criterion is reached", place);
    if (part.pause) add(where, "A pause between trials", place);
    if (part.rules.length > 0) add(where, "A rule", place);
  }
  return findings;
};
