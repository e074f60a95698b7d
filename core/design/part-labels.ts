import type { StudyDocument } from "./document";
import { partsInOrder } from "./lookup";
import type { Id } from "../values/ref";

const known = new WeakMap<StudyDocument, Map<Id, string>>();

/**
 * What tables and results call each part: its name, with a number where an earlier part of the running order has the same
 * (`Block 1 (2)`). Documents are never changed in place.
 */
export function partLabels(document: StudyDocument): ReadonlyMap<Id, string> {
  const found = known.get(document);
  if (found) return found;
  const labels = new Map<Id, string>();
  const used = new Set<string>();
  const all = [...new Set([...partsInOrder(document), ...Object.values(document.parts)])];
  for (const { id, name } of all) {
    let label = name;
    for (let count = 2; used.has(label.toLowerCase()); count++) label = `${name} (${count})`;
    used.add(label.toLowerCase());
    labels.set(id, label);
  }
  known.set(document, labels);
  return labels;
}

/** What a part is called; its id where the document does not have it. */
export const partLabel = (document: StudyDocument, id: Id): string => partLabels(document).get(id) ?? id;

/** What is wrong with a new name of a part, or null. */
export function partNameProblem({ parts }: StudyDocument, id: Id, name: string): string | null {
  if (!name.trim()) return `A ${parts[id]?.kind ?? "part"} needs a name.`;
  const lower = name.trim().toLowerCase();
  const isTaken = Object.values(parts).some((part) => part.id !== id && part.name.trim().toLowerCase() === lower);
  return isTaken ? "Another part has this name: in the data they could not be told apart." : null;
}
