import { streamFor } from "../random/stream";
import type { Act, Firing } from "../records/firing";
import { mostFired } from "../records/rule-bounds";
import type { Action, ActionKind, ActionOf, Target } from "../rules/action";
import type { Rule } from "../rules/rule";
import type { Happening } from "../rules/trigger";
import { isSetOff, movingActions, triggerKind } from "../rules/kinds";
import { anyDoes, rulesInTrials } from "../design/all-rules";
import type { Block } from "../design/block";
import { calculationKind, isCalculation, type Operand } from "../values/calculation";
import type { Context } from "../values/context";
import type { Id, Scalar, Value } from "../values/ref";
import { holds, operandValue, variableIn } from "../values/resolve";
import { mostInList } from "../values/most-in-list";
import { repeatTrial } from "./repeats";
import { rulesInReach, type Reach } from "./rules-in-reach";
import { isTimeUp, nextTimer, thousandth } from "./timers";
import { whereIn, type Where } from "./where";
import {
  contextIn,
  stay,
  type Asked,
  type Command,
  type Course,
  type Jump,
  type SessionState,
  type Step,
  type Timer,
} from "./state";

/*
 * What rules do. All of it happens within the step of the machine that was told the event, in this order: of everything that
 * happened, one after the other, each rule in reach, from the outermost to the innermost and from top to bottom, sees what
 * the ones before it did; a variable that has changed is told last.
 */

/** What is done in one go: the state so far, what is asked of the driver and what was done, as they come together. */
type Work = {
  course: Course;
  part: Id | null;
  state: SessionState;
  commands: Command[];
  fired: Firing[];
  /** What conditions and calculations see, kept up with what rules change; null until it is asked for. */
  seen: Context | null;
};
const workOn = (course: Course, state: SessionState, { part }: Where): Work => ({
  course,
  part,
  state,
  commands: [],
  fired: [...state.fired],
  seen: null,
});
const whole = ({ state, commands, fired }: Work): Step => ({
  state: fired.length === state.fired.length ? state : { ...state, fired },
  commands,
});
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
  return happened.on === "outside" ? takeOutside(course, state, happened) : react(course, state, [happened]);
}

type Outside = Extract<Act["happened"], { on: "outside" }>;
const isAwaited = ({ outside }: SessionState, { number }: Outside): boolean =>
  outside.waiting.some((each) => each.number === number);

/** What a script gave goes into the variables it is for, where they hold such values. */
function takeOutside(course: Course, state: SessionState, { number, gave }: Outside): Step {
  const work = workOn(course, state, whereIn(course, state.phase));
  const asked = state.outside.waiting.find((each) => each.number === number);
  const waiting = state.outside.waiting.filter((each) => each !== asked);
  takeOver(work, { ...state, outside: { ...state.outside, waiting } });
  const queue: Happening[] = [];
  const given: Record<Id, Value | null> = {};
  for (const { name, variable } of asked?.script.gives ?? []) {
    const value = Object.hasOwn(gave, name) ? fitted(course, variable, gave[name] ?? null) : undefined;
    if (value === undefined) continue;
    given[variable] = value;
    queue.push({ on: "variable", variable });
  }
  takeOver(work, withGiven(work.state, given));
  if (queue.length > 0) lookAt(work, rulesInReach(course.document, whereIn(course, work.state.phase)), queue);
  return whole(work);
}

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
  const reach = rulesInReach(course.document, whereIn(course, state.phase));
  return (reach.get(happened.on) ?? []).some((rule) => isSetOff(rule.when, happened));
}

const mostTimers = 200;
/** So much can be asked of scripts at the same time. */
const mostAsked = 20;

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

/** What an action does: the state after it, what is asked of the driver, the value it worked out, the variable it changed. */
type Done = { state: SessionState; commands?: Command[]; gave?: Value | null; changed?: Id };
type Doing = {
  course: Course;
  state: SessionState;
  rule: Rule;
  value: (operand: Operand) => Value | null;
  /** One of so many at random, by its index. */
  pick: (count: number) => number;
};

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

const drawsIn = (operand: Operand): boolean =>
  isCalculation(operand) && (calculationKind(operand.calculate).draws === true || operand.of.some(drawsIn));
const draws = (action: Action): boolean =>
  action.do === "draw" ||
  (action.do === "script" && action.gets.some(({ value }) => drawsIn(value))) ||
  ("to" in action && action.to !== undefined && drawsIn(action.to as Operand));

function written(state: SessionState, what: Target, value: Value | null): Done {
  if ("points" in what) {
    const points = Number(Array.isArray(value) ? NaN : (value ?? 0));
    return { state: { ...state, made: { ...state.made, points: Number.isFinite(points) ? points : 0 } }, gave: value };
  }
  const variables = { ...state.made.variables, [what.variable]: value };
  return { state: { ...state, made: { ...state.made, variables } }, gave: value, changed: what.variable };
}
const numberOf = (value: Value | null): number | null => {
  const number = value === null || value === "" || Array.isArray(value) ? NaN : Number(value);
  return Number.isFinite(number) ? number : null;
};
const listIn = ({ course, state }: Doing, id: Id): Scalar[] => {
  const value = variableIn({ study: course.document, variables: state.made.variables }, id);
  return value === null ? [] : Array.isArray(value) ? value : [value];
};

