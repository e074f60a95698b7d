import { hasPlace } from "../order/place";
import type { Plan } from "../compile/plan";
import type { StudyDocument } from "../design/document";
import type { Context } from "../values/context";
import type { Id } from "../values/ref";
import { holds } from "../values/resolve";
import { emptyBlockTally, emptyTally } from "../values/tally";
import { mostActs, pointsKey } from "../records/rule-bounds";
import { freshRun, lengthOf } from "./block-run";
import { enterAside, enterPage, inPage } from "./phases/page";
import { after, nextTimer, withoutPartTimers, withoutTrialTimers } from "./timers";
import { whereIn } from "./where";
import {
  contextIn,
  plannedBlock,
  recorded,
  stay,
  type Beginning,
  type BlockRun,
  type Command,
  type Course,
  type Destination,
  type Leaving,
  type Pieces,
  type SessionEvent,
  type SessionState,
  type Step,
  type Told,
} from "./state";

/** A session in which nothing has happened. */
export const nothingYet: SessionState = {
  phase: { kind: "done" },
  nextRecord: 1,
  answers: {},
  given: {},
  tally: emptyTally,
  now: 0,
  made: { variables: {}, points: 0, draws: {} },
  run: freshRun,
  shift: 0,
  runs: {},
  rounds: {},
  timers: [],
  outside: { asked: 0, waiting: [] },
  fired: [],
  jumps: [],
};

export type SessionMachine = {
  /** What is played. */
  course: Course;
  begin: () => Step;
  next: (state: SessionState, event: SessionEvent) => Step;
  /** What bindings see in this state. */
  context: (state: SessionState) => Context;
  /** The scene that surely follows the one on show, whatever is answered meanwhile; null where that is open. */
  foresee: (state: SessionState) => Id | null;
  /** When something of a rule is due, in session time: then it wants an act of the kind “time”; null for nothing. */
  due: (state: SessionState) => number | null;
};

/**
 * The machine that plays one plan. `next` is pure: the same state and event give the same step; time comes only with
 * events. The player, the simulated participant, the resume after a reload and the tests all drive this one.
 * Events that do not fit the state (a key on a page) leave it as it is. `sessionMachine` is the one with all its pieces; the
 * player fetches those a study needs.
 */
export function machineOf(
  document: StudyDocument,
  plan: Plan,
  { rules, trials, following, pools }: Pieces,
  begins: Beginning = {},
  told?: Told,
): SessionMachine {
  const course = { document, plan, ...begins, told, rules, trials, following, pools };
  return {
    course,
    begin: () => begin(course),
    next: (state, event) => next(course, state, event),
    context: (state) => contextIn(course, state),
    foresee: ({ phase }) => (phase.kind === "trial" ? course.trials.foreseenIn(course, phase) : null),
    due: (state) => {
      const { phase } = state;
      const takes = phase.kind === "trial" || phase.kind === "page";
      return takes && phase.acts.length < mostActs ? (nextTimer(state)?.due ?? null) : null;
    },
  };
}

function begin(course: Course): Step {
  const { [pointsKey]: points, ...variables } = course.given ?? {};
  const made = { ...nothingYet.made, variables, points: typeof points === "number" ? points : 0 };
  const begun = course.rules.react(course, { ...nothingYet, made }, [{ on: "session-begins" }], {
    part: null,
    scene: null,
  });
  return after(begun, goTo(course, { ...begun.state, jumps: [] }, firstIn(course)));
}

/** Where a session begins: with its first part, or in a rehearsal where it was chosen to. */
function firstIn({ plan, rehearsal }: Course): Destination {
  const from = rehearsal?.from;
  const part = from ? plan.parts.findIndex((each) => each.part === from.part) : -1;
  return from && part >= 0 ? { to: "chosen", part, trial: from.trial - 1 } : { to: "part", part: 0 };
}

