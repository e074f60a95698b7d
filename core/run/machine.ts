import type { Plan, PlannedTrial } from "../compile/compile";
import { blockOf } from "../design/lookup";
import type { AnswerSpec, Block, Id, Scene, StudyDocument } from "../design/types";
import type { GivenAnswer, Outcome, SceneRecord, SessionRecord } from "./records";
import { emptyBlockTally, emptyTally, holds, resolve, resolveNumber, type Context, type Tally } from "./resolve";

/** What the driver tells the machine. `at` is in milliseconds from the session's start. */
export type SessionEvent =
  | { kind: "page-shown"; at: number }
  | { kind: "continue"; at: number }
  /** The next scene (or the end of the trial) took effect in the frame at `at`; `late` counts frames it came too late. */
  | { kind: "flip"; at: number; late: number }
  /** An input, stamped with its own time. */
  | { kind: "answer"; at: number; value: string };

/** What the machine asks of the driver. */
export type Command =
  | { kind: "show-page"; part: Id }
  /** Build this trial hidden; then send a flip when its first scene can be shown. */
  | { kind: "prepare-trial"; part: Id; trial: PlannedTrial }
  /** Show this scene in the present frame; send the next flip after `planned` ms, or only when asked (null). */
  | { kind: "show-scene"; scene: Id; planned: number | null }
  /** The scene is over early: send a flip with the next frame. */
  | { kind: "flip-now" }
  /** A value shown in the coming scenes may have changed. */
  | { kind: "refresh" }
  | { kind: "record"; record: SessionRecord }
  | { kind: "finish" };

type InTrial = {
  kind: "trial";
  part: number;
  trial: number;
  /** Index of the scene on show; -1 while the trial is prepared. */
  scene: number;
  scenes: SceneRecord[];
  openedAt: number | null;
  closedAt: number | null;
  answer: GivenAnswer | null;
  tooLate: GivenAnswer | null;
  right: boolean | null;
  lateFrames: number;
};
type Phase = { kind: "page"; part: number; shown: number | null } | InTrial | { kind: "done" };
export type SessionState = { phase: Phase; nextRecord: number; tally: Tally };
export type Step = { state: SessionState; commands: Command[] };

export type SessionMachine = {
  begin: () => Step;
  next: (state: SessionState, event: SessionEvent) => Step;
  /** What bindings see in this state. */
  context: (state: SessionState) => Context;
};

/**
 * The machine that plays one plan. `next` is pure: the same state and event give the same step; time comes only with
 * events. The player, the simulated participant, the resume after a reload and the tests all drive this one.
 * Events that do not fit the state (a key on a page) leave it as it is.
 */
