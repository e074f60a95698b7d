import type { Plan, PlannedTrial as TrialOfPlan } from "../../compile/compile";
import { cellAsText } from "../../design/cells";
import { blockOf, blocksInOrder } from "../../design/lookup";
import type { Block } from "../../design/block";
import type { StudyDocument } from "../../design/document";
import { dataColumn, type DataColumn } from "../../values/data-column";

/** One planned trial. `position` is that of its part among all parts of the participant, from 1. */
export type PlannedTrial = {
  document: StudyDocument;
  plan: Plan;
  position: number;
  block: Block;
  trial: TrialOfPlan;
};
export type SequenceColumn = DataColumn<PlannedTrial>;

/** The columns of planned trials: who and where, then those of the trial tables. */
export function sequenceColumns(document: StudyDocument): SequenceColumn[] {
  const names = new Set(blocksInOrder(document).flatMap(({ table }) => table.columns.map(({ name }) => name)));
  return [
    dataColumn("participant", "whole number", "Number of the participant", ({ plan }) => plan.participant),
    dataColumn(
      "group",
      "text",
      "Group the participant is in",
      ({ plan }) => document.groups.find(({ id }) => id === plan.group)?.name ?? plan.group,
    ),
    dataColumn("place", "whole number", "Position of the part among all parts", ({ position }) => position),
    dataColumn("part", "text", "Name of the block", ({ block }) => block.name),
    dataColumn("pass", "whole number", "Run through the block's rows, from 1", ({ trial }) => trial.pass),
    dataColumn("sub_block", "text", "The value its sub-block has in common", ({ trial }) => trial.subBlock),
    dataColumn("trial", "whole number", "Number of the trial in the session, from 1", ({ trial }) => trial.trial),
    dataColumn("row", "whole number", "Row of the trial table, from 1", ({ trial }) => trial.rowNumber),
    ...[...names].map((name): SequenceColumn =>
      dataColumn(name, "text", "Column of the trial table", ({ block, trial }) => {
        const column = block.table.columns.find((each) => each.name === name);
        const value = column ? (trial.values[column.id] ?? null) : null;
        return column && value !== null && typeof value !== "number"
          ? cellAsText(document, column, value)
          : (value as number | null);
      }),
    ),
  ];
}

/** The planned trials of one participant, in the order they are played. */
export function plannedTrials(document: StudyDocument, plan: Plan): PlannedTrial[] {
  return plan.parts.flatMap((part, index) => {
    if (part.kind === "page") return [];
    const block = blockOf(document, part.part);
    return part.trials.map((trial): PlannedTrial => ({ document, plan, position: index + 1, block, trial }));
  });
}
