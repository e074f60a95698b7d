import { streamFor } from "../random/stream";
import type { Act, Firing } from "../records/firing";
import { mostFired, pointsKey } from "../records/rule-bounds";
import type { Action } from "../rules/action";
import type { Rule } from "../rules/rule";
import type { Happening } from "../rules/trigger";
import { isSetOff, movingActions, triggerKind } from "../rules/kinds";
import { anyDoes, rulesInTrials } from "../design/all-rules";
import type { Block } from "../design/block";
import type { Context } from "../values/context";
import type { Id, Scalar, Value } from "../values/ref";
import { holds, operandValue } from "../values/resolve";
import { draws, performers, type Doing, type Done } from "./performers";
import { rulesInReach, type Reach } from "./rules-in-reach";
import { isTimeUp, nextTimer, thousandth } from "./timers";
import { whereIn, type Where } from "./where";
import type { ByHand } from "./rehearsal";
import { contextIn, stay, type Command, type Course, type SessionState, type Step, type Timer } from "./state";

/*
 * What rules do. All of it happens within the step of the machine that was told the event, in this order: of everything that
 * happened, one after the other, each rule in reach, from the outermost to the innermost and from top to bottom, sees what
 * the ones before it did; a variable that has changed is told last.
 */

/** What is done in one go: the state so far, what is asked of the driver and what was done, as they come together. */
type Work = {
  course: Course;
  part: Id | null;
  /** What variables and points were before. */
  before: SessionState["made"];
  state: SessionState;
  commands: Command[];
  fired: Firing[];
  /** What conditions and calculations see, kept up with what rules change; null until it is asked for. */
  seen: Context | null;
};
const workOn = (course: Course, state: SessionState, { part }: Where): Work => ({
  course,
  part,
  before: state.made,
  state,
  commands: [],
  fired: [...state.fired],
  seen: null,
});
function whole({ state, before, commands, fired }: Work): Step {
  const { variables, points } = state.made;
  // What is on show may tell of them.
  const isStale = state.phase.kind === "trial" && (variables !== before.variables || points !== before.points);
  return {
    state: fired.length === state.fired.length ? state : { ...state, fired },
    commands: isStale ? [...commands, { kind: "refresh" }] : commands,
  };
}
const seenIn = (work: Work): Context => (work.seen ??= { ...contextIn(work.course, work.state) });

/** Takes over what an action made, also into what is seen. */
function takeOver(work: Work, state: SessionState): void {
  const { seen } = work;
  if (seen && state !== work.state) {
    seen.variables = state.made.variables;
    seen.session = { ...seen.session, points: state.made.points };
    if (state.phase.kind === "trial") seen.changes = state.phase.changes;
  }
  work.state = state;
}

/** A rule has no end of its own making: after so many happenings in one step the rest is not looked at. */
const mostHappenings = 200;

/** Looks at the rules for what has happened in a state. */
export function react(course: Course, state: SessionState, happened: readonly Happening[], where?: Where): Step {
  const here = where ?? whereIn(course, state.phase);
  const reach = rulesInReach(course.document, here);
  if (reach.size === 0) return stay(state);
  const work = workOn(course, state, here);
  lookAt(work, reach, [...happened]);
  return whole(work);
}

function lookAt(work: Work, reach: Reach, queue: Happening[]): void {
  for (let count = 0; count < queue.length && count < mostHappenings; count++) {
    const one = queue[count] as Happening;
    for (const rule of reach.get(one.on) ?? []) {
      if (!isSetOff(rule.when, one)) continue;
      const afterMs = ("afterMs" in rule.when ? rule.when.afterMs : undefined) ?? 0;
      if (afterMs > 0) putOff(work, rule, null, afterMs, 1);
      else carryOut(work, rule, queue);
    }
  }
}

/** Does what follows from something that rules wait for, or that was asked of outside. */
export function takeAct(course: Course, state: SessionState, happened: Act["happened"]): Step {
  if (happened.on === "time") return runTimers(course, state);
  if (happened.on === "by-hand") return takeByHand(course, state, happened);
  return happened.on === "outside" ? takeOutside(course, state, happened) : react(course, state, [happened]);
}

