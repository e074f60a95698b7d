import type { Plan, PlannedTrial } from "../compile/compile";
import { blockOf } from "../design/lookup";
import type { AnswerSpec, Block, Id, Scene, StudyDocument } from "../design/types";
import { acceptedBy } from "./devices/registry";
import type {
  AnswerRecord,
  GivenAnswer,
  Input,
  Interruption,
  Observation,
  SceneEnd,
  SceneRecord,
  SessionRecord,
} from "./records";
import { emptyBlockTally, emptyTally, holds, resolveNumber, type Context, type Tally } from "./resolve";
import { isRight, outcomeOf } from "./scoring";

/** What the driver tells the machine. `at` is in milliseconds from the session's start. */
export type SessionEvent =
  | { kind: "page-shown"; at: number }
  | { kind: "continue"; at: number }
  /**
   * The next scene (or the end of the trial) took effect in the frame at `at`; `late` counts frames it came too late, and
   * `ended` says how the scene before it ended.
   */
  | { kind: "flip"; at: number; late: number; ended?: SceneEnd | undefined }
  /** Something the participant did, stamped with its own time. */
  | { kind: "input"; at: number; input: Input }
  /** Something an item was seen to do. It is recorded and changes nothing else. */
  | { kind: "observed"; observation: Observation }
  /** Something came between; the trial is finished all the same, and says so. */
  | { kind: "interrupted"; why: Interruption }
  /** The trial is broken off where it stands and begins again. */
  | { kind: "break-off"; at: number; why: Interruption }
  /** The participant leaves for good. */
  | { kind: "withdraw"; at: number };

/** What the machine asks of the driver. */
export type Command =
  | { kind: "show-page"; part: Id }
  /** Show the block's break, which ends with `continue`. */
  | { kind: "show-break"; part: Id }
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
  /** One for each of the block's answers, in its order. */
  answers: AnswerProgress[];
  /** The answer that `last` stands for: the one opened or given most recently, of those that can be right or wrong. */
  latest: number;
  lateFrames: number;
  observed: Observation[];
  interrupted: Interruption | null;
  /** What was "last" when the trial began, for when it is broken off. */
  before: Tally["last"];
};
/** How far one answer of a trial is. */
export type AnswerProgress = Omit<AnswerRecord, "answer" | "outcome"> & {
  openedAt: number | null;
  closedAt: number | null;
};
/** `trial`: the place of the trial that follows. */
type InBreak = { kind: "break"; part: number; trial: number; shown: number | null };
type Phase = { kind: "page"; part: number; shown: number | null } | InBreak | InTrial | { kind: "done" };
export type SessionState = { phase: Phase; nextRecord: number; tally: Tally };
export type Step = { state: SessionState; commands: Command[] };

