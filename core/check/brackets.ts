import { listedParts } from "../design/lookup";
import { bracketsIn } from "../order/parts";
import type { Check, Finding } from "./finding";

/** Whether brackets can be carried out, and participants spread over what they ask for. */
export const bracketProblems: Check = (document) => {
  const findings: Finding[] = [];
  const add = (level: Finding["level"], message: string, where = "running order", part?: string) =>
    findings.push({ level, where, message, target: part ? { part } : {} });
  for (const { nodes, take } of bracketsIn(document.runningOrder)) {
    const first = listedParts(nodes)[0];
    const name = first ? `the bracket from “${document.parts[first]?.name ?? ""}” on` : "a bracket";
    if (nodes.length === 0) add("warning", "A bracket is empty. Remove it.");
    else if (nodes.length === 1)
      add("note", `There is only one part in ${name}, so it varies nothing.`, "running order", first);
    if (take !== undefined && take > nodes.length)
      add("error", `In ${name} ${take} parts should be taken, but there are ${nodes.length}.`, "running order", first);
  }
  const { allocation } = document;
  if (allocation.method === "by-parameter") {
    const values = document.groups.map(({ id }) => (allocation.parameter?.values[id] ?? "").trim().toLowerCase());
    if (!allocation.parameter || values.some((value) => value === ""))
      add(
        "error",
        "Groups go by a parameter of the link, but a group has no value for it. Give each one.",
        "who gets what",
      );
    else if (new Set(values).size < values.length)
      add("error", "Two groups have the same value of the link's parameter. Give each its own.", "who gets what");
  }
  return findings;
};
