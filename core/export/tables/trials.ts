import { blocksInOrder } from "../../design/lookup";
import { allRules, anyDoes } from "../../design/all-rules";
import { repeatingActions } from "../../rules/kinds";
import type { StudyDocument } from "../../design/document";
import { bracketsIn } from "../../order/parts";
import { variableColumns } from "./variables";
import { interruptions, type BrokenOffRecord, type SessionRecord, type TrialRecord } from "../../records/record";
import { dataColumn } from "../../values/data-column";
import { answerColumns, answerFates } from "./answers";
import { itemColumns } from "./items";
import { frameColumns, lateFramesColumn, sceneColumns } from "./scenes";
import { leftOutOfTrials } from "../../exclusions/columns";
import { distinctHeaders } from "../../values/header-names";
import { groupValueColumns, tableColumns, type TableColumn } from "./table-columns";
import type { SessionFacts, TrialColumn, TrialSource } from "./trial-source";
import { standingAndPlace, whoAndWhere } from "./who-and-where";

const interrupted: TrialColumn = dataColumn(
  "trial_interrupted",
  "text",
  "What came between while the trial was played, in a study that finishes such trials: another window (focus), full screen left, Escape pressed (asked); empty where nothing did",
  ({ record }) => record.interrupted ?? null,
  { values: interruptions.filter((each) => each !== "withdrawn").join(", ") },
);

/** Which time it was, in studies where blocks or trials can come more than once. */
const attemptColumns = (documents: readonly StudyDocument[]): TrialColumn[] =>
  documents.some(mayRepeat)
    ? [
        dataColumn(
          "block_attempt",
          "whole number",
          "Which run of the block it was in, from 1; more than 1 where the block was repeated",
          ({ record }) => record.attempt ?? 1,
        ),
        dataColumn(
          "showing",
          "whole number",
          "How often the trial had been shown in this attempt, this time included: more than 1 where it came again",
          ({ record }) => record.showing ?? 1,
        ),
        dataColumn(
          "criterion",
          "text",
          "What came of the block’s criterion after the trial; empty where nothing did",
          ({ record }) => record.criterion ?? null,
          { values: "reached, again, not-reached" },
        ),
      ]
    : [];

const mayRepeat = (document: StudyDocument): boolean =>
  bracketsIn(document.runningOrder).some(({ until }) => until !== undefined) ||
  blocksInOrder(document).some(({ criterion, order }) => criterion !== undefined || order.again !== undefined) ||
  anyDoes(allRules(document), ...repeatingActions);

/**
 * The columns of the trials table, in the order of the format: who and where, the trial table's columns, the answer, the
 * scenes, late frames; then how the session stands and where in it the trial was, the groups' values, the outcome in one
 * word and what items did. Made from all releases that have data, newest first: blocks share a column where its name is
 * the same, and releases where its id is. Every name is valid in R, in statistics programs and in SQL, and is there once.
 */
export function trialColumns(documents: readonly StudyDocument[]): TrialColumn[] {
  const { before, between, after } = ownColumns(documents);
  const own = [...before, ...between, ...after].map(({ name }) => name);
  const table = tableColumns(documents, own);
  const taken = [...own, ...table.map(({ name }) => name)];
  const groupValues = groupValueColumns(documents, taken);
  const variables = variableColumns<TrialSource>(documents, [...taken, ...groupValues.map(({ name }) => name)], {
    document: ({ document }) => document,
    held: ({ record }) => record.variables,
    when: "as the trial ended",
  });
  return [...before, ...table, ...between, ...groupValues, ...variables, ...after];
}

/** The columns that come neither from a trial table nor from a group value: those before the table's, those behind, and the last. */
function ownColumns(documents: readonly StudyDocument[]): Record<"before" | "between" | "after", TrialColumn[]> {
  const blocks = documents.flatMap((document) => blocksInOrder(document));
  const before = whoAndWhere(documents);
  const between = [
    ...answerColumns(blocks),
    ...sceneColumns(blocks),
    lateFramesColumn,
    ...standingAndPlace(blocks),
    ...attemptColumns(documents),
  ];
  const after = [
    ...answerFates(blocks),
    ...frameColumns(blocks),
    interrupted,
    ...itemColumns(blocks),
    ...leftOutOfTrials,
  ];
  const all = [...before, ...between, ...after];
  const names = distinctHeaders(all.map(({ name }) => name));
  const named = all.map((column, index) => ({ ...column, name: names[index] ?? column.name }));
  return {
    before: named.slice(0, before.length),
    between: named.slice(before.length, before.length + between.length),
    after: named.slice(before.length + between.length),
  };
}

/** Names of the export's columns that come neither from a trial table nor from a group value: these should not have them. */
export const ownColumnNames = (document: StudyDocument): string[] =>
  Object.values(ownColumns([document])).flatMap((columns) => columns.map(({ name }) => name));

/** The trial tables' columns alone, as they are called in the export. */
export const tableColumnsOf = (documents: readonly StudyDocument[]): TableColumn[] =>
  tableColumns(
    documents,
    Object.values(ownColumns(documents)).flatMap((columns) => columns.map(({ name }) => name)),
  );

/** A record with what its row is made of; throws when its block is not in the document it was recorded on. */
export function trialSource(
  document: StudyDocument,
  facts: SessionFacts,
  record: TrialRecord,
  attempt: number,
): TrialSource {
  const block = document.parts[record.part];
  if (block?.kind !== "block") throw new Error(`No block ${record.part} in release ${facts.release}`);
  return { facts, record, attempt, block, document };
}

/** The trials of a session out of its records in order; those that were broken off count as attempts at the trial that follows. */
export function trialsIn(
  document: StudyDocument,
  facts: SessionFacts,
  records: readonly SessionRecord[],
): TrialSource[] {
  const counted = attemptCounter();
  return records.flatMap((record) => {
    if (record.kind !== "trial" && record.kind !== "broken-off") return [];
    const attempt = counted(record);
    return record.kind === "trial" ? [trialSource(document, facts, record, attempt)] : [];
  });
}

/** Says of each record of a session, in their order, which attempt at its trial it is, from 1. */
export function attemptCounter(): (record: TrialRecord | BrokenOffRecord) => number {
  const brokenOff = new Map<number, number>();
  return ({ kind, trial }) => {
    const before = brokenOff.get(trial) ?? 0;
    if (kind === "broken-off") brokenOff.set(trial, before + 1);
    return before + 1;
  };
}
