import type { TableHolder } from "../values/pool";
import type { StudyDocument } from "./document";
import { questionIndex } from "./questions";

/** Everything that has a name in the whole study. */
const namedInStudy = (document: StudyDocument): { id: string; name: string }[] => [
  ...document.groupValues,
  ...document.variables,
  ...document.scores,
  ...[...questionIndex(document).values()].map(({ question }) => question),
];

/** Names that a column of this table must differ from: its other columns, and all that has a name in the whole study. */
export function namesInReach(
  document: StudyDocument,
  block: Pick<TableHolder, "table"> | null,
  without: string | null,
): string[] {
  return [...(block?.table.columns ?? []), ...namedInStudy(document)]
    .filter((named) => named.id !== without)
    .map((named) => named.name);
}

/** Names a group value, variable, question or score must differ from: all others, and the columns of every block. */
export function namesEverywhere(document: StudyDocument, without: string | null): string[] {
  const columns = Object.values(document.parts).flatMap((part) => (part.kind === "block" ? part.table.columns : []));
  return [...columns, ...namedInStudy(document)].filter((named) => named.id !== without).map((named) => named.name);
}