export function sessionMachine(document: StudyDocument, plan: Plan): SessionMachine {
  const context = (state: SessionState): Context => ({
    document,
    group: plan.group,
    participant: plan.participant,
    tally: state.tally,
    values: state.phase.kind === "trial" ? plannedTrial(plan, state.phase).values : {},
  });

  const enterPart = (state: SessionState, part: number): Step => {
    const planned = plan.parts[part];
    if (!planned) return finish(state);
    if (planned.kind === "page")
      return {
        state: { ...state, phase: { kind: "page", part, shown: null } },
        commands: [{ kind: "show-page", part: planned.part }],
      };
    const fresh = { ...state, tally: { ...state.tally, block: emptyBlockTally } };
    return planned.trials.length === 0 ? enterPart(fresh, part + 1) : enterTrial(fresh, part, 0);
  };

  const enterTrial = (state: SessionState, part: number, trial: number): Step => {
    const planned = plan.parts[part];
    const next = planned?.kind === "block" ? planned.trials[trial] : undefined;
    if (!planned || !next) return enterPart(state, part + 1);
    const phase: InTrial = {
      kind: "trial",
      part,
      trial,
      scene: -1,
      scenes: [],
      openedAt: null,
      closedAt: null,
      answer: null,
      tooLate: null,
      right: null,
      lateFrames: 0,
    };
    return { state: { ...state, phase }, commands: [{ kind: "prepare-trial", part: planned.part, trial: next }] };
  };

  const finish = (state: SessionState): Step => ({
    state: { ...state, phase: { kind: "done" } },
    commands: [{ kind: "finish" }],
  });

  const record = (step: Step, entry: SessionRecord): Step => ({
    state: { ...step.state, nextRecord: entry.number + 1 },
    commands: [{ kind: "record", record: entry }, ...step.commands],
  });

  const afterPart = (state: SessionState, part: number, at: number, entry: SessionRecord): Step => {
    const step = enterPart({ ...state, nextRecord: entry.number + 1 }, part);
    if (step.state.phase.kind !== "done") return record(step, entry);
    const end: SessionRecord = { kind: "end", number: entry.number + 1, at };
    return {
      state: { ...step.state, nextRecord: end.number + 1 },
      commands: [{ kind: "record", record: entry }, { kind: "record", record: end }, ...step.commands],
    };
  };

  const flip = (state: SessionState, phase: InTrial, at: number, late: number): Step => {
    const block = blockOf(document, plannedPart(plan, phase).part);
    const spec = block.answers[0];
    const opens = indexOf(block, spec?.opensWith);
    const closes = indexOf(block, spec?.closesWith);
    // A move-on answer leaves out what remains of the window.
    const skipping = phase.answer !== null && spec?.onAnswer === "move-on" && phase.scene <= closes;
    const now = context(state);
    let index = skipping ? closes + 1 : phase.scene + 1;
    for (; index < block.scenes.length; index++) {
      const when = block.scenes[index]?.when;
      if (!when || holds(when, now)) break;
    }
    const scenes = phase.scenes.map((scene, place) =>
      place === phase.scenes.length - 1 ? { ...scene, end: at } : scene,
    );
    const closedAt = phase.openedAt !== null && index > closes ? (phase.closedAt ?? at) : phase.closedAt;
    const left: InTrial = { ...phase, scenes, closedAt, lateFrames: phase.lateFrames + late };
    const scene = block.scenes[index];
    if (!scene) return endTrial(state, left, block, at);
    const planned = plannedMs(scene, plannedTrial(plan, phase), now);
    const isOpening = phase.openedAt === null && index >= opens && index <= closes;
    const shown: InTrial = {
      ...left,
      scene: index,
      openedAt: isOpening ? at : left.openedAt,
      scenes: [...scenes, { scene: scene.id, onset: at, end: at, planned }],
    };
    const show: Command = { kind: "show-scene", scene: scene.id, planned };
    // From the opening of its window on, what was "last" is this trial's, and what shows it must be drawn anew.
    return isOpening
      ? { state: withLast(state, shown), commands: [{ kind: "refresh" }, show] }
      : { state: { ...state, phase: shown }, commands: [show] };
  };

  const endTrial = (state: SessionState, phase: InTrial, block: Block, at: number): Step => {
    const planned = plannedTrial(plan, phase);
    const tally = tallied(state.tally, phase, block);
    const entry: SessionRecord = {
      kind: "trial",
      number: state.nextRecord,
      part: block.id,
      trial: planned.trial,
      pass: planned.pass,
      row: planned.row,
      scenes: phase.scenes,
      answer: phase.answer,
      tooLate: phase.answer ? null : phase.tooLate,
      right: phase.right,
      outcome: outcomeOf(phase),
      lateFrames: phase.lateFrames,
    };
    const after = { ...state, tally };
    const isLast = phase.trial + 1 >= plannedPart(plan, phase).trials.length;
    if (isLast) return afterPart(after, phase.part + 1, at, entry);
    return record(enterTrial(after, phase.part, phase.trial + 1), entry);
  };

  const answer = (state: SessionState, phase: InTrial, value: string, at: number): Step => {
    const block = blockOf(document, plannedPart(plan, phase).part);
    const spec = block.answers[0];
    const unchanged: Step = { state, commands: [] };
    if (!spec || phase.openedAt === null || phase.answer || at < phase.openedAt) return unchanged;
    const now = context(state);
    const allowed = spec.by.flatMap(({ keys }) => keys.map((key) => String(resolve(key, now) ?? "")));
    if (!allowed.some((key) => sameKey(key, value))) return unchanged;
    const given: GivenAnswer = { value, at, rt: at - phase.openedAt, scenesShown: phase.scenes.length };
    if (phase.closedAt !== null && at > phase.closedAt) {
      if (phase.tooLate) return unchanged;
      return { state: withLast(state, { ...phase, tooLate: given }), commands: [{ kind: "refresh" }] };
    }
    const right = isRight(spec, value, now);
    const answered: InTrial = { ...phase, answer: given, tooLate: null, right };
    const stillOpen = phase.closedAt === null;
    const commands: Command[] = [{ kind: "refresh" }];
    if (stillOpen && spec.onAnswer === "move-on") commands.push({ kind: "flip-now" });
    return { state: withLast(state, answered), commands };
  };

  const next = (state: SessionState, event: SessionEvent): Step => {
    const { phase } = state;
    if (phase.kind === "page" && event.kind === "page-shown")
      return { state: { ...state, phase: { ...phase, shown: phase.shown ?? event.at } }, commands: [] };
    if (phase.kind === "page" && event.kind === "continue" && phase.shown !== null) {
      const part = plan.parts[phase.part]?.part as Id;
      return afterPart(state, phase.part + 1, event.at, {
        kind: "page",
        number: state.nextRecord,
        part,
        shown: phase.shown,
        done: event.at,
      });
    }
    if (phase.kind === "trial" && event.kind === "flip") return flip(state, phase, event.at, event.late);
    if (phase.kind === "trial" && event.kind === "answer") return answer(state, phase, event.value, event.at);
    return { state, commands: [] };
  };

  return { begin: () => enterPart({ phase: { kind: "done" }, nextRecord: 1, tally: emptyTally }, 0), next, context };
}

