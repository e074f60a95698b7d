import { placedRules } from "../design/all-rules";
import type { StudyDocument } from "../design/document";
import { blocksInOrder } from "../design/lookup";
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
  /** How long sessions were, in minutes. */
  minutes: { low: number; median: number; high: number };
};

/** A quantile of some numbers, the nearest of them; not a number of none. */
const nearest = (sorted: readonly number[], share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;

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
  const lengths = sessions
    .flatMap(({ records }) => {
      const last = records.at(-1);
      return last?.kind === "end" ? [last.at / 60_000] : [];
    })
    .sort((a, b) => a - b);
  return {
    sessions: sessions.length,
    rules,
    attempts,
    minutes: { low: nearest(lengths, 0.05), median: nearest(lengths, 0.5), high: nearest(lengths, 0.95) },
  };
}

/** Whether a study has anything that reacts. */
export const reacts = (document: StudyDocument): boolean =>
  placedRules(document).length > 0 ||
  blocksInOrder(document).some(({ criterion }) => criterion !== undefined) ||
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
export function ruleCountsInWords({ sessions, rules, attempts, minutes }: RuleCounts): string[] {
  return [
    `A session took ${one(minutes.median)} minutes in the middle, 5 % less than ${one(minutes.low)}, 5 % more than ${one(minutes.high)}.`,
    ...attempts.map(({ block, sessions: each, notReached }) => {
      const told = each.map((count, index) => `${times(index + 1)} by ${count}`).join(", ");
      return `“${block}” was played ${told} of ${sessions}${notReached > 0 ? `; ${notReached} did not reach it` : ""}.`;
    }),
    ...rules.map(({ rule, median, most, sessions: in_ }) =>
      most === 0
        ? `${capital(rule)} never did anything.`
        : `${capital(rule)} did something in ${in_} of ${sessions} sessions, ${median} times in the middle one, ${most} at most.`,
    ),
  ];
}
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