export type SessionMachine = {
  begin: () => Step;
  next: (state: SessionState, event: SessionEvent) => Step;
  /** What bindings see in this state. */
  context: (state: SessionState) => Context;
  /** The scene that surely follows the one on show, whatever is answered meanwhile; null where that is open. */
  foresee: (state: SessionState) => Id | null;
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
    placed: state.phase.kind === "trial" ? plannedTrial(plan, state.phase).placed : {},
  });

  const enterPart = (state: SessionState, part: number): Step => {
    const planned = plan.parts[part];
    if (!planned) return finish(state);
    if (planned.when && !holds(planned.when, context(state))) return enterPart(state, part + 1);
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
      answers: blockOf(document, planned.part).answers.map(() => noProgress),
      latest: 0,
      lateFrames: 0,
      observed: [],
      interrupted: null,
      before: state.tally.last,
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

  const flip = (state: SessionState, phase: InTrial, { at, late, ended }: Flip): Step => {
    const block = blockOf(document, plannedPart(plan, phase).part);
    const now = context(state);
    let index = phase.scene + 1;
    for (; index < block.scenes.length; index++) {
      const when = block.scenes[index]?.when;
      if (!isLeftOut(block, phase, index) && (!when || holds(when, now))) break;
    }
    const scenes = phase.scenes.map((scene, place) =>
      place === phase.scenes.length - 1 ? { ...scene, end: at, ...(ended ? { ended } : {}) } : scene,
    );
    const scene = block.scenes[index];
    const opening = block.answers.map((spec, each) => {
      const { openedAt } = phase.answers[each] as AnswerProgress;
      return scene !== undefined && openedAt === null && covers(block, spec, index) && !isOver(block, phase, each);
    });
    const answers = phase.answers.map((progress, each): AnswerProgress => {
      const { closes } = windowOf(block, block.answers[each] as AnswerSpec);
      if (opening[each]) return { ...progress, openedAt: at };
      return progress.openedAt !== null && index > closes && progress.closedAt === null
        ? { ...progress, closedAt: at }
        : progress;
    });
    const left: InTrial = { ...phase, scenes, answers, lateFrames: phase.lateFrames + late };
    if (!scene) return endTrial(state, left, block, at);
    const planned = plannedMs(scene, plannedTrial(plan, phase), now);
    const shown: InTrial = {
      ...left,
      scene: index,
      scenes: [...scenes, { scene: scene.id, onset: at, end: at, planned }],
    };
    const show: Command = { kind: "show-scene", scene: scene.id, planned };
    const opened = opening.findIndex((isOpening, each) => isOpening && isTold(block, each));
    // From the opening of its window on, what was "last" is this trial's, and what shows it must be drawn anew.
    return opened >= 0
      ? { state: withLast(state, { ...shown, latest: opened }, block), commands: [{ kind: "refresh" }, show] }
      : { state: { ...state, phase: shown }, commands: [show] };
  };

  const endTrial = (state: SessionState, phase: InTrial, block: Block, at: number): Step => {
    const tally = tallied(state.tally, phase, block);
    const entry: SessionRecord = {
      kind: "trial",
      number: state.nextRecord,
      ...played(phase, block),
      lateFrames: phase.lateFrames,
      ...(phase.interrupted ? { interrupted: phase.interrupted } : {}),
    };
    const after = { ...state, tally };
    const [place, all] = [phase.trial + 1, plannedPart(plan, phase).trials.length];
    if (place >= all) return afterPart(after, phase.part + 1, at, entry);
    if (block.breaks && place % block.breaks.everyTrials === 0)
      return record(
        {
          state: { ...after, phase: { kind: "break", part: phase.part, trial: place, shown: null } },
          commands: [{ kind: "show-break", part: block.id }],
        },
        entry,
      );
    return record(enterTrial(after, phase.part, place), entry);
  };

  /** What a trial's record says of it, as far as it has been played. */
  const played = (phase: InTrial, block: Block) => {
    const planned = plannedTrial(plan, phase);
    return {
      part: block.id,
      trial: planned.trial,
      pass: planned.pass,
      row: planned.row,
      scenes: phase.scenes,
      answers: block.answers.map((spec, index): AnswerRecord => {
        const { given, right, early, tooLate, revised } = phase.answers[index] as AnswerProgress;
        const outcome = outcomeIn(block, phase, index);
        return { answer: spec.id, given, right, outcome, early, tooLate: given ? null : tooLate, revised };
      }),
      observed: phase.observed,
      placed: planned.placed,
    };
  };

  const breakOff = (state: SessionState, phase: InTrial, at: number, why: Interruption): Step => {
    const block = blockOf(document, plannedPart(plan, phase).part);
    const scenes = phase.scenes.map((scene, place) =>
      place === phase.scenes.length - 1 ? { ...scene, end: at } : scene,
    );
    const entry: SessionRecord = {
      kind: "broken-off",
      number: state.nextRecord,
      ...played({ ...phase, scenes }, block),
      at,
      why,
    };
    const before = { ...state, tally: { ...state.tally, last: phase.before } };
    return record(enterTrial(before, phase.part, phase.trial), entry);
  };

  const withdraw = (state: SessionState, at: number): Step => {
    const { phase } = state;
    const broken = phase.kind === "trial" && phase.scene >= 0 ? breakOff(state, phase, at, "withdrawn") : null;
    const number = broken ? broken.state.nextRecord : state.nextRecord;
    const end: SessionRecord = { kind: "end", number, at, withdrawn: true };
    return {
      state: { ...(broken?.state ?? state), phase: { kind: "done" }, nextRecord: number + 1 },
      commands: [
        ...(broken?.commands.filter(({ kind }) => kind === "record") ?? []),
        { kind: "record", record: end },
        { kind: "finish" },
      ],
    };
  };

  const foresee = ({ phase }: SessionState): Id | null => {
    if (phase.kind !== "trial" || phase.scene < 0) return null;
    const block = blockOf(document, plannedPart(plan, phase).part);
    const next = block.scenes[phase.scene + 1];
    const isOpen = block.answers.some(
      (spec, index) =>
        !isOver(block, phase, index) &&
        (spec.onEarly === "end-window" || (spec.onAnswer === "move-on" && covers(block, spec, phase.scene))),
    );
    return next && !next.when && !isOpen && !isLeftOut(block, phase, phase.scene + 1) ? next.id : null;
  };

  const input = (state: SessionState, phase: InTrial, made: Input, at: number): Step => {
    const block = blockOf(document, plannedPart(plan, phase).part);
    const now = context(state);
    const accepted = block.answers.map((spec) => acceptedBy(spec, made, now));
    const takes = (fits: (progress: AnswerProgress, spec: AnswerSpec, index: number) => boolean) =>
      block.answers.findIndex(
        (spec, index) => accepted[index] !== null && fits(phase.answers[index] as AnswerProgress, spec, index),
      );
    const inTime = takes(
      ({ openedAt, closedAt, given }, { counts }) =>
        openedAt !== null && at >= openedAt && (closedAt === null || at <= closedAt) && (!given || counts === "last"),
    );
    const late = takes(
      ({ closedAt, given, tooLate }) => closedAt !== null && at > closedAt && given === null && tooLate === null,
    );
    const early = takes(
      ({ openedAt, given, early }, _, place) =>
        phase.scene >= 0 &&
        (openedAt === null || at < openedAt) &&
        given === null &&
        early.length < mostEarly &&
        !isOver(block, phase, place),
    );
    const index = [inTime, late, early].find((each) => each >= 0);
    if (index === undefined) return { state, commands: [] };
    const spec = block.answers[index] as AnswerSpec;
    const progress = phase.answers[index] as AnswerProgress;
    const value = accepted[index] as string;
    const taken = { value, at, scenesShown: phase.scenes.length, order: takenSoFar(phase) + 1, input: made };
    const given = (): GivenAnswer => ({ ...taken, rt: at - countedFrom(phase, spec, progress) });
    const changed: AnswerProgress =
      index === inTime
        ? {
            ...progress,
            given: given(),
            right: isRight(spec, value, made, now),
            revised:
              progress.given && hasRoom(progress.revised, mostRevised, progress.given)
                ? [...progress.revised, progress.given]
                : progress.revised,
          }
        : index === late
          ? { ...progress, tooLate: given() }
          : { ...progress, early: [...progress.early, taken] };
    const after: InTrial = {
      ...phase,
      answers: phase.answers.map((each, place) => (place === index ? changed : each)),
      latest: isTold(block, index) ? index : phase.latest,
    };
    const commands: Command[] = [{ kind: "refresh" }];
    if (!isLeftOut(block, phase, phase.scene) && isLeftOut(block, after, phase.scene))
      commands.push({ kind: "flip-now" });
    return { state: withLast(state, after, block), commands };
  };

  const next = (state: SessionState, event: SessionEvent): Step => {
    const { phase } = state;
    if (event.kind === "withdraw" && phase.kind !== "done") return withdraw(state, event.at);
    if ((phase.kind === "page" || phase.kind === "break") && event.kind === "page-shown")
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
    if (phase.kind === "break" && event.kind === "continue" && phase.shown !== null) {
      const { part, trials } = plannedPart(plan, phase);
      const entry: SessionRecord = {
        kind: "break",
        number: state.nextRecord,
        part,
        after: trials[phase.trial - 1]?.trial ?? 0,
        shown: phase.shown,
        done: event.at,
      };
      return record(enterTrial(state, phase.part, phase.trial), entry);
    }
    if (phase.kind === "trial" && event.kind === "interrupted")
      return { state: { ...state, phase: { ...phase, interrupted: phase.interrupted ?? event.why } }, commands: [] };
    if (phase.kind === "trial" && event.kind === "break-off" && phase.scene >= 0)
      return breakOff(state, phase, event.at, event.why);
    if (phase.kind === "trial" && event.kind === "flip") return flip(state, phase, event);
    if (phase.kind === "trial" && event.kind === "input") return input(state, phase, event.input, event.at);
    if (phase.kind === "trial" && event.kind === "observed" && hasRoom(phase.observed, mostObserved, event.observation))
      return {
        state: { ...state, phase: { ...phase, observed: [...phase.observed, event.observation] } },
        commands: [],
      };
    return { state, commands: [] };
  };

  return {
    begin: () => enterPart({ phase: { kind: "done" }, nextRecord: 1, tally: emptyTally }, 0),
    next,
    context,
    foresee,
  };
}

