import { compileAttempt, type PlannedTrial } from "../compile/plan";
import { plannedBlock, type BlockRun, type Course, type SessionState } from "./state";

/*
 * A block as it is played: again and again where it is repeated, with trials that come once more.
 */

export const freshRun: BlockRun = { attempt: 1, own: 1, total: 0, line: null };

/** The attempt that is played is drawn once; of each block only the latest is kept. */
const drawn = new WeakMap<Course["plan"], Map<number, { attempt: number; trials: readonly PlannedTrial[] }>>();

/** The trials of one attempt at a block, as they are drawn for it. */
export function trialsOf(course: Course, part: number, attempt: number): readonly PlannedTrial[] {
  const planned = plannedBlock(course, { part });
  if (attempt === 1) return planned.trials;
  const known = drawn.get(course.plan) ?? new Map<number, { attempt: number; trials: readonly PlannedTrial[] }>();
  drawn.set(course.plan, known);
  const latest = known.get(part);
  if (latest?.attempt === attempt) return latest.trials;
  const trials = compileAttempt(course.pools, course.document, course.plan, planned.part, attempt);
  known.set(part, { attempt, trials });
  return trials;
}

/** How many trials the present attempt has, those that come again included. */
export const lengthOf = (course: Course, part: number, run: BlockRun): number =>
  run.line?.length ?? trialsOf(course, part, run.attempt).length;

/** The trial at a place of the present attempt, with the number it has in the session as it is played. */
export function trialAt(course: Course, state: SessionState, part: number, place: number): PlannedTrial {
  const { run, shift } = state;
  const trials = trialsOf(course, part, run.attempt);
  const trial = trials[run.line?.[place] ?? place] as PlannedTrial;
  const first = plannedBlock(course, { part }).trials[0]?.trial ?? 1;
  const number = first + shift + run.total;
  return trial.trial === number ? trial : { ...trial, trial: number };
}
