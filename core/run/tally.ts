import type { Block } from "../design/block";
import type { Context } from "../values/context";
import type { Tally } from "../values/tally";
import { outcomeIn } from "./answer-window";
import { trialScore } from "./scoring";
import type { InTrial, SessionState } from "./state";

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

/** The state with a trial that has gone on, whose answers are the last ones now. */
export const withLast = (state: SessionState, phase: InTrial, block: Block): SessionState => ({
  ...state,
  phase,
  tally: { ...state.tally, last: lastOf(phase, block) },
});

/** The tally after a trial. Reaction times are those of right trials only. */
export function tallied(tally: Tally, phase: InTrial, block: Block, context: Context): Tally {
  const score = trialScore(block.answers, phase.answers, context);
  const rt = score.right === true ? score.rt : null;
  const [addScored, addRight] = [score.right === null ? 0 : 1, score.right === true ? 1 : 0];
  return {
    trialsDone: tally.trialsDone + 1,
    session: { scored: tally.session.scored + addScored, right: tally.session.right + addRight },
    block: {
      done: tally.block.done + 1,
      scored: tally.block.scored + addScored,
      right: tally.block.right + addRight,
      rtSum: tally.block.rtSum + (rt ?? 0),
      rtCount: tally.block.rtCount + (rt === null ? 0 : 1),
    },
    last: lastOf(phase, block),
  };
}
