import { partsInOrder } from "../design/lookup";
import type { Check, Finding } from "./finding";

/**
 * What the format can express but this version cannot play yet: refused before a release rather than played wrongly.
 */
export const notYet: Check = (document) => {
  const findings: Finding[] = [];
  const add = (where: string, what: string, target: Finding["target"] = {}) =>
    findings.push({
      level: "error",
      where,
      message: `${what} cannot be played yet in this version of Lapwing. Take it out to release the study.`,
      target,
    });
  if (document.variables.length > 0) add("variables", "A variable");
  for (const part of partsInOrder(document)) {
    if (part.kind !== "block") continue;
    const where = `block “${part.name}”`;
    const target = { part: part.id };
    if (part.criterion) add(where, "Repeating until a criterion is reached", target);
    if (part.rules.length > 0) add(where, "A rule", target);
  }
  return findings;
};
