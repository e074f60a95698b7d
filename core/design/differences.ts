import { partsInOrder } from "./lookup";
import type { StudyDocument } from "./types";

/** What differs between two versions of a study, a sentence a part, for example `Near waders changed.` */
export function differencesInWords(before: StudyDocument, after: StudyDocument): string[] {
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  const sentences: string[] = [];
  if (before.title !== after.title) sentences.push(`Title: “${after.title}”.`);
  for (const part of partsInOrder(after)) {
    const old = before.parts[part.id];
    if (!old) sentences.push(`${part.name} added.`);
    else if (old.name !== part.name) sentences.push(`${old.name} renamed to ${part.name}.`);
    else if (!same(old, part)) sentences.push(`${part.name} changed.`);
  }
  for (const part of partsInOrder(before)) if (!after.parts[part.id]) sentences.push(`${part.name} removed.`);
  if (!same(before.runningOrder, after.runningOrder) && !sentences.some((each) => /added|removed/.test(each)))
    sentences.push("Order of parts changed.");
  if (before.description !== after.description) sentences.push("Description changed.");
  if (before.language !== after.language) sentences.push("Language changed.");
  if (!same(before.media, after.media)) sentences.push("Pictures changed.");
  if (!same(before.groups, after.groups)) sentences.push("Groups changed.");
  if (!same(before.groupValues, after.groupValues)) sentences.push("Group values changed.");
  if (!same(before.settings, after.settings))
    sentences.push(before.settings.seed === after.settings.seed ? "Settings changed." : "Seed drawn anew.");
  return sentences;
}
