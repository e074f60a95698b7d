import type { Block } from "../design/block";
import type { Context } from "../values/context";
import type { Outcome, Tally, TrialResult } from "../values/tally";
import { isSettled, outcomeIn } from "./answer-window";
import { trialScore } from "./scoring";
import type { InTrial } from "./state";

/** Whether `last` follows this answer: all that can be right or wrong, and where there is none such, all. */
export const isTold = (block: Block, index: number): boolean =>
  block.answers[index]?.right !== undefined || block.answers.every(({ right }) => right === undefined);

const lastOf = (phase: InTrial, block: Block): Tally["last"] => {
  const progress = phase.answers[phase.latest];
  return {
    answer: progress?.given?.value ?? null,
    right: progress?.right ?? null,
    rt: progress?.given?.rt ?? null,
    outcome: progress ? outcomeIn(block, phase, phase.latest) : "none",
  };
};

/**
 * The tally within a trial, as the scene with this index comes on or is on. `last` is the answer that is told of. The
 * trial itself counts from the moment all of its answers that can be right or wrong have been given or can no longer be.
 */
export function tallyIn(phase: InTrial, block: Block, context: Context, scene: number): Tally {
  const told = block.answers.flatMap((_, index) => (isTold(block, index) ? [index] : []));
  const counts = told.length > 0 && told.every((index) => isSettled(block, phase, index, scene));
  return { ...(counts ? tallied(phase, block, context) : phase.before.tally), last: lastOf(phase, block) };
}

/** Whether a trial moves values that follow the answers: missed and interrupted ones move nothing. */
export const movesValues = (
  block: Block,
  isInterrupted: boolean,
  outcomeOf: (answer: number) => Outcome | undefined,
): boolean =>
  !isInterrupted &&
  block.answers.every((_, index) => {
    const outcome = isTold(block, index) ? outcomeOf(index) : "right";
    return outcome === "right" || outcome === "wrong";
  });

/** Which trial it was; the values that followed the answers stand with it only where all that it asked was answered and nothing came between. */
function resultOf(phase: InTrial, block: Block): Pick<TrialResult, "row" | "index" | "settled"> {
  const { row, settled } = phase.planned;
  const { line } = phase.before.run;
  const counts = movesValues(block, phase.interrupted !== null, (index) => outcomeIn(block, phase, index));
  return { row, index: line?.[phase.trial] ?? phase.trial, ...(settled && counts ? { settled } : {}) };
}

/** The tally after a trial. Reaction times are those of right trials only. */
export function tallied(phase: InTrial, block: Block, context: Context): Tally {
  const { tally } = phase.before;
  const score = trialScore(block.answers, phase.answers, context);
  const rt = score.right === true ? score.rt : null;
  const [addScored, addRight] = [score.right === null ? 0 : 1, score.right === true ? 1 : 0];
  return {
    trialsDone: tally.trialsDone + 1,
    session: { scored: tally.session.scored + addScored, right: tally.session.right + addRight },
    block: {
      ...tally.block,
      done: tally.block.done + 1,
      scored: tally.block.scored + addScored,
      right: tally.block.right + addRight,
      rtSum: tally.block.rtSum + (rt ?? 0),
      rtCount: tally.block.rtCount + (rt === null ? 0 : 1),
      results: [...tally.block.results, { ...resultOf(phase, block), right: score.right, rt: score.rt }],
    },
    last: lastOf(phase, block),
    answers: tally.answers,
  };
}