type Outside = Extract<Act["happened"], { on: "outside" }>;
const isAwaited = ({ outside }: SessionState, { number, service }: Outside): boolean =>
  outside.waiting.some(
    (each) => each.number === number && (each.by.do === "ask" ? each.by.service : undefined) === service,
  );

/** What a script or service gave goes into the variables it is for, where they hold such values. */
function takeOutside(course: Course, state: SessionState, { number, gave, problem }: Outside): Step {
  const work = workOn(course, state, whereIn(course, state.phase));
  const asked = state.outside.waiting.find((each) => each.number === number);
  const waiting = state.outside.waiting.filter((each) => each !== asked);
  takeOver(work, { ...state, outside: { ...state.outside, waiting } });
  const queue: Happening[] = [];
  const given: Record<Id, Value | null> = {};
  const isEmptied = problem !== undefined && asked?.by.do === "ask" && asked.by.otherwise === "empty";
  for (const { name, variable } of asked?.by.gives ?? []) {
    const come = Object.hasOwn(gave, name) ? fitted(course, variable, gave[name] ?? null) : undefined;
    const value = isEmptied ? null : come;
    if (value === undefined) continue;
    given[variable] = value;
    queue.push({ on: "variable", variable });
  }
  takeOver(work, withGiven(work.state, given));
  if (queue.length > 0) lookAt(work, rulesInReach(course.document, whereIn(course, work.state.phase)), queue);
  return whole(work);
}

/** A rehearsal's variable that was set by hand holds this from now on, and rules hear of it. */
function takeByHand(course: Course, state: SessionState, { variable, value }: ByHand): Step {
  const work = workOn(course, state, whereIn(course, state.phase));
  if (variable === pointsKey) {
    const points = typeof value === "number" ? value : 0;
    takeOver(work, { ...state, made: { ...state.made, points } });
    return whole(work);
  }
  takeOver(work, withGiven(state, { [variable]: value }));
  lookAt(work, rulesInReach(course.document, whereIn(course, state.phase)), [{ on: "variable", variable }]);
  return whole(work);
}

/** Whether this can be set by hand: only in a rehearsal, and only to what the variable can hold. */
function canBeSet({ document, rehearsal }: Course, { variable, value }: ByHand): boolean {
  if (!rehearsal) return false;
  const type = variable === pointsKey ? "number" : document.variables.find(({ id }) => id === variable)?.type;
  return type !== undefined && (value === null || typeof value === heldAs[type]);
}
const heldAs = { number: "number", text: "string", "yes-no": "boolean", list: "object" } as const;

/** The variables with what was given; it stays where a trial is broken off, since it is not asked for again. */
function withGiven(state: SessionState, given: Readonly<Record<Id, Value | null>>): SessionState {
  const added = (made: SessionState["made"]) => ({ ...made, variables: { ...made.variables, ...given } });
  const { phase } = state;
  const before = phase.kind === "trial" ? { ...phase.before, made: added(phase.before.made) } : null;
  return {
    ...state,
    made: added(state.made),
    phase: phase.kind === "trial" && before ? { ...phase, before } : phase,
  };
}

/** A value as a variable can hold it; undefined where it cannot. */
function fitted({ document }: Course, variable: Id, value: Scalar | null): Value | null | undefined {
  const type = document.variables.find(({ id }) => id === variable)?.type;
  if (type === undefined || value === null) return type === undefined ? undefined : null;
  if (type === "number") return typeof value === "number" && Number.isFinite(value) ? value : undefined;
  if (type === "yes-no") return typeof value === "boolean" ? value : undefined;
  return type === "list" ? [value] : String(value);
}

