import { mistakesIn } from "../../shape/shape";
import { studyShape, type Part, type StudyDocument } from "../document";
import { mostRows } from "../../values/table";
import { pathInWords } from "../path-in-words";

/** What is wrong with what an edit has made: where, in words, and what; "must have at most 120 characters". */
export type EditProblem = { where: string; message: string };

/**
 * The first thing in a document that does not have the shape of a study, of what differs from the document before; null
 * where all is as it should be. Only what changed is looked at, so that a keystroke in a large table stays quick.
 */
export function editProblem(before: StudyDocument, after: StudyDocument): EditProblem | null {
  const changed: StudyDocument = {
    ...after,
    media: after.media === before.media ? [] : after.media,
    parts: Object.fromEntries(
      Object.entries(after.parts).flatMap(([id, part]): [string, Part][] => {
        const old = before.parts[id];
        if (part === old) return [];
        if (part.kind !== "block" || old?.kind !== "block") return [[id, part]];
        const known = new Set(old.table.rows);
        const rows = part.table.rows.filter((row) => !known.has(row));
        return [[id, { ...part, table: { ...part.table, rows } }]];
      }),
    ),
  };
  for (const [id, part] of Object.entries(after.parts))
    if (part.kind === "block" && part.table.rows.length > mostRows)
      return { where: pathInWords(after, `parts.${id}.table.rows`), message: `must have at most ${mostRows} rows` };
  const mistake = mistakesIn(studyShape, changed).find(({ path }) => {
    const field = /^\w+/.exec(path)?.[0] as keyof StudyDocument | undefined;
    return field === undefined || field === "parts" || before[field] !== after[field];
  });
  if (!mistake) return null;
  return { where: pathInWords(after, inWholeTable(mistake.path, changed, after)), message: mistake.message };
}

/** A path into the rows that were looked at, as one into all rows of their table. */
function inWholeTable(path: string, changed: StudyDocument, after: StudyDocument): string {
  const [, id = "", index = ""] = /^parts\.([^.]+)\.table\.rows\[(\d+)\]/.exec(path) ?? [];
  const [part, whole] = [changed.parts[id], after.parts[id]];
  if (part?.kind !== "block" || whole?.kind !== "block") return path;
  const row = part.table.rows[Number(index)];
  return path.replace(/rows\[\d+\]/, `rows[${whole.table.rows.findIndex((each) => each === row)}]`);
}
