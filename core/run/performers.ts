import type { Action, ActionKind, ActionOf, Target } from "../rules/action";
import type { Rule } from "../rules/rule";
import { calculationKind, isCalculation, type Operand } from "../values/calculation";
import type { Id, Scalar, Value } from "../values/ref";
import { variableIn } from "../values/resolve";
import { mostInList } from "../values/most-in-list";
import { repeatTrial } from "./repeats";
import { whereIn } from "./where";
import type { Asked, Command, Course, Jump, SessionState } from "./state";

/*
 * What each kind of action does.
 */

/** What an action does: the state after it, what is asked of the driver, the value it worked out, the variable it changed. */
export type Done = { state: SessionState; commands?: Command[]; gave?: Value | null; changed?: Id };
export type Doing = {
  course: Course;
  state: SessionState;
  rule: Rule;
  value: (operand: Operand) => Value | null;
  /** One of so many at random, by its index. */
  pick: (count: number) => number;
};

const drawsIn = (operand: Operand): boolean =>
  isCalculation(operand) && (calculationKind(operand.calculate).draws === true || operand.of.some(drawsIn));
/** Whether an action draws something at random. */
export const draws = (action: Action): boolean =>
  action.do === "draw" ||
  (action.do === "script" && action.gets.some(({ value }) => drawsIn(value))) ||
  (action.do === "ask" && action.sends.some(({ value }) => drawsIn(value))) ||
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

/** So much can be asked of scripts and services at the same time. */
const mostAsked = 20;

/** Waits for what a script or service gives. */
function askedOutside(by: Asked["by"], named: ActionOf<"script">["gets"], { state, rule, value }: Doing): Done | null {
  const { asked, waiting } = state.outside;
  if (waiting.length >= mostAsked) return null;
  const gets = Object.fromEntries(named.map((each) => [each.name, value(each.value)]));
  const one: Asked = { number: asked + 1, rule: rule.id, by, gets };
  return { state: { ...state, outside: { asked: asked + 1, waiting: [...waiting, one] } } };
}

export const performers: { [K in ActionKind]: (action: ActionOf<K>, doing: Doing) => Done | null } = {
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
  script: (script, doing) => askedOutside(script, script.gets, doing),
  ask: (ask, doing) => askedOutside(ask, ask.sends, doing),
  marker: ({ marker }, { state }) => ({ state, commands: [{ kind: "marker", marker }] }),
};
