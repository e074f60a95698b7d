import * as yup from "yup";
import type { StudyDocument } from "../design/document";
import { blocksInOrder, partsInOrder } from "../design/lookup";
import type { Id } from "../values/ref";

/** What in a design somebody speaks of: all of it, a part, or a scene, a row or a question of a part. */
export const aboutKinds = ["study", "part", "scene", "row", "question"] as const;
export type About = { kind: (typeof aboutKinds)[number]; part: Id | null; id: Id | null };

/** What is sent as such. */
export const aboutShape = yup
  .object({
    kind: yup
      .string()
      .oneOf([...aboutKinds])
      .required(),
    part: yup.string().max(100).nullable().defined(),
    id: yup.string().max(100).nullable().defined(),
  })
  .noUnknown();

/** What that is called in the design as it stands; null where it is not there any more. */
export function aboutInWords(document: StudyDocument, { kind, part: partId, id }: About): string | null {
  if (kind === "study") return "The study";
  const part = partsInOrder(document).find((each) => each.id === partId);
  if (!part) return null;
  if (kind === "part") return part.name;
  if (kind === "question") {
    const piece = part.kind === "page" ? part.flow.find((each) => each.id === id) : undefined;
    if (!piece) return null;
    return "name" in piece && typeof piece.name === "string"
      ? `Question ${piece.name}, ${part.name}`
      : `A text of ${part.name}`;
  }
  const block = blocksInOrder(document).find((each) => each.id === partId);
  if (kind === "scene") {
    const scene = block?.scenes.find((each) => each.id === id);
    return scene ? `Scene ${scene.name}, ${part.name}` : null;
  }
  const at = block?.table.rows.findIndex((row) => row.id === id) ?? -1;
  return at < 0 ? null : `Row ${at + 1}, ${part.name}`;
}
