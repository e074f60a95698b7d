import type { Block } from "../../design/block";
import type { AnswerRecord } from "../../records/record";
import { outcomeIn } from "../answer-window";
import { canRepeat, showingOf } from "../repeats";
import type { AnswerProgress, Course, InTrial, SessionState } from "../state";

/*
 * What is recorded of a trial.
 */

/** What a trial's record says of it, as far as it has been played. */
export function played(course: Course, { run }: SessionState, phase: InTrial, block: Block) {
  const { trial, pass, row, placed, settled, fromPools } = phase.planned;
  const showing = showingOf(run, phase.trial);
  return {
    part: block.id,
    trial,
    pass,
    row,
    scenes: phase.scenes,
    answers: block.answers.map((spec, index): AnswerRecord => {
      const { given, right, early, tooLate, revised } = phase.answers[index] as AnswerProgress;
      const outcome = outcomeIn(block, phase, index);
      return { answer: spec.id, given, right, outcome, early, tooLate: given ? null : tooLate, revised };
    }),
    observed: phase.observed,
    placed,
    ...(settled ? { settled: { ...settled } } : {}),
    ...(fromPools ? { fromPools } : {}),
    ...(phase.acts.length > 0 ? { acts: [...phase.acts] } : {}),
    ...(canRepeat(course, phase.part) ? { attempt: run.attempt, inAttempt: phase.trial + 1 } : {}),
    ...(showing > 1 ? { showing } : {}),
  };
}

/** The scenes shown so far, the last of them ended at `at`. */
export const endedAt = ({ scenes }: InTrial, at: number, more: Partial<InTrial["scenes"][number]> = {}) =>
  scenes.map((scene, index) => (index === scenes.length - 1 ? { ...scene, end: at, ...more } : scene));

/** The scene on show is planned to last so long. */
export function lasting(state: SessionState, planned: number | null): SessionState {
  const phase = state.phase as InTrial;
  const scenes = phase.scenes.map((each, index) => (index === phase.scenes.length - 1 ? { ...each, planned } : each));
  return { ...state, phase: { ...phase, scenes } };
}
