import { inList, inNumbers, startCase } from "../describe/in-words";
import { perCent } from "../describe/per-cent";
import type { RuleCount } from "./leave-out";
import { kindOf, type Rule } from "./registry";

/** What exclusions are said of. */
export type ExclusionCounts = {
  /** Sessions there are, and those that are kept. */
  sessions: { in: number; kept: number };
  /** Trials of the kept sessions, those of them that are kept, and those that have a time, before and after times were left out. */
  trials: { in: number; kept: number; timedIn: number; timed: number };
  counts: readonly RuleCount[];
};

/** What the server wrote down when rules were recorded beforehand. */
export type Registered = {
  /** ISO 8601. */
  at: string;
  by: string;
  /** Of the rules as they are stored, SHA-256 in hexadecimal digits. */
  hash: string;
  /** Sessions that were in, and whether anybody had looked at results or taken data away. */
  sessions: number;
  looked: boolean;
};

/** Rules that say how data are counted, and nothing of what was found in them: they are passed over where they mean nothing. */
const ofDesign: readonly Rule["kind"][] = ["marked", "practice", "again", "wrong"];

/** “two were not finished”; null for a rule that has nothing to say. */
function told(rule: Rule, count: number, one: string): string | null {
  const { inMethod, noneInMethod } = kindOf(rule);
  if (count > 0) return `${inNumbers(count)} ${inMethod(rule, count)}`;
  if (ofDesign.includes(rule.kind)) return null;
  return noneInMethod ?? `no ${one} ${inMethod(rule, 1)}`;
}

/**
 * What was left out and why, as a method section tells it: right for the rules and counts that are given. Shares of trials are
 * shares of all trials in the sessions that were kept; shares of times, of the trials with a time that were kept.
 */
export function exclusionsInWords(
  rules: readonly Rule[],
  { sessions, trials, counts }: ExclusionCounts,
  registered: Registered | null = null,
): string {
  const outOf = new Map(counts.map(({ id, out }) => [id, out]));
  const on = rules.filter(({ isOn }) => isOn);
  const count = (rule: Rule) => outOf.get(rule.id) ?? 0;
  const kept = (many: number) => (many === 1 ? "was" : "were");
  const bySession = on
    .filter((rule) => kindOf(rule).on === "sessions")
    .flatMap((rule) => told(rule, count(rule), "session") ?? []);
  const sentences = [
    bySession.length === 0
      ? `${startCase(inNumbers(sessions.kept))} ${sessions.kept === 1 ? "session was" : "sessions were"} analysed.`
      : `Of ${inNumbers(sessions.in)} ${sessions.in === 1 ? "session" : "sessions"}, ${inList(bySession)}; ${
          sessions.in === sessions.kept ? "all" : inNumbers(sessions.kept)
        } ${kept(sessions.in === sessions.kept ? sessions.in : sessions.kept)} analysed.`,
  ];
  const share = (part: number, whole: number) => (whole === 0 || part === 0 ? "" : ` (${perCent(part / whole)})`);
  const trialRules = (timesOnly: boolean, whole: number) =>
    on.flatMap((rule) => {
      const kind = kindOf(rule);
      if (kind.on !== "trials" || kind.timesOnly(rule) !== timesOnly) return [];
      const words = told(rule, count(rule), "trial");
      return words === null ? [] : [words + share(count(rule), whole)];
    });
  const out = trialRules(false, trials.in);
  if (out.length > 0)
    sentences.push(
      `Of their ${inNumbers(trials.in)} ${trials.in === 1 ? "trial" : "trials"}, ${inList(out)}; ${
        trials.kept === trials.in ? "all" : inNumbers(trials.kept)
      } ${kept(trials.kept)} kept.`,
    );
  const times = trialRules(true, trials.timedIn);
  const untimed = trials.kept - trials.timedIn;
  if (times.length > 0)
    sentences.push(
      `For times, ${
        untimed === 0
          ? `of ${inNumbers(trials.timedIn)} ${trials.timedIn === 1 ? "trial" : "trials"}`
          : `${inNumbers(untimed)} ${untimed === 1 ? "trial" : "trials"} had none; of the other ${inNumbers(trials.timedIn)}`
      }, ${inList(times)}; ${trials.timed === trials.timedIn ? "all" : inNumbers(trials.timed)} ${kept(trials.timed)} kept.`,
    );
  if (on.filter(({ kind }) => !ofDesign.includes(kind)).length > 1)
    sentences.push("Criteria were applied in this order, each to what the ones before it had left.");
  if (registered) sentences.push(registeredInWords(registered));
  return sentences.join(" ");
}

/** When rules were recorded, and what was known then. */
export function registeredInWords({ at, sessions, looked }: Registered): string {
  const when = new Date(at).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "long",
    year: "numeric",
    timeZone: "UTC",
  });
  return sessions === 0
    ? `These criteria were recorded on ${when}, before the first session.`
    : `These criteria were recorded on ${when}, when ${inNumbers(sessions)} ${sessions === 1 ? "session was" : "sessions were"} in and ${looked ? "results had been looked at" : "nobody had looked at results"}.`;
}
