import { seedWith } from "~/core/order/sittings";
import { plannedAssignment } from "~/core/allocate/allocate";
import { excessesOf } from "~/core/allocate/bounds";
import { compileBlock, type BlockTrials, type PlannedTrial } from "~/core/compile/compile";
import { rowValues } from "~/core/values/table";
import { cellAsText } from "~/core/design/cells";
import type { Block } from "~/core/design/block";
import type { Id } from "~/core/values/ref";
import type { StudyDocument } from "~/core/design/document";
import { emptyBlockTally, emptyTally } from "~/core/values/tally";
import { resolve } from "~/core/values/resolve";
import { contextFor, type Context } from "~/core/values/context";

/** The real trial that the figure shows: which one, its row, and everything its bindings are looked up in. */
export type ShownTrial = {
  trial: PlannedTrial | null;
  rowNumber: number | null;
  context: Context;
  inWords: string;
  levels: string;
};

/** Reaction time that is supposed where a later scene shows one, in milliseconds. */
const supposedRt = 412;

/** The trials of a block for one participant: to keep while only the trial to show changes. */
export type BlockSource = {
  document: StudyDocument;
  block: Block;
  participant: number;
  group: Id;
  trials: BlockTrials | null;
};

export function blockSource(document: StudyDocument, block: Block, participant: number): BlockSource {
  const { group, orders } = plannedAssignment(document, participant);
  const trials =
    excessesOf(document).length > 0
      ? null
      : compileBlock(document, block, participant, seedWith(document, block.id), group, orders);
  return { document, block, participant, group, trials };
}

/**
 * Finds the trial to show: the one asked for, else the first with the row asked for, else the block's first. What follows
 * the answer is shown as it looks after a right one, given in 412 ms, like all those before it.
 */
export function shownTrial(source: BlockSource, wantedTrial: number | null, wantedRow: Id | null): ShownTrial {
  const { document, block, participant, group, trials } = source;
  // A row that was asked for may have been removed since.
  const isThere = block.table.rows.some(({ id }) => id === wantedRow);
  const known = isThere ? wantedRow : null;
  const index = trials ? indexShown(trials, wantedTrial, known) : -1;
  const trial = trials && index >= 0 ? trials.at(index) : null;
  // Nothing is drawn of a study that asks for too much; its first row shows what it would look like.
  const isTooLarge = excessesOf(document).length > 0;
  const row =
    block.table.rows.find(({ id }) => id === (trial?.row ?? known)) ?? (isTooLarge ? block.table.rows[0] : undefined);
  const rowNumber = row ? block.table.rows.indexOf(row) + 1 : null;
  const values = trial?.values ?? (row ? rowValues(document, block.table, row, group) : {});
  const context = contextFor(
    { study: document, group, participant },
    { values, placed: trial?.placed ?? {}, isPractice: block.practice },
  );
  const right = block.answers.find((each) => each.right !== undefined)?.right;
  const answer = right === undefined ? null : resolve(right, context);
  // Everything so far was right, this trial included, as it will stand after its answer.
  const so = Math.max(0, index) + 1;
  const supposed: Context = {
    ...context,
    tally: {
      ...emptyTally,
      trialsDone: trial?.trial ?? so,
      session: { scored: so, right: so },
      block: { ...emptyBlockTally, done: so, scored: so, right: so, rtSum: so * supposedRt, rtCount: so },
      last: { answer: answer === null ? null : String(answer), right: true, rt: supposedRt, outcome: "right" },
    },
  };
  const levels = block.table.columns
    .filter(({ factor }) => factor)
    .map((column) => (row ? cellAsText(document, column, context.values[column.id] ?? null) : ""))
    .filter(Boolean)
    .join(", ");
  const number = trial
    ? `Trial ${trial.trial} of participant ${participant}`
    : isTooLarge
      ? "Not drawn: the study asks for too much"
      : `A row that participant ${participant} does not get`;
  return { trial, rowNumber, context: supposed, inWords: rowNumber === null ? "No rows yet" : number, levels };
}

function indexShown({ first, rows }: BlockTrials, wantedTrial: number | null, wantedRow: Id | null): number {
  const asked = wantedTrial === null ? undefined : rows[wantedTrial - first];
  if (wantedTrial !== null && asked !== undefined && (wantedRow === null || asked === wantedRow))
    return wantedTrial - first;
  if (wantedRow !== null) return rows.indexOf(wantedRow);
  return rows.length > 0 ? 0 : -1;
}