/** Does what has become due by now. */
function runTimers(course: Course, state: SessionState): Step {
  const work = workOn(course, state, whereIn(course, state.phase));
  for (let count = 0; count < mostHappenings; count++) {
    const due = nextTimer(work.state);
    if (!due || due.due > work.state.now) break;
    const timers = work.state.timers.filter((each) => each !== due);
    const { repeat } = due.action === null ? {} : (due.rule.do[due.action] ?? {});
    const isOver = repeat?.until !== undefined && holds(repeat.until, seenIn(work));
    const isAgain = repeat !== undefined && due.left > 1 && !isOver;
    const again = isAgain
      ? [{ ...due, due: thousandth(due.due + Math.max(10, repeat.everyMs)), left: due.left - 1 }]
      : [];
    work.state = { ...work.state, timers: [...timers, ...again] };
    const queue: Happening[] = [];
    if (due.action === null) carryOut(work, due.rule, queue);
    else if (!isOver) perform(work, due.rule, due.action, queue);
    if (queue.length > 0) lookAt(work, rulesInReach(course.document, whereIn(course, work.state.phase)), queue);
  }
  return whole(work);
}

/** Whether something follows from this: its time has come, it was asked for, or any rule in reach is set off by it. */
export function isHeard(course: Course, state: SessionState, happened: Act["happened"]): boolean {
  if (happened.on === "time") return isTimeUp(state);
  if (happened.on === "outside") return isAwaited(state, happened);
  if (happened.on === "by-hand") return canBeSet(course, happened);
  const reach = rulesInReach(course.document, whereIn(course, state.phase));
  return (reach.get(happened.on) ?? []).some((rule) => isSetOff(rule.when, happened));
}

const mostTimers = 200;

function putOff(work: Work, rule: Rule, action: number | null, ms: number, times: number): void {
  const { state } = work;
  if (state.timers.length >= mostTimers) return;
  const isComing = state.phase.kind === "trial" && state.phase.scene < 0;
  const timer: Timer = {
    due: isComing ? ms : thousandth(state.now + ms),
    fromOnset: isComing,
    rule,
    action,
    lasts: triggerKind(rule.when.on).lasts,
    part: work.part,
    left: times,
  };
  work.state = { ...state, timers: [...state.timers, timer] };
}

function carryOut(work: Work, rule: Rule, queue: Happening[]): void {
  const held = !rule.if || holds(rule.if, seenIn(work));
  work.course.told?.(rule, held, work.state.now, seenIn(work));
  if (!held) return;
  rule.do.forEach((action, index) => {
    const { afterMs = 0, repeat } = action;
    const times = repeat ? (repeat.times ?? mostFired) : 1;
    if (afterMs > 0) putOff(work, rule, index, afterMs, times);
    else {
      if (repeat && times > 1) putOff(work, rule, index, repeat.everyMs, times - 1);
      perform(work, rule, index, queue);
    }
  });
}

function perform(work: Work, rule: Rule, index: number, queue: Happening[]): void {
  const action = rule.do[index];
  const { course, state } = work;
  if (!action || work.fired.length >= mostFired) return;
  const isDrawing = draws(action);
  const key = `${rule.id} ${index}`;
  const drawn = isDrawing ? (state.made.draws[key] ?? 0) : 0;
  const { seed, entered } = course.plan;
  // Where the participant stands among all who began is known before the number is.
  const stream = isDrawing ? streamFor(seed, entered, "rule", rule.id, index, drawn) : null;
  const performer = performers[action.do] as (action: Action, doing: Doing) => Done | null;
  const done = performer(action, {
    course,
    state,
    rule,
    value: (operand) => operandValue(operand, seenIn(work), stream),
    pick: (count) => stream?.whole(0, count - 1) ?? 0,
  });
  if (!done) return;
  if (done.changed !== undefined) queue.push({ on: "variable", variable: done.changed });
  const { made } = done.state;
  takeOver(
    work,
    isDrawing ? { ...done.state, made: { ...made, draws: { ...made.draws, [key]: drawn + 1 } } } : done.state,
  );
  const fired: Firing = { rule: rule.id, action: index, at: state.now };
  if (done.gave !== undefined) fired.gave = done.gave;
  work.fired.push(fired);
  if (done.commands) work.commands.push(...done.commands);
}

/** Whether a rule may send a trial of this block elsewhere. */
export const mayMove = ({ document }: Course, block: Block): boolean =>
  anyDoes(rulesInTrials(document, block), ...movingActions);
