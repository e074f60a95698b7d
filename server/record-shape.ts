import { logKinds, type Display } from "../core/run/log";
import { interruptions, outcomes, type SessionRecord } from "../core/run/records";

/*
 * What participants send is checked here, in every field and with no field more. It is the one border that is not checked
 * by Yup: hundreds of records come in a second, and a profile showed Yup as one of the largest costs of taking them in.
 */
type Check = (value: unknown) => boolean;

const text =
  (most: number): Check =>
  (value) =>
    typeof value === "string" && value.length <= most;
const number =
  (least = -Infinity, most = Infinity): Check =>
  (value) =>
    typeof value === "number" && Number.isFinite(value) && value >= least && value <= most;
const whole =
  (least: number, most = 1e7): Check =>
  (value) =>
    Number.isInteger(value) && (value as number) >= least && (value as number) <= most;
const one = (...words: readonly unknown[]): Check => {
  const known = new Set(words);
  return (value) => known.has(value);
};
const orNull =
  (check: Check): Check =>
  (value) =>
    value === null || check(value);
const list =
  (check: Check, most: number): Check =>
  (value) =>
    Array.isArray(value) && value.length <= most && value.every(check);
const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);
/** An object with all of `needed`, any of `allowed`, and nothing else. */
function closed(needed: Record<string, Check>, allowed: Record<string, Check> = {}): Check {
  const checks = new Map(Object.entries({ ...needed, ...allowed }));
  const names = Object.keys(needed);
  return (value) =>
    isObject(value) &&
    names.every((name) => Object.hasOwn(value, name)) &&
    Object.entries(value).every(([name, each]) => checks.get(name)?.(each) === true);
}

const time = number(0, 1e10);
const id: Check = (value) => text(60)(value) && value !== "";
const long = text(20_000);
const input = closed(
  { device: one("keys", "pointer", "typed", "slider", "web"), value: long },
  {
    place: text(60),
    act: one("press", "release", "hold"),
    heldMs: number(0),
    on: text(60),
    by: one("mouse", "pen", "touch", "keyboard"),
    x: number(),
    y: number(),
  },
);
const taken = { value: long, at: time, scenesShown: whole(0), order: whole(0), input };
const given = closed({ ...taken, rt: number() });
const answer = closed({
  answer: id,
  given: orNull(given),
  right: one(true, false, null),
  outcome: one(...outcomes),
  early: list(closed(taken), 100),
  tooLate: orNull(given),
  revised: list(given, 10_000),
});
const observation = closed(
  { item: id, what: one("began", "ended", "value"), at: time },
  { value: long, offset: number(), lateFrames: whole(0) },
);
const ended = closed({ by: one("time", "answer", "media"), frames: whole(-1e6), planned: orNull(whole(0)) });
const scene = closed({ scene: id, onset: time, end: time, planned: orNull(number()) }, { ended });
const element = closed({ x: number(), y: number(), isTarget: one(true, false) });
const elements = list(element, 500);
const placed: Check = (value) =>
  isObject(value) && Object.entries(value).every(([name, each]) => name.length <= 60 && elements(each));
const played = {
  number: whole(1),
  part: id,
  trial: whole(1),
  pass: whole(1),
  row: id,
  scenes: list(scene, 200),
  answers: list(answer, 20),
  observed: list(observation, 1000),
  placed,
};
const kinds: Record<SessionRecord["kind"], Check> = {
  trial: closed({ kind: one("trial"), ...played, lateFrames: whole(0) }, { interrupted: one(...interruptions) }),
  "broken-off": closed({ kind: one("broken-off"), ...played, at: time, why: one(...interruptions) }),
  break: closed({ kind: one("break"), number: whole(1), part: id, after: whole(1), shown: time, done: time }),
  page: closed({ kind: one("page"), number: whole(1), part: id, shown: time, done: time }),
  end: closed({ kind: one("end"), number: whole(1), at: time }, { withdrawn: one(true) }),
};
const isKind = (kind: unknown): kind is SessionRecord["kind"] => typeof kind === "string" && Object.hasOwn(kinds, kind);

/** Whether a value has a kind that records have. */
export const hasKind = (value: unknown): boolean => isObject(value) && isKind(value.kind);
/** Whether a value is a record in the present form: every field of its kind, and none besides. */
export const isRecord = (value: unknown): value is SessionRecord =>
  isObject(value) && isKind(value.kind) && kinds[value.kind](value);

const display = closed(
  {
    refreshMs: number(0.1, 1e4),
    refreshSd: number(0, 1e4),
    width: number(0, 1e5),
    height: number(0, 1e5),
    pixelRatio: number(0, 100),
    isolated: one(true, false),
    soundLatencyMs: orNull(number(-1e6, 1e6)),
  },
  { variable: one(true, false) },
);
/** The display a player says it measured; null where that is no display. */
export function displayIn(said: string | null): Display | null {
  if (said === null) return null;
  try {
    const value: unknown = JSON.parse(said);
    return display(value) ? (value as Display) : null;
  } catch {
    return null;
  }
}

const entry = closed({ at: time, what: one(...logKinds) }, { trial: whole(1), value: text(2000) });
/** Whether a value is a piece of the log. */
export const isLogChunk: Check = closed({
  opening: (value) => typeof value === "string" && /^[\w-]{1,24}$/.test(value),
  number: whole(1),
  entries: list(entry, 3000),
});
