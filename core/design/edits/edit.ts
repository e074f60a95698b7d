import { applyPatches, enablePatches, produceWithPatches, type Draft, type Patch } from "immer";
import type { StudyDocument } from "../types";

enablePatches();

/** One change to a study, as a recipe over a draft. Made by the functions of this folder; nothing else changes a document. */
export type Edit = (draft: Draft<StudyDocument>) => void;
export type Applied = { document: StudyDocument; patches: Patch[]; inverse: Patch[] };

/** Several edits as one: one step of undo. */
export const together =
  (...edits: Edit[]): Edit =>
  (draft) =>
    edits.forEach((edit) => edit(draft));

/** Sets properties; undefined ones are removed, so that a document is the same before and after being saved as JSON. */
export function assign(target: object, change: object): void {
  Object.assign(target, change);
  for (const [key, value] of Object.entries(change))
    if (value === undefined) delete (target as Record<string, unknown>)[key];
}

/** Document in, document out, with the patches that lead there and back. The given document stays as it was. */
export function applyEdit(document: StudyDocument, edit: Edit): Applied {
  const [next, patches, inverse] = produceWithPatches(document, (draft) => edit(draft));
  return { document: next, patches, inverse };
}

/** Carries out patches made elsewhere. Throws when they do not fit the document. */
export const patched = (document: StudyDocument, patches: Patch[]): StudyDocument => applyPatches(document, patches);

export type { Patch };