function next(course: Course, before: SessionState, event: SessionEvent): Step {
  const { phase } = before;
  if (phase.kind === "done") return stay(before);
  const state = "at" in event ? { ...before, now: event.at } : before;
  if (event.kind === "withdraw") return withdraw(course, state, event.at);
  if (phase.kind === "place")
    return event.kind === "placed" ? goTo(course, state, { to: "part", part: phase.part }) : stay(state);
  const made =
    phase.kind === "page"
      ? inPage(course, state, phase, event)
      : phase.kind === "break"
        ? course.trials.inBreak(course, state, phase, event)
        : course.trials.inTrial(course, state, phase, event);
  if ("destination" in made) return leave(course, made);
  return made.state === state && made.commands.length === 0 ? stay(before) : made;
}

/**
 * A phase is over: it is recorded, and the session moves on. Everything that is to happen when a page, a break or a
 * trial ends passes through here: rules and criteria may have sent it elsewhere.
 */
function leave(course: Course, { state, entry, at, destination, before = [] }: Leaving): Step {
  const recordedNow = recorded(stay(state), entry);
  const whole = goOn(course, recordedNow.state, at, destination);
  return { state: whole.state, commands: [...recordedNow.commands, ...before, ...whole.commands] };
}

/** Leaves where the session is for a destination, or for where rules and criteria send it instead. */
function goOn(course: Course, state: SessionState, at: number, destination: Destination): Step {
  let step = stay(state);
  let to = destination;
  // Trials that a rule leaves out as they begin are passed over.
  for (;;) {
    const { phase } = step.state;
    const meant = directed(course, step.state, to);
    const gone = meant.leavesBlock ? leaveBlock(course, meant.state, meant.leavesBlock.part) : stay(meant.state);
    const turned = turnedBack(course, gone.state, phase, meant.destination);
    step = after(step, after(gone, enter(course, turned.state, turned.destination)));
    const next = turned.destination.to === "nowhere" ? null : passedOver(course, step.state);
    if (!next) return ended(course, step, at, turned.destination);
    step = { state: withoutTrialTimers(step.state), commands: withoutTrial(step.commands) };
    to = next;
  }
}
const goTo = (course: Course, state: SessionState, destination: Destination): Step =>
  goOn(course, state, state.now, destination);

/** Where the session goes instead of a trial that a rule has ended as it, or its block, began; null where it is played. */
function passedOver(course: Course, { phase, run, jumps }: SessionState): Destination | null {
  if (phase.kind === "break" && jumps.length > 0) return { to: "trial", part: phase.part, trial: phase.trial };
  if (phase.kind !== "trial" || phase.scene >= 0 || phase.goTo !== Infinity) return null;
  const next = phase.trial + 1;
  return next < lengthOf(course, phase.part, run)
    ? { to: "trial", part: phase.part, trial: next }
    : { to: "part", part: phase.part + 1 };
}
const withoutTrial = (commands: readonly Command[]): Command[] =>
  commands.filter(({ kind }) => kind !== "prepare-trial");

/** Where a session goes: pages that rules show come first, then the last of the other ways that rules chose. */
function directed(
  course: Course,
  state: SessionState,
  destination: Destination,
): { state: SessionState; destination: Destination; leavesBlock: { part: number } | null } {
  const { jumps, phase } = state;
  const here = phase.kind === "done" || phase.kind === "place" ? 0 : phase.part;
  const inBlock = course.plan.parts[here]?.kind === "block" && (phase.kind === "trial" || phase.kind === "break");
  let to = destination;
  for (const jump of jumps) {
    if (jump.to === "end") to = { to: "end", ended: jump.ended };
    else if (jump.to === "end-block" && inBlock) to = { to: "part", part: here + 1 };
    else if (jump.to === "block-again" && inBlock) to = { to: "block-again", part: here };
    else if (jump.to === "part") {
      const index = course.plan.parts.findIndex(({ part }, at) => at > here && part === jump.part);
      if (index >= 0) to = { to: "part", part: index };
    }
  }
  const leavesBlock = inBlock && (to.to === "part" || to.to === "end") ? { part: here } : null;
  const isMany = phase.kind === "page" && chainOf(phase) >= mostInChain;
  const pages = jumps.flatMap((jump) =>
    jump.to === "page" && !isMany && isPage(course, jump.page) ? [jump.page] : [],
  );
  const after = pages.reduceRight<Destination>((then, page) => ({ to: "aside", part: here, page, then }), to);
  return { state: jumps.length === 0 ? state : { ...state, jumps: [] }, destination: after, leavesBlock };
}

