import { blocksInOrder, trialsInBlock } from "../design/lookup";
import { isShipped } from "../wording/wording";
import { wordingNames } from "../wording/names";
import type { Check, Finding } from "./finding";

/** The pages around the parts: settings that contradict each other or have no effect. */
export const participationProblems: Check = (document) => {
  const findings: Finding[] = [];
  const { participation } = document.settings;
  const add = (level: Finding["level"], where: string, message: string, target: Finding["target"] = {}) =>
    findings.push({ level, where, message, target });
  const around = "from link to goodbye";
  const missing = Object.keys(wordingNames).length - Object.keys(participation.wording).length;
  if (!isShipped(document.language) && missing > 0)
    add(
      "warning",
      around,
      `Participants' pages have no wording in the language “${document.language}” yet: ${missing} texts are in English. Write them in Plan, or choose another language.`,
    );
  if (participation.contact.trim() === "")
    add("note", around, "No contact is given, so participants do not know whom to ask.");
  for (const block of blocksInOrder(document))
    if (block.breaks && block.breaks.everyTrials >= trialsInBlock(block))
      add(
        "note",
        `block “${block.name}”, breaks`,
        `It has ${trialsInBlock(block)} trials, so a break after every ${block.breaks.everyTrials} never comes.`,
        { part: block.id },
      );
  return findings;
};
