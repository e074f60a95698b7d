import type { Block } from "../design/block";
import type { Bracket } from "../design/running-order";
import { bracketsIn } from "../order/parts";
import type { TrialRecord } from "../records/record";
import { neededRight, type Criterion } from "../rules/criterion";
import { medianOf } from "../values/median";
import type { Id } from "../values/ref";
import type { TrialResult } from "../values/tally";
import { levelsOf, oneLevel, type Levels } from "./levels";
import type { Course, Jump, Round, SessionState } from "./state";

/**
 * Whether a criterion is reached by these trials, in the order in which they were played. A trial without a right answer
 * counts neither way. `levels` are those of the column whose levels are looked at one by one.
 */
function isReached(criterion: Criterion, results: readonly TrialResult[], { of, all }: Levels): boolean {
  const scored = results.filter(({ right }) => right !== null);
  return all.every((level) =>
    isGood(
      criterion,
      scored.filter(({ row }) => of(row) === level),
    ),
  );
}

function isGood({ over, trials, rightShare, medianMs }: Criterion, results: readonly TrialResult[]): boolean {
  if (results.length < trials) return false;
  const counted = over === "last" ? results.slice(-trials) : results;
  const right = counted.filter((each) => each.right === true);
  if (rightShare !== undefined && right.length < neededRight(rightShare, counted.length)) return false;
  const times = right.flatMap(({ rt }) => rt ?? []);
  return medianMs === undefined || (times.length > 0 && medianOf(times) <= medianMs);
}

type Judged = { jumps: Jump[]; came: TrialRecord["criterion"] };
const nothing: Judged = { jumps: [], came: undefined };

/** What a block's criterion says after a trial: it ends, begins again, or goes on as planned. */
export function judgedBlock(course: Course, state: SessionState, block: Block, isLast: boolean): Judged {
  const { criterion } = block;
  if (!criterion || (criterion.looked === "pass-end" && !isLast)) return nothing;
  // A rule has already sent the session elsewhere.
  if (state.jumps.some(({ to }) => to !== "page")) return nothing;
  const { results } = state.tally.block;
  if (isReached(criterion, results, levelsOf(course, block, criterion.each)))
    return { jumps: isLast ? [] : [{ to: "end-block" }], came: "reached" };
  if (!isLast) return nothing;
  if (state.run.own < criterion.attempts)
    return { jumps: [...pageBefore(criterion), { to: "block-again" }], came: "again" };
  return { jumps: endOf(criterion, block.id, block.id), came: "not-reached" };
}

const pageBefore = ({ before }: Criterion): Jump[] => (before === undefined ? [] : [{ to: "page", page: before }]);
const endOf = ({ otherwise }: Criterion, part: Id, ending: Id): Jump[] =>
  otherwise === "end" ? [{ to: "end", ended: { as: "screened-out", part, ending } }] : [];

const repeated = ({ document }: Course): Bracket[] =>
  bracketsIn(document.runningOrder).filter(({ until }) => until !== undefined);

/** The rounds with one more trial, for each bracket around it that is repeated until good enough. */
export function withResult(course: Course, state: SessionState, part: number): SessionState["rounds"] {
  const result = state.tally.block.results.at(-1);
  const around = course.plan.parts[part]?.brackets ?? [];
  const open = Object.entries(state.rounds).filter(([id]) => around.includes(id));
  if (!result || open.length === 0) return state.rounds;
  return {
    ...state.rounds,
    ...Object.fromEntries(
      open.map(([id, round]): [Id, Round] => [id, { ...round, results: [...round.results, result] }]),
    ),
  };
}

/** The rounds as the session comes to a part: brackets it comes into begin with their first. */
export function roundsAt(course: Course, state: SessionState, part: number): SessionState["rounds"] {
  const around = course.plan.parts[part]?.brackets ?? [];
  const fresh = repeated(course).filter(({ id }) => around.includes(id) && !Object.hasOwn(state.rounds, id));
  if (fresh.length === 0) return state.rounds;
  return { ...state.rounds, ...Object.fromEntries(fresh.map(({ id }) => [id, { round: 1, from: part, results: [] }])) };
}

/** Where the session goes as it leaves a part for the one that follows: back to where a bracket began that was not good enough yet, or on (`part` null). */
export function backTo(
  course: Course,
  state: SessionState,
  part: number,
  following: number,
): { state: SessionState; jumps: Jump[]; part: number | null } {
  const [here, next] = [part, following].map((index) => course.plan.parts[index]?.brackets ?? []) as [Id[], Id[]];
  for (const id of [...here].reverse()) {
    const round = state.rounds[id];
    const criterion = repeated(course).find((bracket) => bracket.id === id)?.until;
    if (!round || !criterion || next.includes(id)) continue;
    const rounds = Object.fromEntries(Object.entries(state.rounds).filter(([other]) => other !== id));
    const isGood = isReached(criterion, round.results, oneLevel);
    if (isGood) {
      state = { ...state, rounds };
      continue;
    }
    if (round.round >= criterion.attempts) {
      state = { ...state, rounds };
      const end = endOf(criterion, course.plan.parts[part]?.part ?? id, id);
      if (end.length > 0) return { state, jumps: end, part: null };
      continue;
    }
    const again: Round = { round: round.round + 1, from: round.from, results: [] };
    return {
      state: {
        ...state,
        rounds: { ...rounds, [id]: again },
        shift: state.shift + trialsFrom(course, round.from, part),
      },
      jumps: pageBefore(criterion),
      part: round.from,
    };
  }
  return { state, jumps: [], part: null };
}

/** How many trials are planned from one part to another, both included: their numbers are given out once more. */
function trialsFrom(course: Course, from: number, to: number): number {
  return course.plan.parts
    .slice(from, to + 1)
    .reduce((sum, part) => sum + (part.kind === "block" ? part.trials.length : 0), 0);
}
