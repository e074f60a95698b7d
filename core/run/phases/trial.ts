import type { PlannedTrial } from "../../compile/compile";
import { blockOf } from "../../design/lookup";
import type { Block } from "../../design/block";
import type { Lasts, Scene } from "../../design/scene";
import type { AnswerRecord } from "../../records/record";
import type { Context } from "../../values/context";
import type { Id } from "../../values/ref";
import type { Tally } from "../../values/tally";
import { holds, resolveNumber } from "../../values/resolve";
import { answersAfter, covers, hasRoom, isLeftOut, isOver, noProgress, outcomeIn, windowsAt } from "../answer-window";
import {
  blockIn,
  contextIn,
  plannedBlock,
  plannedTrial,
  stay,
  type AnswerProgress,
  type Command,
  type Course,
  type EventOf,
  type InTrial,
  type Leaving,
  type SessionEvent,
  type SessionState,
  type Step,
} from "../state";
import { isTold, tallied, tallyIn } from "../tally";

/** No more item events are kept in one trial: a page may send without end. */
const mostObserved = 1000;

export function enterTrial(course: Course, state: SessionState, part: number, trial: number): Step {
  const planned = plannedBlock(course, { part });
  const phase: InTrial = {
    kind: "trial",
    part,
    trial,
    scene: -1,
    scenes: [],
    answers: blockOf(course.document, planned.part).answers.map(() => noProgress),
    latest: 0,
    lateFrames: 0,
    observed: [],
    interrupted: null,
    before: state.tally,
  };
  return {
    state: { ...state, phase },
    commands: [{ kind: "prepare-trial", part: planned.part, trial: planned.trials[trial] as PlannedTrial }],
  };
}

/** A trial goes through its scenes, flip by flip, and takes what is answered meanwhile. */
export function inTrial(course: Course, state: SessionState, phase: InTrial, event: SessionEvent): Step | Leaving {
  switch (event.kind) {
    case "flip":
      return flip(course, state, phase, event);
    case "input":
      return input(course, state, phase, event);
    case "observed":
      return hasRoom(phase.observed, mostObserved, event.observation)
        ? stay({ ...state, phase: { ...phase, observed: [...phase.observed, event.observation] } })
        : stay(state);
    case "interrupted":
      return stay({ ...state, phase: { ...phase, interrupted: phase.interrupted ?? event.why } });
    case "break-off":
      return phase.scene >= 0 ? brokenOff(course, state, phase, event) : stay(state);
    default:
      return stay(state);
  }
}

function flip(
  course: Course,
  state: SessionState,
  phase: InTrial,
  { at, late, ended }: EventOf<"flip">,
): Step | Leaving {
  const block = blockIn(course, phase);
  const context = contextIn(course, state);
  const index = nextScene(block, phase, context);
  const { answers, opened } = windowsAt(block, phase, index, at);
  const left: InTrial = {
    ...phase,
    scenes: endedAt(phase, at, ended ? { ended } : {}),
    answers,
    lateFrames: phase.lateFrames + late,
  };
  const scene = block.scenes[index];
  if (!scene) return over(course, state, left, block, at, context);
  const latest = opened.find((each) => isTold(block, each));
  const coming = latest === undefined ? left : { ...left, latest };
  const tally = tallyIn(coming, block, context, index);
  const planned = plannedMs(scene, plannedTrial(course, phase), decidingBy(tally, context));
  const shown: InTrial = {
    ...coming,
    scene: index,
    scenes: [...left.scenes, { scene: scene.id, onset: at, end: at, planned }],
  };
  const show: Command = { kind: "show-scene", scene: scene.id, planned };
  // From the opening of its window on, what was "last" is this trial's; from its answer on, the trial counts.
  const isRetold = latest !== undefined || tally.trialsDone !== state.tally.trialsDone;
  return {
    state: { ...state, phase: shown, tally: isRetold ? tally : state.tally },
    commands: isRetold ? [{ kind: "refresh" }, show] : [show],
  };
}

/** What decides whether a coming scene is shown, and for how long: this trial counts once it is answered, and what was last stays so. */
const decidingBy = (tally: Tally, context: Context): Context => ({
  ...context,
  tally: { ...tally, last: context.tally.last },
});

/** Index of the scene that comes next; past the last one when the trial is over. */
function nextScene(block: Block, phase: InTrial, context: Context): number {
  let index = phase.scene + 1;
  for (; index < block.scenes.length; index++) {
    if (isLeftOut(block, phase, index)) continue;
    const when = block.scenes[index]?.when;
    if (!when || holds(when, decidingBy(tallyIn(phase, block, context, index), context))) break;
  }
  return index;
}