const sent = (state: SessionState, goTo: number): Done | null =>
  state.phase.kind === "trial"
    ? { state: { ...state, phase: { ...state.phase, goTo } }, commands: [{ kind: "flip-now", by: "rule" }] }
    : null;
/** The trial ends, and what follows is no longer its block. */
function jumped(state: SessionState, jump: Jump): Done {
  const { phase } = state;
  const jumps = [...state.jumps, jump];
  if (phase.kind !== "trial" || jump.to === "page") return { state: { ...state, jumps } };
  return {
    state: { ...state, jumps, phase: { ...phase, goTo: Infinity } },
    commands: [{ kind: "flip-now", by: "rule" }],
  };
}

const performers: { [K in ActionKind]: (action: ActionOf<K>, doing: Doing) => Done | null } = {
  set: ({ what, to }, { state, value }) => written(state, what, value(to)),
  add: ({ what, to }, { course, state, value }) => {
    const present =
      "points" in what
        ? state.made.points
        : variableIn({ study: course.document, variables: state.made.variables }, what.variable);
    const more = numberOf(value(to));
    return more === null ? null : written(state, what, (numberOf(present) ?? 0) + more);
  },
  append: ({ variable, to }, doing) => {
    const value = doing.value(to);
    const more = value === null ? [] : Array.isArray(value) ? value : [value];
    return written(doing.state, { variable }, [...listIn(doing, variable), ...more].slice(-mostInList));
  },
  draw: ({ from, what }, doing) => {
    const left = listIn(doing, from);
    const at = left.length === 0 ? -1 : doing.pick(left.length);
    const { state } = written(
      doing.state,
      { variable: from },
      left.filter((_, index) => index !== at),
    );
    return written(state, { variable: what }, left[at] ?? null);
  },
  item: ({ item, property, to }, { state, value }) => {
    const { phase } = state;
    if (phase.kind !== "trial") return null;
    const given = value(to);
    const gave = Array.isArray(given) ? given.join("; ") : given;
    const changes = { ...phase.changes, [item]: { ...phase.changes[item], [property]: gave } };
    return { state: { ...state, phase: { ...phase, changes } }, commands: [{ kind: "refresh" }], gave };
  },
  sound: ({ file, volume }, { state }) => ({ state, commands: [{ kind: "sound", file, volume }] }),
  media: ({ item, act, volume }, { state, value }) => {
    const gave = volume === undefined ? null : numberOf(value(volume));
    return { state, commands: [{ kind: "media", item, act, volume: gave }], ...(gave === null ? {} : { gave }) };
  },
  "next-scene": (_, { state }) =>
    state.phase.kind === "trial" ? { state, commands: [{ kind: "flip-now", by: "rule" }] } : null,
  "go-to-scene": ({ scene }, { course, state }) => {
    const part = state.phase.kind === "trial" ? course.plan.parts[state.phase.part]?.part : undefined;
    const block = part === undefined ? undefined : course.document.parts[part];
    const index = block?.kind === "block" ? block.scenes.findIndex(({ id }) => id === scene) : -1;
    return index < 0 ? null : sent(state, index);
  },
  "end-trial": (_, { state }) => sent(state, Infinity),
  "repeat-trial": ({ afterTrials, most }, { course, state }) => {
    if (state.phase.kind !== "trial") return null;
    const run = repeatTrial(course, state, state.phase, afterTrials ?? Infinity, most);
    return run && { state: { ...state, run } };
  },
  "end-block": (_, { state }) => jumped(state, { to: "end-block" }),
  "begin-block-again": ({ most }, { state }) => (state.run.own >= most ? null : jumped(state, { to: "block-again" })),
  "go-to-part": ({ part }, { state }) => jumped(state, { to: "part", part }),
  "end-session": ({ as }, { course, state, rule }) =>
    jumped(state, {
      to: "end",
      ended: { as, part: whereIn(course, state.phase).part ?? rule.id, ending: rule.id },
    }),
  page: ({ page }, { state }) => jumped(state, { to: "page", page }),
  event: ({ value: operand }, { state, value }) => ({
    state,
    ...(operand === undefined ? {} : { gave: value(operand) }),
  }),
  script: (script, { state, rule, value }) => {
    const { asked, waiting } = state.outside;
    if (waiting.length >= mostAsked) return null;
    const gets = Object.fromEntries(script.gets.map((each) => [each.name, value(each.value)]));
    const one: Asked = { number: asked + 1, rule: rule.id, script, gets };
    return { state: { ...state, outside: { asked: asked + 1, waiting: [...waiting, one] } } };
  },
  marker: ({ marker }, { state }) => ({ state, commands: [{ kind: "marker", marker }] }),
};

/** Whether a rule may send a trial of this block elsewhere. */
export const mayMove = ({ document }: Course, block: Block): boolean =>
  anyDoes(rulesInTrials(document, block), ...movingActions);
