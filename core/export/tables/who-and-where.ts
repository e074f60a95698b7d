import { blocksInOrder } from "../../design/lookup";
import type { StudyDocument } from "../../design/document";
import { dataColumn, yesOrNo } from "../../values/data-column";
import { indexOf, joined, type TrialColumn } from "./trial-source";

/** Study, session, participant, and where in the session a trial was. */
export const whoAndWhere = (documents: readonly StudyDocument[]): TrialColumn[] => [
  dataColumn("study", "text", "Code of the study", ({ facts }) => facts.study),
  dataColumn("release", "whole number", "Number of the frozen version that was played", ({ facts }) => facts.release),
  dataColumn("wave", "text", "Label of the period of data collection", ({ facts }) => facts.wave),
  dataColumn("session", "text", "Identifier of the sitting", ({ facts }) => facts.session),
  dataColumn(
    "participant",
    "whole number",
    "Number of the participant in the study; pilot sessions are numbered on their own",
    ({ facts }) => facts.participant,
  ),
  dataColumn(
    "group",
    "text",
    "Group the participant was in",
    ({ facts, document }) => document.groups.find(({ id }) => id === facts.group)?.name ?? facts.group,
    { values: joined(documents.flatMap(({ groups }) => groups.map(({ name }) => name))) },
  ),
  dataColumn("part", "text", "Name of the block", ({ block }) => block.name, {
    values: joined(documents.flatMap((document) => blocksInOrder(document).map(({ name }) => name))),
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

/** Whether the session was a rehearsal. */
export const pilotColumn: TrialColumn = dataColumn(
  "pilot",
  "yes/no",
  "Whether the session was a rehearsal by the team",
  ({ facts }) => yesOrNo(facts.pilot),
  { values: "yes, no" },
);
