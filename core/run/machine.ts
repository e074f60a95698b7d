import { hasPlace } from "../order/place";
import type { Plan } from "../compile/compile";
import type { StudyDocument } from "../design/document";
import type { Context } from "../values/context";
import type { Id } from "../values/ref";
import { holds } from "../values/resolve";
import { emptyBlockTally, emptyTally } from "../values/tally";
import { enterBreak, inBreak } from "./phases/break";
import { enterPage, inPage } from "./phases/page";
import { brokenOff, enterTrial, foreseenIn, inTrial } from "./phases/trial";
import {
  contextIn,
  recorded,
  stay,
  type Course,
  type Destination,
  type Leaving,
  type SessionEvent,
  type SessionState,
  type Step,
} from "./state";

export type SessionMachine = {
  /** What is played. */
  course: Course;
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
  const course = { document, plan };
  return {
    course,
    begin: () => enter(course, { ...nothingYet, tally: emptyTally }, { to: "part", part: 0 }),
    next: (state, event) => next(course, state, event),
    context: (state) => contextIn(course, state),
    foresee: ({ phase }) => (phase.kind === "trial" ? foreseenIn(course, phase) : null),
  };
}

const nothingYet = { phase: { kind: "done" as const }, nextRecord: 1, answers: {}, given: {} };

function next(course: Course, state: SessionState, event: SessionEvent): Step {
  const { phase } = state;
  if (phase.kind === "done") return stay(state);
  if (event.kind === "withdraw") return withdraw(course, state, event.at);
  if (phase.kind === "place")
    return event.kind === "placed" ? enter(course, state, { to: "part", part: phase.part }) : stay(state);
  const made =
    phase.kind === "page"
      ? inPage(course, state, phase, event)
      : phase.kind === "break"
        ? inBreak(course, state, phase, event)
        : inTrial(course, state, phase, event);
  return "destination" in made ? leave(course, made) : made;
}

/**
 * A phase is over: it is recorded, and the session moves on. Everything that is to happen when a page, a break or a
 * trial ends passes through here.
 */
function leave(course: Course, { state, entry, at, destination }: Leaving): Step {
  const after = recorded(stay(state), entry);
  const step = enter(course, after.state, destination);
  const ended = destination.to === "end" ? { ended: destination.ended } : {};
  const whole = step.state.phase.kind === "done" ? recorded(step, { kind: "end", at, ...ended }) : step;
  return { state: whole.state, commands: [...after.commands, ...whole.commands] };
}

/** Goes to a part, trial or break. Parts whose condition does not hold, and blocks without trials, are passed over; after the last part the session is done. */
function enter(course: Course, state: SessionState, destination: Destination): Step {
  if (destination.to === "end") return { state: { ...state, phase: { kind: "done" } }, commands: [{ kind: "finish" }] };
  if (destination.to === "nowhere") return stay({ ...state, phase: destination.phase });
  const { part } = destination;
  if (destination.to === "trial") return enterTrial(course, state, part, destination.trial);
  if (destination.to === "break") return enterBreak(course, state, part, destination.trial);
  const planned = course.plan.parts[part];
  if (!planned && !hasPlace(course.plan))
    return { state: { ...state, phase: { kind: "place", part } }, commands: [{ kind: "ask-place" }] };
  if (!planned) return { state: { ...state, phase: { kind: "done" } }, commands: [{ kind: "finish" }] };
  const following: Destination = { to: "part", part: part + 1 };
  if (planned.when && !holds(planned.when, contextIn(course, state))) return enter(course, state, following);
  if (planned.kind === "page") return enterPage(course, state, part, planned.part);
  const fresh = { ...state, tally: { ...state.tally, block: emptyBlockTally } };
  return planned.trials.length === 0 ? enter(course, fresh, following) : enterTrial(course, fresh, part, 0);
}

/** The participant leaves for good: a trial in progress is recorded as broken off, a page with what was answered on it, then the end. */
function withdraw(course: Course, state: SessionState, at: number): Step {
  const { phase } = state;
  const broken =
    phase.kind === "trial" && phase.scene >= 0 ? brokenOff(course, state, phase, { at, why: "withdrawn" }) : null;
  const left = phase.kind === "page" ? inPage(course, state, phase, { kind: "page-left", at }) : null;
  const before = broken
    ? recorded(stay(broken.state), broken.entry)
    : left && "entry" in left && "answers" in left.entry
      ? recorded(stay(left.state), left.entry)
      : stay(state);
  const end = recorded(
    { state: { ...before.state, phase: { kind: "done" } }, commands: [{ kind: "finish" }] },
    { kind: "end", at, withdrawn: true },
  );
  return { state: end.state, commands: [...before.commands, ...end.commands] };
}
