import type { StudyDocument } from "../../design/document";
import { blocksInOrder } from "../../design/lookup";
import { partLabel } from "../../design/part-labels";
import { dataColumn, yesOrNo } from "../../values/data-column";
import { countsColumn, participantColumn, pilotColumn, stateColumn, sittingColumn } from "./standing";
import { cellsOf, indexOf, joined, placeOf, type TrialColumn } from "./trial-source";

/** Study, session, participant, and where in the session a trial was. */
export const whoAndWhere = (documents: readonly StudyDocument[]): TrialColumn[] => [
  dataColumn("study", "text", "Code of the study", ({ facts }) => facts.study),
  dataColumn("release", "whole number", "Number of the frozen version that was played", ({ facts }) => facts.release),
  dataColumn("wave", "text", "Label of the period of data collection", ({ facts }) => facts.wave),
  dataColumn("session", "text", "Identifier of the sitting", ({ facts }) => facts.session),
  participantColumn(({ facts }) => facts),
  sittingColumn(({ facts }) => facts),
  dataColumn(
    "group_name",
    "text",
    "Group the participant was in",
    ({ facts, document }) => document.groups.find(({ id }) => id === facts.group)?.name ?? facts.group,
    { values: joined(documents.flatMap(({ groups }) => groups.map(({ name }) => name))) },
  ),
  dataColumn("part", "text", "Name of the block", ({ block, document }) => partLabel(document, block.id), {
    values: joined(documents.flatMap((document) => blocksInOrder(document).map(({ id }) => partLabel(document, id)))),
  }),
  dataColumn("pass", "whole number", "Run through the block's rows, from 1", ({ record }) => record.pass),
  dataColumn("trial", "whole number", "Number of the trial in the session, from 1", ({ record }) => record.trial),
  dataColumn(
    "row",
    "whole number",
    "Row of the trial table, from 1",
    ({ block, record }) => indexOf(block).rows.get(record.row)?.number ?? null,
  ),
];

/** What else is known of where a trial was, and whether it is taken into account. */
export const standingAndPlace = (blocks: readonly { practice: boolean }[]): TrialColumn[] => [
  pilotColumn(({ facts }) => facts),
  countsColumn(({ facts }) => facts),
  stateColumn("session_state", ({ facts }) => facts),
  dataColumn(
    "practice",
    "yes/no",
    blocks.some(({ practice }) => practice)
      ? "Whether the block is practice"
      : "Whether the block is practice; none is",
    ({ block }) => yesOrNo(block.practice),
    { values: "yes, no" },
  ),
  dataColumn(
    "part_place",
    "whole number",
    "Position of the block among all parts of the participant, pages included, from 1",
    (source) => placeOf(source)?.place ?? null,
  ),
  dataColumn(
    "sub_block",
    "text",
    "The value the trials of its sub-block have in common; empty in a block without sub-blocks",
    (source) => {
      const { within } = source.block.order;
      return within === undefined ? null : (cellsOf(source).get(within) ?? null);
    },
  ),
  dataColumn("trial_in_block", "whole number", "Number of the trial within its block and attempt, from 1", (source) => {
    if (source.record.inAttempt !== undefined) return source.record.inAttempt;
    const place = placeOf(source);
    return place ? source.record.trial - place.trialsBefore : null;
  }),
  dataColumn(
    "attempt",
    "whole number",
    "Which attempt at the trial it is, from 1: those before were broken off, and are among the events",
    ({ attempt }) => attempt,
  ),
];
