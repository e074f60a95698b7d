import { blocksInOrder } from "../../design/lookup";
import type { StudyDocument } from "../../design/document";
import { interruptions, type TrialRecord } from "../../records/record";
import { dataColumn } from "../../values/data-column";
import { answerColumns, answerFates } from "./answers";
import { itemColumns } from "./items";
import { frameColumns, lateFramesColumn, sceneColumns } from "./scenes";
import { tableColumns } from "./table-columns";
import type { SessionFacts, TrialColumn, TrialSource } from "./trial-source";
import { pilotColumn, whoAndWhere } from "./who-and-where";

const interrupted: TrialColumn = dataColumn(
  "trial_interrupted",
  "text",
  "What came between while the trial was played, in a study that finishes such trials: another window (focus), full screen left, Escape pressed (asked); empty where nothing did",
  ({ record }) => record.interrupted ?? null,
  { values: interruptions.filter((each) => each !== "withdrawn").join(", ") },
);

/**
 * The columns of the trials table, in the order of the format: who and where, the trial table's columns, the answer, the
 * scenes, then late frames and pilot, then the outcome in one word and what items did. Made from all releases that have
 * data, newest first: blocks share a column where its name is the same.
 */
export function trialColumns(documents: readonly StudyDocument[]): TrialColumn[] {
  const placed = documents.flatMap((document) => blocksInOrder(document).map((block) => ({ document, block })));
  const blocks = placed.map(({ block }) => block);
  return [
    ...whoAndWhere(documents),
    ...tableColumns(placed),
    ...answerColumns(blocks),
    ...sceneColumns(blocks),
    lateFramesColumn,
    pilotColumn,
    ...answerFates(blocks),
    ...frameColumns(blocks),
    interrupted,
    ...itemColumns(blocks),
  ];
}

/** A record with what its row is made of; throws when its block is not in the document it was recorded on. */
export function trialSource(document: StudyDocument, facts: SessionFacts, record: TrialRecord): TrialSource {
  const block = document.parts[record.part];
  if (block?.kind !== "block") throw new Error(`No block ${record.part} in release ${facts.release}`);
  return { facts, record, block, document };
}
