import type { Plan } from "../compile/compile";
import { cellAsText } from "../design/cells";
import { blockOf, blocksInOrder } from "../design/lookup";
import type { StudyDocument } from "../design/types";
import type { Cell } from "./columns";

const columnNames = (document: StudyDocument): string[] => [
  ...new Set(blocksInOrder(document).flatMap(({ table }) => table.columns.map(({ name }) => name))),
];

/** Columns of planned trials; `place` is that of the part among all parts of the participant. */
export const sequenceHeader = (document: StudyDocument): string[] => [
  ...["participant", "group", "place", "part", "pass", "sub_block", "trial", "row"],
  ...columnNames(document),
];

/** One line a planned trial, in the order they are played. */
export function sequenceRows(document: StudyDocument, plan: Plan): Cell[][] {
  const names = columnNames(document);
  const group = document.groups.find(({ id }) => id === plan.group)?.name ?? plan.group;
  return plan.parts.flatMap((part, index) => {
    if (part.kind === "page") return [];
    const block = blockOf(document, part.part);
    return part.trials.map((trial): Cell[] => [
      plan.participant,
      group,
      index + 1,
      block.name,
      trial.pass,
      trial.subBlock,
      trial.trial,
      trial.rowNumber,
      ...names.map((name): Cell => {
        const column = block.table.columns.find((each) => each.name === name);
        const value = column ? (trial.values[column.id] ?? null) : null;
        return column && value !== null && typeof value !== "number"
          ? cellAsText(document, column, value)
          : (value as number | null);
      }),
    ]);
  });
}
