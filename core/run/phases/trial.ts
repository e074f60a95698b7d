import { blockOf } from "../../design/lookup";
import type { Block } from "../../design/block";
import { mostActs } from "../../records/rule-bounds";
import type { Happening } from "../../rules/trigger";
import type { Context } from "../../values/context";
import type { Id } from "../../values/ref";
import type { Tally } from "../../values/tally";
import { holds } from "../../values/resolve";
import {
  answersAfter,
  closingAt,
  covers,
  hasRoom,
  isLeftOut,
  isOver,
  noProgress,
  takenSoFar,
  windowsAt,
} from "../answer-window";
import { lengthOf, trialAt } from "../block-run";
import { endedAt, lasting, played } from "./trial-record";
import { plannedMs } from "../planned-ms";
import { fromOnset, withoutTrialTimers } from "../timers";
import {
  blockIn,
  contextIn,
  plannedBlock,
  stay,
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

/** Comes to a trial; `asked` is what rules asked of the driver as its block began. */
export function enterTrial(
  course: Course,
  state: SessionState,
  part: number,
  trial: number,
  asked: readonly Command[] = [],
): Step {
  const { part: id } = plannedBlock(course, { part });
  const settled = course.following.settledTrial(course, state, part, trial);
  const planned = settled ?? trialAt(course, state, part, trial);
  const phase: InTrial = {
    kind: "trial",
    part,
    trial,
    scene: -1,
    scenes: [],
    answers: blockOf(course.document, id).answers.map(() => noProgress),
    latest: 0,
    lateFrames: 0,
    observed: [],
    interrupted: null,
    acts: [],
    changes: {},
    goTo: null,
    planned,
    held: [],
    before: { tally: state.tally, made: state.made, run: state.run, timers: state.timers },
  };
  // Enough has been asked: it is passed over.
  if (!settled) return stay({ ...state, phase: { ...phase, goTo: Infinity } });
  // What rules do as it begins is there before it is prepared.
  const begun = course.rules.react(course, { ...state, phase }, [{ on: "trial-begins" }]);
  const held = [...asked, ...begun.commands].filter(({ kind }) => kind === "sound" || kind === "marker");
  return {
    state: { ...begun.state, phase: { ...(begun.state.phase as InTrial), held } },
    commands: [{ kind: "prepare-trial", part: id, trial: planned }],
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
    case "act":
      return acted(course, state, phase, event);
    case "break-off":
      return phase.scene >= 0 ? brokenOff(course, state, phase, event) : stay(state);
    default:
      return stay(state);
  }
}

function flip(
  course: Course,
  prepared: SessionState,
  before: InTrial,
  { at, late, ended, settled }: EventOf<"flip">,
): Step | Leaving {
  const { begun, phase } = asSettled(course, prepared, before, settled);
  const block = blockIn(course, phase);
  const shownNow = block.scenes[phase.scene];
  const { held } = phase;
  const over: InTrial = {
    ...phase,
    held: [],
    scenes: endedAt(phase, at, ended ? { ended } : {}),
    lateFrames: phase.lateFrames + late,
  };
  // What comes next, if no rule has another word.
  const meant = nextScene(block, over, contextIn(course, begun));
  const closed = closingAt(block, over, meant, at);
  const missed = closed.closing.map((index): Happening => ({
    on: "answer",
    answer: block.answers[index]?.id ?? "",
    how: "none",
  }));
  const parted = shownNow
    ? course.rules.react(course, { ...begun, phase: { ...over, answers: closed.answers } }, [
        { on: "scene-ends", scene: shownNow.id },
        ...missed,
      ])
    : stay({ ...fromOnset(begun), phase: { ...over, answers: closed.answers } });
  const state = parted.state;
  const here = state.phase as InTrial;
  const context = contextIn(course, state);
  const isFull = here.scenes.length >= mostScenes;
  const index = isFull
    ? block.scenes.length
    : (here.goTo ?? (state.fired === begun.fired ? meant : nextScene(block, here, context)));
  const { answers, opened } = windowsAt(block, here, index, at);
  const left: InTrial = { ...here, answers, goTo: null };
  const scene = block.scenes[index];
  if (!scene) return trialOver(course, state, left, block, at, context, [...held, ...parted.commands]);
  const latest = opened.find((each) => isTold(block, each));
  const coming = latest === undefined ? left : { ...left, latest };
  const tally = tallyIn(coming, block, context, index);
  const seen = decidingBy(tally, context);
  const planned = plannedMs(scene, left.planned, seen);
  const shown: InTrial = {
    ...coming,
    scene: index,
    scenes: [...left.scenes, { scene: scene.id, onset: at, end: at, planned }],
  };
  // From the opening of its window on, what was "last" is this trial's; from its answer on, the trial counts.
  const isRetold = latest !== undefined || tally.trialsDone !== state.tally.trialsDone;
  const next: SessionState = { ...state, phase: shown, tally: isRetold ? tally : state.tally };
  const arrived = course.rules.react(course, next, [{ on: "scene-begins", scene: scene.id }]);
  const { made } = arrived.state;
  // As it begins rules may have set what its duration is taken from.
  const lasts = made === next.made ? planned : plannedMs(scene, left.planned, withMade(seen, made));
  const changed = [...held, ...parted.commands.filter(({ kind }) => kind !== "flip-now"), ...arrived.commands];
  const refresh: Command[] = isRetold || changed.some(({ kind }) => kind === "refresh") ? [{ kind: "refresh" }] : [];
  return {
    state: lasts === planned ? arrived.state : lasting(arrived.state, lasts),
    commands: [
      ...refresh,
      { kind: "show-scene", scene: scene.id, planned: lasts },
      ...changed.filter(({ kind }) => kind !== "refresh"),
    ],
  };
}

const withMade = (context: Context, { variables, points }: SessionState["made"]): Context => ({
  ...context,
  variables,
  session: { ...context.session, points },
});

/** The trial as it was settled when it was played, where this tells of it again. */
function asSettled(course: Course, begun: SessionState, phase: InTrial, settled: EventOf<"flip">["settled"]) {
  if (!settled || phase.scene >= 0 || !phase.planned.settled) return { begun, phase };
  const planned = course.following.settledTrial(course, begun, phase.part, phase.trial, settled) ?? phase.planned;
  const again: InTrial = { ...phase, planned };
  return { begun: { ...begun, phase: again }, phase: again };
}

/** Something rules wait for: it is kept where one is set off by it, or where its time has come. */
function acted(course: Course, state: SessionState, phase: InTrial, { at, happened }: EventOf<"act">): Step {
  if (phase.scene < 0 || phase.acts.length >= mostActs) return stay(state);
  if (!course.rules.isHeard(course, state, happened)) return stay(state);
  const act = { at, scenesShown: phase.scenes.length, order: takenSoFar(phase) + 1, happened };
  const kept: SessionState = { ...state, phase: { ...phase, acts: [...phase.acts, act] } };
  return course.rules.takeAct(course, kept, happened);
}

/** No record holds more scenes of one trial, so that one that goes back and back comes to its end. */
const mostScenes = 200;

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

function input(course: Course, state: SessionState, phase: InTrial, event: EventOf<"input">): Step {
  const block = blockIn(course, phase);
  const context = contextIn(course, state);
  const taken = answersAfter(block, phase, event.input, event.at, context);
  if (!taken) return stay(state);
  const { answers, index } = taken;
  const after: InTrial = { ...phase, answers, latest: isTold(block, index) ? index : phase.latest };
  const isCutShort = !isLeftOut(block, phase, phase.scene) && isLeftOut(block, after, phase.scene);
  const told = course.rules.react(
    course,
    { ...state, phase: after, tally: tallyIn(after, block, context, phase.scene) },
    answered(block, phase, after, index),
  );
  return {
    state: told.state,
    commands: [
      { kind: "refresh" },
      ...(isCutShort ? [{ kind: "flip-now" as const, by: "answer" as const }] : []),
      ...told.commands.filter(({ kind }) => kind !== "refresh"),
    ],
  };
}

/** What an input was for one of the answers. */
function answered(block: Block, before: InTrial, after: InTrial, index: number): Happening[] {
  const answer = block.answers[index]?.id ?? "";
  const [was, is] = [before.answers[index], after.answers[index]];
  if (!is || is.tooLate !== was?.tooLate) return [];
  if (is.early !== was?.early) return [{ on: "answer", answer, how: "early" }];
  const how = is.right === null ? [] : [is.right ? ("right" as const) : ("wrong" as const)];
  return ["given" as const, ...how].map((each): Happening => ({ on: "answer", answer, how: each }));
}

/** The trial is over: it is recorded, and the next one follows, a break, or the next part. */
function trialOver(
  course: Course,
  state: SessionState,
  phase: InTrial,
  block: Block,
  at: number,
  context: Context,
  before: readonly Command[],
): Leaving {
  const tally = tallied(phase, block, context);
  const ended = course.rules.react(course, { ...state, phase, tally }, [{ on: "trial-ends" }], {
    part: block.id,
    scene: null,
  });
  const { run, jumps } = course.following.afterTrial(course, ended.state, phase);
  const next = phase.trial + 1;
  const isRest = block.breaks !== undefined && next % block.breaks.everyTrials === 0;
  const isLast = next >= lengthOf(course, phase.part, run);
  const asked = jumps.length > 0 ? { ...ended.state, jumps: [...ended.state.jumps, ...jumps] } : ended.state;
  const judged = course.rules.judgedBlock(course, asked, block, isLast);
  return {
    state: {
      ...withoutTrialTimers(ended.state),
      run: { ...run, total: run.total + 1 },
      rounds: course.rules.withResult(course, ended.state, phase.part),
      jumps: [...asked.jumps, ...judged.jumps],
    },
    at,
    before: [...before, ...ended.commands].filter(({ kind }) => kind === "sound" || kind === "marker"),
    entry: {
      kind: "trial",
      ...played(course, state, phase, block),
      lateFrames: phase.lateFrames,
      ...(phase.interrupted ? { interrupted: phase.interrupted } : {}),
      ...(judged.came ? { criterion: judged.came } : {}),
    },
    destination: isLast
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
    state: { ...state, ...phase.before, jumps: [] },
    at,
    entry: { kind: "broken-off", ...played(course, state, { ...phase, scenes: endedAt(phase, at) }, block), at, why },
    destination:
      why === "withdrawn"
        ? { to: "nowhere", phase: { ...phase, scene: -1 } }
        : { to: "trial", part: phase.part, trial: phase.trial },
  };
}

/** The scene that surely follows the one on show, whatever is answered meanwhile; null where that is open. */
export function foreseenIn(course: Course, phase: InTrial): Id | null {
  if (phase.scene < 0) return null;
  const block = blockIn(course, phase);
  const next = block.scenes[phase.scene + 1];
  if (course.rules.mayMove(course, block)) return null;
  const isOpen = block.answers.some(
    (spec, index) =>
      !isOver(block, phase, index) &&
      (spec.onEarly === "end-window" || (spec.onAnswer === "move-on" && covers(block, spec, phase.scene))),
  );
  return next && !next.when && !isOpen && !isLeftOut(block, phase, phase.scene + 1) ? next.id : null;
}