type Flip = Extract<SessionEvent, { kind: "flip" }>;

const plannedPart = (plan: Plan, phase: InTrial | InBreak) =>
  plan.parts[phase.part] as Extract<Plan["parts"][number], { kind: "block" }>;
const plannedTrial = (plan: Plan, phase: InTrial) => plannedPart(plan, phase).trials[phase.trial] as PlannedTrial;

/** More than these in one trial are not kept: a key held down by a book, a page that sends without end. */
const [mostEarly, mostRevised, mostObserved] = [50, 500, 1000];
/** Nor is more text than this kept of what was observed, or of answers that were revised: a record must fit into one sending. */
const mostCharacters = 300_000;
const hasRoom = (kept: readonly { value?: string | undefined }[], most: number, next: { value?: string | undefined }) =>
  kept.length < most &&
  kept.reduce((sum, { value = "" }) => sum + value.length, 0) + (next.value?.length ?? 0) <= mostCharacters;
const noProgress: AnswerProgress = {
  openedAt: null,
  closedAt: null,
  given: null,
  right: null,
  early: [],
  tooLate: null,
  revised: [],
};

/** The scenes of an answer window by their places, from 0. */
export function windowOf({ scenes }: Block, spec: AnswerSpec): { opens: number; closes: number } {
  const [opens, closes] = [spec.opensWith, spec.closesWith].map((id) => scenes.findIndex((each) => each.id === id));
  return { opens: opens as number, closes: closes as number };
}
const covers = (block: Block, spec: AnswerSpec, scene: number): boolean => {
  const { opens, closes } = windowOf(block, spec);
  return opens <= scene && scene <= closes;
};

