import { acceptedBy } from "../devices/device";
import type { Input } from "../devices/input";
import type { AnswerSpec } from "../design/answer";
import type { Block } from "../design/block";
import type { GivenAnswer } from "../records/record";
import type { Context } from "../values/context";
import type { Outcome } from "../values/tally";
import { isRight, outcomeOf } from "./scoring";
import type { AnswerProgress, InTrial } from "./state";

/*
 * Answers of one trial: when their windows are open, what is taken, and which scenes are left out because nothing more is
 * awaited in them.
 */

export const noProgress: AnswerProgress = {
  openedAt: null,
  closedAt: null,
  given: null,
  right: null,
  early: [],
  tooLate: null,
  revised: [],
};

/** No more of these are kept in one trial: a key may be held down by a book. */
export const [mostEarly, mostRevised] = [50, 500];
/** Nor is more text than this kept of what was observed, or of answers that were revised: a record must fit into one sending. */
const mostCharacters = 300_000;
type WithText = { value?: string | undefined };
export const hasRoom = (kept: readonly WithText[], most: number, next: WithText): boolean =>
  kept.length < most &&
  kept.reduce((sum, { value = "" }) => sum + value.length, 0) + (next.value?.length ?? 0) <= mostCharacters;

/** The scenes of an answer window by their indices, from 0. */
export function windowOf({ scenes }: Pick<Block, "scenes">, spec: AnswerSpec): { opens: number; closes: number } {
  const indexOf = (scene: string) => scenes.findIndex(({ id }) => id === scene);
  return { opens: indexOf(spec.opensWith), closes: indexOf(spec.closesWith) };
}
export const covers = (block: Block, spec: AnswerSpec, scene: number): boolean => {
  const { opens, closes } = windowOf(block, spec);
  return opens <= scene && scene <= closes;
};

const isCutShort = (block: Block, phase: InTrial, index: number): boolean =>
  block.answers[index]?.onEarly === "end-window" && (phase.answers[index]?.early.length ?? 0) > 0;

/** This answer is settled: it was given and moves on, or an early one ended its window. */
export function isOver(block: Block, phase: InTrial, index: number): boolean {
  const spec = block.answers[index];
  const moved = spec?.onAnswer === "move-on" && spec.counts === "first" && phase.answers[index]?.given !== null;
  return moved || isCutShort(block, phase, index);
}

/** This answer has been given, or can no longer be, as the scene with this index comes on or is on. */
export const isSettled = (block: Block, phase: InTrial, index: number, scene: number): boolean =>
  phase.answers[index]?.given != null ||
  isOver(block, phase, index) ||
  scene > windowOf(block, block.answers[index] as AnswerSpec).closes;

/**
 * Whether a scene is left out because of what was answered: it lies in the window of an answer that is over (or, when
 * an early answer ended it, anywhere before that window's end) and no other answer is still awaited there.
 */
export function isLeftOut(block: Block, phase: InTrial, scene: number): boolean {
  let isPast = false;
  for (const [index, spec] of block.answers.entries()) {
    if (!isOver(block, phase, index)) {
      if (covers(block, spec, scene)) return false;
    } else if (isCutShort(block, phase, index) ? scene <= windowOf(block, spec).closes : covers(block, spec, scene))
      isPast = true;
  }
  return isPast;
}

/** How an answer stands at present, in one word. */
export const outcomeIn = (block: Block, phase: InTrial, index: number): Outcome =>
  outcomeOf(phase.answers[index] as AnswerProgress, isCutShort(block, phase, index));

/** Opens and closes windows as a scene comes on at `at`; `scene` is past the last one when the trial ends. `opened` are the answers whose window opens. */
export function windowsAt(
  block: Block,
  phase: InTrial,
  scene: number,
  at: number,
): { answers: AnswerProgress[]; opened: number[] } {
  const opened: number[] = [];
  const answers = phase.answers.map((progress, index): AnswerProgress => {
    const spec = block.answers[index] as AnswerSpec;
    const opens =
      scene < block.scenes.length &&
      progress.openedAt === null &&
      covers(block, spec, scene) &&
      !isOver(block, phase, index);
    if (opens) {
      opened.push(index);
      return { ...progress, openedAt: at };
    }
    const closes = progress.openedAt !== null && progress.closedAt === null && scene > windowOf(block, spec).closes;
    return closes ? { ...progress, closedAt: at } : progress;
  });
  return { answers, opened };
}

