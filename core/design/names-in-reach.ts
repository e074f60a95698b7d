import type { Block } from "./block";
import type { StudyDocument } from "./document";

/** Names that a column of this block must differ from: its other columns, group values and variables. */
export function namesInReach(document: StudyDocument, block: Block | null, without: string | null): string[] {
  return [...(block?.table.columns ?? []), ...document.groupValues, ...document.variables]
    .filter((named) => named.id !== without)
    .map((named) => named.name);
}

/** Names a group value or variable must differ from: all others, and the columns of every block. */
export function namesEverywhere(document: StudyDocument, without: string | null): string[] {
  const columns = Object.values(document.parts).flatMap((part) => (part.kind === "block" ? part.table.columns : []));
  return [...columns, ...document.groupValues, ...document.variables]
    .filter((named) => named.id !== without)
    .map((named) => named.name);
}
