import { adaptiveKind } from "../adaptive/registry";
import type { Adaptive } from "../adaptive/specs";
import type { Answered } from "../adaptive/posterior";
import { settledNumber, shownValue } from "../adaptive/range";
import { withSettled, type PlannedTrial } from "../compile/plan";
import type { Again } from "../design/trial-order";
import type { Block } from "../design/block";
import type { Follows } from "../values/table";
import type { Id } from "../values/ref";
import type { TrialResult } from "../values/tally";
import { lengthOf, trialAt } from "./block-run";
import { levelsOf } from "./levels";
import { repeatTrial } from "./repeats";
import { blockIn, plannedBlock, type BlockRun, type Course, type InTrial, type Jump, type SessionState } from "./state";
import { blockOf } from "../design/lookup";

/*
 * Trials that follow what was answered: values of columns, and trials that come again until they were right often enough.
 */

type Following = { column: Id; follows: Follows };

const followingIn = ({ table }: Block): Following[] =>
  table.columns.flatMap(({ id, follows }) => (follows ? [{ column: id, follows }] : []));

/** The trials that count for a column that follows the answers, by its levels, as they came. */
function answeredIn(course: Course, block: Block, results: readonly TrialResult[], { column, follows }: Following) {
  const levels = levelsOf(course, block, follows.each);
  const byLevel = new Map<string, Answered[]>(levels.all.map((level) => [level, []]));
  for (const { row, right, settled } of results) {
    const value = settled?.[column];
    if (value !== undefined && right !== null) byLevel.get(levels.of(row))?.push({ value, right });
  }
  return { byLevel, at: (row: Id): readonly Answered[] => byLevel.get(levels.of(row)) ?? [] };
}

/**
 * The trial at a place of a block with the values that follow from the answers until then, or with those that were recorded;
 * null where enough has been asked of all of them, so that it is left out.
 */
function settledTrial(
  course: Course,
  state: SessionState,
  part: number,
  place: number,
  recorded?: Readonly<Record<Id, number>>,
): PlannedTrial | null {
  const trial = trialAt(course, state, part, place);
  const block = blockOf(course.document, plannedBlock(course, { part }).part);
  const following = followingIn(block);
  if (following.length === 0) return trial;
  const { results } = state.tally.block;
  const found = following.map((each) => {
    const answered = answeredIn(course, block, results, each).at(trial.row);
    const { by } = each.follows;
    return {
      ...each,
      by,
      isDone: adaptiveKind(by).isDone(by, answered),
      value: () => adaptiveKind(by).next(by, answered),
    };
  });
  if (!recorded && found.every(({ isDone }) => isDone)) return null;
  const settled = Object.fromEntries(
    found.map(({ column, by, value }) => [column, valueFor(by, recorded?.[column], value)]),
  );
  const { line, attempt } = state.run;
  return withSettled(course.document, block, course.plan, trial, { settled, index: line?.[place] ?? place, attempt });
}

const valueFor = (by: Adaptive, recorded: number | undefined, next: () => number): number =>
  recorded === undefined ? next() : shownValue(by, recorded);

/** What follows after a trial that is over: it comes again, or the block is done, as enough has been asked. */
function afterTrial(course: Course, state: SessionState, phase: InTrial): { run: BlockRun; jumps: Jump[] } {
  const block = blockIn(course, phase);
  const again = block.order.again;
  const run = (again && comingAgain(course, state, phase, again)) ?? state.run;
  return { run, jumps: isAllAsked(course, state, block, phase, run) ? [{ to: "end-block" }] : [] };
}

/** The line with the trial once more, where it was not right often enough yet; null where it does not come again. */
function comingAgain(course: Course, state: SessionState, phase: InTrial, again: Again): BlockRun | null {
  const { line } = state.run;
  const index = line?.[phase.trial] ?? phase.trial;
  const shown = state.tally.block.results.filter((result) => result.index === index);
  const right = rightOf(shown, again.inARow);
  if (right >= again.rightTimes) return null;
  // It stands in the line already, after this place.
  if (line?.slice(phase.trial + 1).includes(index)) return null;
  const gap = again.gaps[Math.min(right, again.gaps.length - 1)];
  return repeatTrial(course, state, phase, gap ?? Infinity, again.most);
}

/** How often a trial was right: in all, or since it was last wrong. */
function rightOf(shown: readonly TrialResult[], inARow: boolean): number {
  const from = inARow ? shown.findLastIndex(({ right }) => right !== true) + 1 : 0;
  return shown.slice(from).filter(({ right }) => right === true).length;
}

/** Whether all that a block's values are to find out has been found, while trials are left. */
function isAllAsked(course: Course, state: SessionState, block: Block, phase: InTrial, run: BlockRun): boolean {
  const following = followingIn(block);
  const length = lengthOf(course, phase.part, run);
  if (following.length === 0 || phase.trial + 1 >= length) return false;
  return following.every((each) => {
    const { by } = each.follows;
    const { byLevel } = answeredIn(course, block, state.tally.block.results, each);
    return [...byLevel.values()].every((answered) => adaptiveKind(by).isDone(by, answered));
  });
}

/** A block is over: variables hold the thresholds that were found in it. */
function keptThresholds(course: Course, state: SessionState, part: number): SessionState {
  const block = blockOf(course.document, plannedBlock(course, { part }).part);
  const kept = followingIn(block).flatMap((each) => {
    const { by, keeps, each: levels } = each.follows;
    if (keeps === undefined || levels !== undefined) return [];
    const threshold = adaptiveKind(by).threshold(
      by,
      answeredIn(course, block, state.tally.block.results, each).byLevel.get("") ?? [],
    );
    return threshold ? [[keeps, settledNumber(threshold.value)] as const] : [];
  });
  if (kept.length === 0) return state;
  return { ...state, made: { ...state.made, variables: { ...state.made.variables, ...Object.fromEntries(kept) } } };
}

/** What trials that follow the answers do. */
export const following = { settledTrial, afterTrial, keptThresholds };