/** The answers whose windows close, without one having been given, as this scene comes on; `scene` is past the last one when the trial ends. */
export function closingAt(
  block: Block,
  phase: InTrial,
  scene: number,
  at: number,
): { answers: AnswerProgress[]; closing: number[] } {
  const closing: number[] = [];
  const answers = phase.answers.map((progress, index): AnswerProgress => {
    const spec = block.answers[index] as AnswerSpec;
    const closes = progress.openedAt !== null && progress.closedAt === null && scene > windowOf(block, spec).closes;
    if (!closes) return progress;
    if (progress.given === null && !isCutShort(block, phase, index)) closing.push(index);
    return { ...progress, closedAt: at };
  });
  return { answers, closing };
}

/** Takes an input for the first of the block's answers that it fits: in time, else too late, else too early. Null where it fits none. */
export function answersAfter(
  block: Block,
  phase: InTrial,
  input: Input,
  at: number,
  context: Context,
): { answers: AnswerProgress[]; index: number } | null {
  const accepted = block.answers.map((spec) => acceptedBy(spec, input, context));
  const firstThat = (fits: (progress: AnswerProgress, spec: AnswerSpec, index: number) => boolean) =>
    block.answers.findIndex(
      (spec, index) => accepted[index] !== null && fits(phase.answers[index] as AnswerProgress, spec, index),
    );
  const inTime = firstThat(
    ({ openedAt, closedAt, given }, { counts }) =>
      openedAt !== null && at >= openedAt && (closedAt === null || at <= closedAt) && (!given || counts === "last"),
  );
  const late = firstThat(
    ({ closedAt, given, tooLate }) => closedAt !== null && at > closedAt && given === null && tooLate === null,
  );
  const early = firstThat(
    ({ openedAt, given, early }, _, index) =>
      phase.scene >= 0 &&
      (openedAt === null || at < openedAt) &&
      given === null &&
      early.length < mostEarly &&
      !isOver(block, phase, index),
  );
  const index = [inTime, late, early].find((each) => each >= 0);
  if (index === undefined) return null;
  const spec = block.answers[index] as AnswerSpec;
  const progress = phase.answers[index] as AnswerProgress;
  const value = accepted[index] as string;
  const taken = { value, at, scenesShown: phase.scenes.length, order: takenSoFar(phase) + 1, input };
  const given = (): GivenAnswer => ({ ...taken, rt: at - countedFrom(phase, spec, progress) });
  const changed: AnswerProgress =
    index === inTime
      ? {
          ...progress,
          given: given(),
          right: isRight(spec, value, input, context),
          revised:
            progress.given && hasRoom(progress.revised, mostRevised, progress.given)
              ? [...progress.revised, progress.given]
              : progress.revised,
        }
      : index === late
        ? { ...progress, tooLate: given() }
        : { ...progress, early: [...progress.early, taken] };
  return { answers: phase.answers.map((each, other) => (other === index ? changed : each)), index };
}

/** How much was taken in the trial: answers of any kind, and what rules reacted to. */
export const takenSoFar = ({ answers, acts }: InTrial): number =>
  answers.reduce(
    (sum, { given, early, tooLate, revised }) =>
      sum + early.length + revised.length + (given ? 1 : 0) + (tooLate ? 1 : 0),
    acts.length,
  );

/** The onset from which the reaction time counts, in session time. */
const countedFrom = (phase: InTrial, spec: AnswerSpec, { openedAt }: AnswerProgress): number =>
  phase.scenes.find(({ scene }) => scene === spec.countsFrom)?.onset ?? openedAt ?? 0;