const isCutShort = (block: Block, phase: InTrial, index: number) =>
  block.answers[index]?.onEarly === "end-window" && (phase.answers[index]?.early.length ?? 0) > 0;
/** Nothing more is awaited from this answer: it was given and moves on, or an early one ended its window. */
function isOver(block: Block, phase: InTrial, index: number): boolean {
  const spec = block.answers[index];
  const moved = spec?.onAnswer === "move-on" && spec.counts === "first" && phase.answers[index]?.given !== null;
  return moved || isCutShort(block, phase, index);
}

/**
 * Whether a scene is left out because of what was answered: it lies in the window of an answer that is over (or, when
 * an early answer ended it, anywhere before that window's end) and no other answer is still awaited there.
 */
function isLeftOut(block: Block, phase: InTrial, scene: number): boolean {
  let isPast = false;
  for (const [index, spec] of block.answers.entries()) {
    if (!isOver(block, phase, index)) {
      if (covers(block, spec, scene)) return false;
    } else if (isCutShort(block, phase, index) ? scene <= windowOf(block, spec).closes : covers(block, spec, scene))
      isPast = true;
  }
  return isPast;
}

const takenSoFar = ({ answers }: InTrial): number =>
  answers.reduce(
    (sum, { given, early, tooLate, revised }) =>
      sum + early.length + revised.length + (given ? 1 : 0) + (tooLate ? 1 : 0),
    0,
  );

const outcomeIn = (block: Block, phase: InTrial, index: number) =>
  outcomeOf(phase.answers[index] as AnswerProgress, isCutShort(block, phase, index));

/** The onset from which the reaction time counts, in session time. */
const countedFrom = (phase: InTrial, spec: AnswerSpec, { openedAt }: AnswerProgress): number =>
  phase.scenes.find(({ scene }) => scene === spec.countsFrom)?.onset ?? openedAt ?? 0;

/** Whether `last` follows this answer: all that can be right or wrong, and where there is none such, all. */
const isTold = (block: Block, index: number): boolean =>
  block.answers[index]?.right !== undefined || block.answers.every(({ right }) => right === undefined);

/** How long a scene is planned to stay, in milliseconds; null when only an answer ends it. */
export function plannedMs(scene: Scene, trial: PlannedTrial, context: Context): number | null {
  switch (scene.lasts.kind) {
    case "ms":
      return Math.max(0, resolveNumber(scene.lasts.ms, context) ?? 0);
    case "random-ms":
      return trial.drawn[scene.id] ?? scene.lasts.from;
    case "media-end":
      return null;
    case "until-answer":
      return scene.lasts.atMostMs === undefined ? null : Math.max(0, resolveNumber(scene.lasts.atMostMs, context) ?? 0);
  }
}

const lastOf = (phase: InTrial, block: Block): Tally["last"] => {
  const progress = phase.answers[phase.latest];
  return {
    answer: progress?.given?.value ?? null,
    right: progress?.right ?? null,
    rt: progress?.given?.rt ?? null,
    outcome: progress ? outcomeIn(block, phase, phase.latest) : "none",
  };
};
const withLast = (state: SessionState, phase: InTrial, block: Block): SessionState => ({
  ...state,
  phase,
  tally: { ...state.tally, last: lastOf(phase, block) },
});

/**
 * Accuracy counts every trial that has a right answer, also those without any; with several such answers a trial is
 * right when all of them are. Reaction times are those of the first of them, in right trials only.
 */
function tallied(tally: Tally, phase: InTrial, block: Block): Tally {
  const scored = block.answers.flatMap((spec, index) => (spec.right === undefined ? [] : [phase.answers[index]]));
  const right = scored.length > 0 && scored.every((each) => each?.right === true);
  const rt = right ? scored[0]?.given?.rt : undefined;
  const [addScored, addRight] = [scored.length > 0 ? 1 : 0, right ? 1 : 0];
  return {
    trialsDone: tally.trialsDone + 1,
    session: { scored: tally.session.scored + addScored, right: tally.session.right + addRight },
    block: {
      done: tally.block.done + 1,
      scored: tally.block.scored + addScored,
      right: tally.block.right + addRight,
      rtSum: tally.block.rtSum + (rt ?? 0),
      rtCount: tally.block.rtCount + (rt === undefined ? 0 : 1),
    },
    last: lastOf(phase, block),
  };
}