const plannedPart = (plan: Plan, phase: InTrial) =>
  plan.parts[phase.part] as Extract<Plan["parts"][number], { kind: "block" }>;
const plannedTrial = (plan: Plan, phase: InTrial) => plannedPart(plan, phase).trials[phase.trial] as PlannedTrial;
const indexOf = (block: Block, scene: Id | undefined) => block.scenes.findIndex(({ id }) => id === scene);

/** How long a scene is planned to stay, in milliseconds; null when only an answer ends it. */
export function plannedMs(scene: Scene, trial: PlannedTrial, context: Context): number | null {
  switch (scene.lasts.kind) {
    case "ms":
      return Math.max(0, resolveNumber(scene.lasts.ms, context) ?? 0);
    case "random-ms":
      return trial.drawn[scene.id] ?? scene.lasts.from;
    case "until-answer":
      return scene.lasts.atMostMs === undefined ? null : Math.max(0, resolveNumber(scene.lasts.atMostMs, context) ?? 0);
  }
}

/** Keys are compared without case, since caps lock is not an answer. */
export const sameKey = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();

function isRight(spec: AnswerSpec, value: string, context: Context): boolean | null {
  if (spec.right === undefined) return null;
  const wanted = resolve(spec.right, context);
  if (wanted === null) return null;
  if (spec.match === "number") return Number(value) === Number(wanted);
  return spec.match === "ignore-case" || value.length === 1 ? sameKey(value, String(wanted)) : value === String(wanted);
}

function outcomeOf(phase: InTrial): Outcome {
  if (phase.answer) return phase.right === null ? "answered" : phase.right ? "right" : "wrong";
  return phase.tooLate ? "too late" : "none";
}

const withLast = (state: SessionState, phase: InTrial): SessionState => ({
  ...state,
  phase,
  tally: {
    ...state.tally,
    last: {
      answer: phase.answer?.value ?? null,
      right: phase.right,
      rt: phase.answer?.rt ?? null,
      outcome: outcomeOf(phase),
    },
  },
});

/** Accuracy counts every trial that has a right answer, also those without any; reaction times count right answers only. */
function tallied(tally: Tally, phase: InTrial, block: Block): Tally {
  const scored = block.answers[0]?.right !== undefined;
  const right = phase.right === true;
  const timed = right && phase.answer !== null;
  return {
    trialsDone: tally.trialsDone + 1,
    block: {
      done: tally.block.done + 1,
      scored: tally.block.scored + (scored ? 1 : 0),
      right: tally.block.right + (right ? 1 : 0),
      rtSum: tally.block.rtSum + (timed ? (phase.answer?.rt ?? 0) : 0),
      rtCount: tally.block.rtCount + (timed ? 1 : 0),
    },
    last: {
      answer: phase.answer?.value ?? null,
      right: phase.right,
      rt: phase.answer?.rt ?? null,
      outcome: outcomeOf(phase),
    },
  };
}
