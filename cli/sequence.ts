import { plannedGroup } from "../core/allocate/groups";
import { compile } from "../core/compile/compile";
import { cellAsText } from "../core/design/cells";
import { blockOf, blocksInOrder } from "../core/design/lookup";
import type { StudyDocument } from "../core/design/types";

/** The planned trials of these participants: participant, group, part, pass, trial, row, then the columns of all tables by name. */
export function sequenceTable(
  document: StudyDocument,
  participants: number[],
  seed: string,
): { header: string[]; rows: (string | number | null)[][] } {
  const names = [...new Set(blocksInOrder(document).flatMap(({ table }) => table.columns.map(({ name }) => name)))];
  const rows = participants.flatMap((participant) => {
    const groupId = plannedGroup(document, participant, seed);
    const group = document.groups.find(({ id }) => id === groupId)?.name ?? groupId;
    return compile(document, participant, seed, groupId).parts.flatMap((part) => {
      if (part.kind === "page") return [];
      const block = blockOf(document, part.part);
      return part.trials.map((trial) => [
        participant,
        group,
        block.name,
        trial.pass,
        trial.trial,
        trial.rowNumber,
        ...names.map((name) => {
          const column = block.table.columns.find((each) => each.name === name);
          const value = column ? (trial.values[column.id] ?? null) : null;
          return column && value !== null && typeof value !== "number"
            ? cellAsText(document, column, value)
            : (value as number | null);
        }),
      ]);
    });
  });
  return { header: ["participant", "group", "part", "pass", "trial", "row", ...names], rows };
}
