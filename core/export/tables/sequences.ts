import type { Plan, PlannedTrial as TrialOfPlan } from "../../compile/compile";
import { blockOf } from "../../design/lookup";
import type { Block } from "../../design/block";
import type { StudyDocument } from "../../design/document";
import { partLabel } from "../../design/part-labels";
import { dataColumn, type DataColumn } from "../../values/data-column";
import { tableColumns } from "./table-columns";

/** One planned trial. `position` is that of its part among all parts of the participant, from 1. */
export type PlannedTrial = {
  document: StudyDocument;
  plan: Plan;
  position: number;
  block: Block;
  trial: TrialOfPlan;
};
export type SequenceColumn = DataColumn<PlannedTrial>;

/** The columns of planned trials: who and where, then those of the trial tables of these versions, newest first. */
export function sequenceColumns(documents: readonly StudyDocument[]): SequenceColumn[] {
  const whoAndWhere: SequenceColumn[] = [
    dataColumn("participant", "whole number", "Number of the participant", ({ plan }) => plan.participant),
    dataColumn(
      "group_name",
      "text",
      "Group the participant is in",
      ({ document, plan }) => document.groups.find(({ id }) => id === plan.group)?.name ?? plan.group,
    ),
    dataColumn(
      "part_place",
      "whole number",
      "Position of the part among all parts, from 1",
      ({ position }) => position,
    ),
    dataColumn("part", "text", "Name of the block", ({ block, document }) => partLabel(document, block.id)),
    dataColumn("pass", "whole number", "Run through the block's rows, from 1", ({ trial }) => trial.pass),
    dataColumn("sub_block", "text", "The value its sub-block has in common", ({ trial }) => trial.subBlock),
    dataColumn("trial", "whole number", "Number of the trial in the session, from 1", ({ trial }) => trial.trial),
    dataColumn("row", "whole number", "Row of the trial table, from 1", ({ trial }) => trial.rowNumber),
  ];
  const table = tableColumns(
    documents,
    whoAndWhere.map(({ name }) => name),
  );
  return [
    ...whoAndWhere,
    ...table.map((column) => ({
      ...column,
      read: ({ document, block, plan, trial }: PlannedTrial) =>
        column.read({
          ...{ document, block, facts: { group: plan.group } },
          record: { row: trial.row, ...(trial.fromPools ? { fromPools: trial.fromPools } : {}) },
        }),
    })),
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
