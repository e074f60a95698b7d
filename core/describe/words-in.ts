import type { StudyDocument } from "../design/document";

/** What is written by people stands under these names; everything else is the design's own bookkeeping. */
const written = new Set(
  "title description name text explanation label labels hint continueLabel notes unit other left middle right says welcome contact cells closing".split(
    " ",
  ),
);

/** Every text people wrote in a design: titles, names, what is shown and asked, cells of tables, notes. */
function* textsOf(value: unknown, isWritten: boolean): Generator<string> {
  if (typeof value === "string") {
    if (isWritten && value !== "") yield value;
  } else if (Array.isArray(value)) for (const each of value as unknown[]) yield* textsOf(each, isWritten);
  else if (typeof value === "object" && value !== null)
    for (const [name, inner] of Object.entries(value))
      yield* textsOf(inner, written.has(name) || (isWritten && typeof inner === "string"));
}

/** So many characters are shown before and after what was sought. */
const around = 30;

/** Where in a design something is written, whatever the case: a short piece of that text; null where it is nowhere. */
export function wordsIn(document: StudyDocument, sought: string): string | null {
  const wanted = sought.trim().toLowerCase();
  if (wanted === "") return null;
  for (const text of textsOf(document, false)) {
    const at = text.toLowerCase().indexOf(wanted);
    if (at < 0) continue;
    const [from, to] = [Math.max(0, at - around), at + wanted.length + around];
    const piece = text.slice(from, to).replaceAll(/\s+/g, " ").trim();
    return `${from > 0 ? "…" : ""}${piece}${to < text.length ? "…" : ""}`;
  }
  return null;
}