/** A page that shows itself again comes to an end: no more than so many come one after the other. */
const mostInChain = 10;
const chainOf = ({ aside }: Extract<SessionState["phase"], { kind: "page" }>): number => aside?.chain ?? 0;

const isPage = ({ document }: Course, id: Id) => document.parts[id]?.kind === "page";

/** A block is over: its rules are told, and what it had more or fewer trials than planned is counted. */
function leaveBlock(course: Course, state: SessionState, part: number): Step {
  const planned = plannedBlock(course, { part });
  const found = course.following.keptThresholds(course, state, part);
  const told = course.rules.react(course, found, [{ on: "part-ends" }], { part: planned.part, scene: null });
  const { run, shift } = told.state;
  const over = withoutPartTimers(told.state, planned.part);
  // What sends the session elsewhere as a block ends comes too late for that.
  return { ...told, state: { ...over, jumps: [], shift: shift + run.total - planned.trials.length, run: freshRun } };
}

/** A bracket that was not good enough yet begins once more, where the session was about to leave it. */
function turnedBack(
  course: Course,
  state: SessionState,
  left: SessionState["phase"],
  destination: Destination,
): { state: SessionState; destination: Destination } {
  const last = lastOf(destination);
  if (left.kind === "done" || last.to !== "part" || last.part !== left.part + 1) return { state, destination };
  const { parts } = course.plan;
  const context = contextIn(course, state);
  const isPassed = (index: number) => {
    const when = parts[index]?.when;
    return when !== undefined && !holds(when, context);
  };
  let following = last.part;
  while (isPassed(following)) following++;
  const back = course.rules.backTo(course, state, left.part, following);
  if (back.part === null && back.jumps.length === 0) return { state: back.state, destination };
  const [end] = back.jumps.flatMap((jump) => (jump.to === "end" ? [jump.ended] : []));
  if (end) return { state: back.state, destination: replacedLast(destination, { to: "end", ended: end }) };
  const pages = back.jumps.flatMap((jump) => (jump.to === "page" && isPage(course, jump.page) ? [jump.page] : []));
  const to: Destination = { to: "part", part: back.part ?? last.part };
  const then = pages.reduceRight<Destination>((then, page) => ({ to: "aside", part: left.part, page, then }), to);
  return { state: back.state, destination: replacedLast(destination, then) };
}
const lastOf = (destination: Destination): Destination =>
  destination.to === "aside" ? lastOf(destination.then) : destination;
const replacedLast = (destination: Destination, last: Destination): Destination =>
  destination.to === "aside" ? { ...destination, then: replacedLast(destination.then, last) } : last;

/** Where the session is done, its rules are told, and the end is recorded. */
function ended(course: Course, step: Step, at: number, destination: Destination): Step {
  if (step.state.phase.kind !== "done") return step;
  const told = course.rules.react(course, step.state, [{ on: "session-ends" }], { part: null, scene: null });
  const ended = destination.to === "end" ? { ended: destination.ended } : {};
  const end = recorded(stay(told.state), { kind: "end", at, ...ended });
  return { state: end.state, commands: [...end.commands, ...step.commands] };
}

