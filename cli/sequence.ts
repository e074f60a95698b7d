import { plannedPlace } from "../core/allocate/allocate";
import { compile } from "../core/compile/compile";
import { cellAsText } from "../core/design/cells";
import { blockOf, blocksInOrder, partOf } from "../core/design/lookup";
import type { StudyDocument } from "../core/design/types";

export type Table = { header: string[]; rows: (string | number | null)[][] };

/**
 * The planned trials of these participants in the order they are played: participant, group, the place of the part among
 * all parts, part, pass, sub-block, trial, row, then the columns of all tables by name.
 */
export function sequenceTable(document: StudyDocument, participants: readonly number[]): Table {
  const names = [...new Set(blocksInOrder(document).flatMap(({ table }) => table.columns.map(({ name }) => name)))];
  const rows = participants.flatMap((participant) => {
    const place = plannedPlace(document, participant);
    const group = document.groups.find(({ id }) => id === place.group)?.name ?? place.group;
    const plan = compile(document, participant, document.settings.seed, place.group, place.orders);
    return plan.parts.flatMap((part, index) => {
      if (part.kind === "page") return [];
      const block = blockOf(document, part.part);
      return part.trials.map((trial) => [
        participant,
        group,
        index + 1,
        block.name,
        trial.pass,
        trial.subBlock,
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
  return {
    header: ["participant", "group", "place", "part", "pass", "sub_block", "trial", "row", ...names],
    rows,
  };
}

/** The order of parts of these participants: participant, group, place, part, kind. */
export function partsTable(document: StudyDocument, participants: readonly number[]): Table {
  const rows = participants.flatMap((participant) => {
    const place = plannedPlace(document, participant);
    const group = document.groups.find(({ id }) => id === place.group)?.name ?? place.group;
    return compile(document, participant, document.settings.seed, place.group, place.orders).parts.map(
      (part, index) => [participant, group, index + 1, partOf(document, part.part).name, part.kind],
    );
  });
  return { header: ["participant", "group", "place", "part", "kind"], rows };
}