/** The scenes shown so far, the last of them ended at `at`. */
const endedAt = ({ scenes }: InTrial, at: number, more: Partial<InTrial["scenes"][number]> = {}) =>
  scenes.map((scene, index) => (index === scenes.length - 1 ? { ...scene, end: at, ...more } : scene));

function input(course: Course, state: SessionState, phase: InTrial, event: EventOf<"input">): Step {
  const block = blockIn(course, phase);
  const context = contextIn(course, state);
  const taken = answersAfter(block, phase, event.input, event.at, context);
  if (!taken) return stay(state);
  const { answers, index } = taken;
  const after: InTrial = { ...phase, answers, latest: isTold(block, index) ? index : phase.latest };
  const isCutShort = !isLeftOut(block, phase, phase.scene) && isLeftOut(block, after, phase.scene);
  return {
    state: { ...state, phase: after, tally: tallyIn(after, block, context, phase.scene) },
    commands: [{ kind: "refresh" }, ...(isCutShort ? [{ kind: "flip-now" as const }] : [])],
  };
}

/** The trial is over: it is recorded, and the next one follows, a break, or the next part. */
function over(
  course: Course,
  state: SessionState,
  phase: InTrial,
  block: Block,
  at: number,
  context: Context,
): Leaving {
  const [next, all] = [phase.trial + 1, plannedBlock(course, phase).trials.length];
  const isRest = block.breaks !== undefined && next % block.breaks.everyTrials === 0;
  return {
    state: { ...state, tally: tallied(phase, block, context) },
    at,
    entry: {
      kind: "trial",
      ...played(course, phase, block),
      lateFrames: phase.lateFrames,
      ...(phase.interrupted ? { interrupted: phase.interrupted } : {}),
    },
    destination:
      next >= all
        ? { to: "part", part: phase.part + 1 }
        : { to: isRest ? "break" : "trial", part: phase.part, trial: next },
  };
}

/** The trial is broken off where it stands; it is recorded as such, counts nowhere, and begins again. */
export function brokenOff(
  course: Course,
  state: SessionState,
  phase: InTrial,
  { at, why }: Pick<EventOf<"break-off">, "at" | "why">,
): Leaving {
  const block = blockIn(course, phase);
  return {
    state: { ...state, tally: phase.before },
    at,
    entry: { kind: "broken-off", ...played(course, { ...phase, scenes: endedAt(phase, at) }, block), at, why },
    destination: { to: "trial", part: phase.part, trial: phase.trial },
  };
}

/** What a trial's record says of it, as far as it has been played. */
function played(course: Course, phase: InTrial, block: Block) {
  const { trial, pass, row, placed } = plannedTrial(course, phase);
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
  };
}

/** The scene that surely follows the one on show, whatever is answered meanwhile; null where that is open. */
export function foreseenIn(course: Course, phase: InTrial): Id | null {
  if (phase.scene < 0) return null;
  const block = blockIn(course, phase);
  const next = block.scenes[phase.scene + 1];
  const isOpen = block.answers.some(
    (spec, index) =>
      !isOver(block, phase, index) &&
      (spec.onEarly === "end-window" || (spec.onAnswer === "move-on" && covers(block, spec, phase.scene))),
  );
  return next && !next.when && !isOpen && !isLeftOut(block, phase, phase.scene + 1) ? next.id : null;
}

type LastsOf<K extends Lasts["kind"]> = Extract<Lasts, { kind: K }>;
const durations: {
  [K in Lasts["kind"]]: (lasts: LastsOf<K>, drawn: number | undefined, context: Context) => number | null;
} = {
  ms: ({ ms }, _, context) => Math.max(0, resolveNumber(ms, context) ?? 0),
  "random-ms": ({ from }, drawn) => drawn ?? from,
  "until-answer": ({ atMostMs }, _, context) =>
    atMostMs === undefined ? null : Math.max(0, resolveNumber(atMostMs, context) ?? 0),
  "media-end": () => null,
};

/** How long a scene is planned to stay, in milliseconds; null when only something else ends it. */
function plannedMs({ id, lasts }: Scene, { drawn }: PlannedTrial, context: Context): number | null {
  const duration = durations[lasts.kind] as (of: Lasts, drawn: number | undefined, context: Context) => number | null;
  return duration(lasts, drawn[id], context);
}