/** Goes to a part, trial or break. Parts whose condition does not hold, and blocks without trials, are passed over; after the last part the session is done. */
function enter(course: Course, state: SessionState, destination: Destination): Step {
  if (destination.to === "end") return { state: { ...state, phase: { kind: "done" } }, commands: [{ kind: "finish" }] };
  if (destination.to === "nowhere") return stay({ ...state, phase: destination.phase });
  const { part } = destination;
  if (destination.to === "aside") return enterAside(state, part, destination.page, destination.then);
  if (destination.to === "trial") return course.trials.enterTrial(course, state, part, destination.trial);
  if (destination.to === "break") return course.trials.enterBreak(course, state, part, destination.trial);
  if (destination.to === "block-again")
    return enterBlock(course, state, part, { ...state.run, own: state.run.own + 1 });
  const planned = course.plan.parts[part];
  if (!planned && !hasPlace(course.plan))
    return { state: { ...state, phase: { kind: "place", part } }, commands: [{ kind: "ask-place" }] };
  if (!planned) return { state: { ...state, phase: { kind: "done" } }, commands: [{ kind: "finish" }] };
  const following: Destination = { to: "part", part: part + 1 };
  const isChosen = destination.to === "chosen";
  if (!isChosen && planned.when && !holds(planned.when, contextIn(course, state)))
    return enter(course, state, following);
  const here: SessionState = { ...state, rounds: course.rules.roundsAt(course, state, part) };
  if (planned.kind === "page") return enterPage(course, here, part, planned.part);
  const began = { ...emptyBlockTally, began: state.now };
  const fresh = { ...here, tally: { ...state.tally, block: began } };
  if (planned.trials.length === 0) return enter(course, fresh, following);
  const from = isChosen ? Math.min(destination.trial, planned.trials.length - 1) : 0;
  return enterBlock(course, fresh, part, { ...freshRun, total: from }, from);
}

/** A block begins, for the first time or once more; with its first trial, if no other is said. */
function enterBlock(course: Course, state: SessionState, part: number, run: BlockRun, from = 0): Step {
  const attempt = (state.runs[part] ?? 0) + 1;
  const { block } = state.tally;
  const begun: SessionState = {
    ...state,
    runs: { ...state.runs, [part]: attempt },
    run: { ...run, attempt, line: null },
    tally: { ...state.tally, block: { ...emptyBlockTally, attempt, began: block.began } },
  };
  const planned = plannedBlock(course, { part });
  const told =
    run.own === 1
      ? course.rules.react(course, begun, [{ on: "part-begins" }], { part: planned.part, scene: null })
      : stay(begun);
  // Sent elsewhere before its first trial: to be directed from here.
  if (told.state.jumps.length > 0)
    return stay({ ...told.state, phase: { kind: "break", part, trial: from, shown: null } });
  return course.trials.enterTrial(course, told.state, part, from, told.commands);
}

/** The participant leaves for good: a trial in progress is recorded as broken off, a page with what was answered on it, then the end. */
function withdraw(course: Course, state: SessionState, at: number): Step {
  const { phase } = state;
  const broken =
    phase.kind === "trial" && phase.scene >= 0
      ? course.trials.brokenOff(course, state, phase, { at, why: "withdrawn" })
      : null;
  const left = phase.kind === "page" ? inPage(course, state, phase, { kind: "page-left", at }) : null;
  const before = broken
    ? recorded(stay(broken.state), broken.entry)
    : left && "entry" in left && "answers" in left.entry
      ? recorded(stay(left.state), left.entry)
      : stay(state);
  const { part } = whereIn(course, phase);
  const asked = course.rules.react(course, before.state, [{ on: "leave" }], { part, scene: null });
  const told = course.rules.react(course, asked.state, [{ on: "session-ends" }], { part: null, scene: null });
  const end = recorded(
    { state: { ...told.state, timers: [], jumps: [], phase: { kind: "done" } }, commands: [{ kind: "finish" }] },
    { kind: "end", at, withdrawn: true },
  );
  return { state: end.state, commands: [...before.commands, ...end.commands] };
}
