import { startCase } from "../describe/in-words";
import { placedRules } from "../design/all-rules";
import type { StudyDocument } from "../design/document";
import type { Block } from "../design/block";
import { blocksInOrder, followsAnswers } from "../design/lookup";
import { ruleInWords } from "../design/uses-of-rules";
import { bracketsIn } from "../order/parts";
import { medianOf } from "../values/median";
import { plannedAssignment } from "../allocate/allocate";
import { plainModel, simulateSession, type SimulatedSession } from "./participant";

/** How rules and criteria worked out over simulated participants. */
export type RuleCounts = {
  sessions: number;
  /** For each rule how often it did something in a session, and in how many sessions at all. */
  rules: { rule: string; median: number; most: number; sessions: number }[];
  /** For each block that is repeated, how many sessions played it once, twice, … */
  attempts: { block: string; sessions: number[]; notReached: number }[];
  /** For each value that follows the answers what it came to in the last trial of a session: the 5th, 50th and 95th of a hundred. */
  values: { name: string; low: number; median: number; high: number }[];
  /** For each block with trials that follow the answers, how many it had in a session. */
  trials: { block: string; median: number; most: number }[];
  /** How long sessions were, in minutes. */
  minutes: { low: number; median: number; high: number };
};

/** A quantile of some numbers, the nearest of them; not a number of none. */
const nearest = (sorted: readonly number[], share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;

function spreadOf(numbers: readonly number[]): { low: number; median: number; high: number } {
  const sorted = numbers.toSorted((a, b) => a - b);
  return { low: nearest(sorted, 0.05), median: nearest(sorted, 0.5), high: nearest(sorted, 0.95) };
}

/** Counts what rules and criteria did in simulated sessions; minutes are the 5th, 50th and 95th of a hundred. */
export function ruleCountsIn(document: StudyDocument, sessions: readonly SimulatedSession[]): RuleCounts {
  const firings = sessions.map(({ records }) => {
    const count = new Map<string, number>();
    for (const { fired = [] } of records) {
      // One firing of a rule does all its actions: it is counted by its first.
      for (const { rule, action } of fired) if (action === 0) count.set(rule, (count.get(rule) ?? 0) + 1);
    }
    return count;
  });
  const rules = placedRules(document)
    .filter(({ rule }) => !rule.off)
    .map((placed) => {
      const each = firings.map((count) => count.get(placed.rule.id) ?? 0);
      return {
        rule: ruleInWords(document, placed),
        median: each.length === 0 ? 0 : medianOf(each),
        most: each.reduce((most, count) => Math.max(most, count), 0),
        sessions: each.filter((count) => count > 0).length,
      };
    });
  const attempts = blocksInOrder(document).flatMap((block) => {
    const runs = sessions.map(({ records }) =>
      records.reduce(
        (most, record) =>
          record.kind === "trial" && record.part === block.id ? Math.max(most, record.attempt ?? 1) : most,
        0,
      ),
    );
    const most = runs.reduce((all, count) => Math.max(all, count), 0);
    if (block.criterion === undefined && most < 2) return [];
    const notReached = sessions.filter(({ records }) =>
      records.some(
        (record) => record.kind === "trial" && record.part === block.id && record.criterion === "not-reached",
      ),
    ).length;
    return [
      {
        block: block.name,
        sessions: Array.from({ length: most }, (_, index) => runs.filter((count) => count === index + 1).length),
        notReached,
      },
    ];
  });
  const trialsIn = (block: Block) =>
    sessions.map(({ records }) =>
      records.flatMap((record) => (record.kind === "trial" && record.part === block.id ? [record] : [])),
    );
  const values = blocksInOrder(document).flatMap((block) =>
    block.table.columns.flatMap(({ id, name, follows }) => {
      if (!follows) return [];
      const last = trialsIn(block).flatMap((trials) => trials.at(-1)?.settled?.[id] ?? []);
      return [{ name: `${name} of “${block.name}”`, ...spreadOf(last) }];
    }),
  );
  const trials = blocksInOrder(document)
    .filter(followsAnswers)
    .map((block) => {
      const counts = trialsIn(block).map(({ length }) => length);
      return { block: block.name, median: counts.length === 0 ? 0 : medianOf(counts), most: Math.max(0, ...counts) };
    });
  const lengths = sessions.flatMap(({ records }) => {
    const last = records.at(-1);
    return last?.kind === "end" ? [last.at / 60_000] : [];
  });
  return {
    sessions: sessions.length,
    rules,
    attempts,
    values,
    trials,
    minutes: spreadOf(lengths),
  };
}

/** Whether a study has anything that reacts. */
export const reacts = (document: StudyDocument): boolean =>
  placedRules(document).length > 0 ||
  blocksInOrder(document).some((block) => block.criterion !== undefined || followsAnswers(block)) ||
  bracketsIn(document.runningOrder).some(({ until }) => until !== undefined);

/** Simulates participants with the places they get as planned, and counts what rules and criteria did. */
export function simulatedRuleCounts(document: StudyDocument, participants: readonly number[]): RuleCounts {
  const sessions = participants.map((participant) =>
    simulateSession(
      document,
      participant,
      plannedAssignment(document, participant),
      document.settings.seed,
      plainModel,
    ),
  );
  return ruleCountsIn(document, sessions);
}

const one = (minutes: number) => minutes.toFixed(1);
const times = (count: number) => (count === 1 ? "once" : count === 2 ? "twice" : `${count} times`);

/** The same in sentences. */
export function ruleCountsInWords({ sessions, rules, attempts, values, trials, minutes }: RuleCounts): string[] {
  return [
    `A session took ${one(minutes.median)} minutes in the middle, 5 % less than ${one(minutes.low)}, 5 % more than ${one(minutes.high)}.`,
    ...attempts.map(({ block, sessions: each, notReached }) => {
      const told = each.map((count, index) => `${times(index + 1)} by ${count}`).join(", ");
      return `“${block}” was played ${told} of ${sessions}${notReached > 0 ? `; ${notReached} did not reach it` : ""}.`;
    }),
    ...trials.map(
      ({ block, median, most }) =>
        `“${block}” had ${Math.round(median)} trials in the middle session, ${most} at most.`,
    ),
    ...values.map(
      ({ name, low, median, high }) =>
        `${startCase(name)} ended at ${short(median)} in the middle session, 5 % below ${short(low)}, 5 % above ${short(high)}.`,
    ),
    ...rules.map(({ rule, median, most, sessions: in_ }) =>
      most === 0
        ? `${startCase(rule)} never did anything.`
        : `${startCase(rule)} did something in ${in_} of ${sessions} sessions, ${median} times in the middle one, ${most} at most.`,
    ),
  ];
}
const short = (value: number) => String(Number(value.toPrecision(3)));
