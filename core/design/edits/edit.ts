import { applyPatches, enablePatches, produceWithPatches, type Draft, type Patch } from "immer";
import { same } from "../same";
import type { Part, StudyDocument } from "../document";

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
  const [shared, more, back] = produceWithPatches(next, (draft) => shareChanges(document, next, patches, draft));
  return more.length === 0
    ? { document: next, patches, inverse }
    : { document: shared, patches: [...patches, ...more], inverse: [...back, ...inverse] };
}

const sharedFields = ["table", "scenes", "answers"] as const;

/**
 * Carries what changed in the trials of one block over to those it shares them with: patch by patch where the edit
 * reached into them, so that a keystroke in a large table stays a small patch. A block that has just come to share takes
 * over what the others have.
 */
function shareChanges(
  before: StudyDocument,
  after: StudyDocument,
  patches: Patch[],
  draft: Draft<StudyDocument>,
): void {
  if (before.parts === after.parts) return;
  const familyOf = (id: string, part: Part | undefined) => (part?.kind === "block" ? (part.sharesWith ?? id) : null);
  const families = new Set(
    Object.values(after.parts).flatMap((part) => (part.kind === "block" ? (part.sharesWith ?? []) : [])),
  );
  for (const family of families) {
    const members = Object.entries(after.parts).filter(([id, part]) => familyOf(id, part) === family);
    for (const field of sharedFields) {
      const of = (parts: StudyDocument["parts"], id: string) => {
        const part = parts[id];
        return part?.kind === "block" ? part[field] : undefined;
      };
      const changed = members.filter(
        ([id]) => of(before.parts, id) !== undefined && of(before.parts, id) !== of(after.parts, id),
      );
      const [lead] = changed[0] ?? [];
      if (!lead) continue;
      const inside = patches.filter(
        ({ path }) => path[0] === "parts" && path[1] === lead && (path.length < 3 || path[2] === field),
      );
      const isInside = changed.length === 1 && inside.every(({ path }) => path.length > 3);
      for (const [id] of members) {
        const part = draft.parts[id];
        if (id === lead || part?.kind !== "block") continue;
        if (isInside)
          applyPatches(
            draft,
            inside.map((patch) => ({ ...patch, path: ["parts", id, ...patch.path.slice(2)] })),
          );
        else if (!same(of(after.parts, id), of(after.parts, lead)))
          Object.assign(part, { [field]: of(after.parts, lead) });
      }
    }
  }
}

/** Carries out patches made elsewhere. Throws when they do not fit the document. */
export const patched = (document: StudyDocument, patches: Patch[]): StudyDocument => applyPatches(document, patches);

export type { Patch };
