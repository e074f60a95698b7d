import { kindOf, type Rule } from "./registry";
import type { Measured, Standing } from "./measured";

/** What a rule takes out at its place, of what those before it left in, and how many it means in all. */
export type RuleCount = { id: string; out: number; means: number };

/** What rules leave out: for each session, and each trial, the place of the rule that did, from 1; 0 where it is in. */
export type LeftOut = {
  sessions: Uint8Array;
  /** The trial is out; trials of sessions that are out are not told here. */
  trials: Uint8Array;
  /** Its time is out; the trial may have gone by a later rule. */
  times: Uint8Array;
  /** Of every rule, those that are off too: what it would take out were it on, at its place. */
  counts: RuleCount[];
  /** The same for each session: of the rules in their order, what each takes out of it, then what each means of it. */
  bySession: Uint32Array[];
};

/** Sums up what rules take out of some sessions. */
export const countsOf = (rules: readonly Rule[], bySession: Iterable<Uint32Array>): RuleCount[] => {
  const sums = new Float64Array(2 * rules.length);
  for (const own of bySession)
    for (let at = 0; at < sums.length; at++) sums[at] = (sums[at] as number) + (own[at] as number);
  return rules.map(({ id }, at) => ({ id, out: sums[at] as number, means: sums[rules.length + at] as number }));
};

/** What of other sessions decides about one by these rules: none, those of the same person, or all of them. */
export function lookedAt(rules: readonly Rule[]): "session" | "person" | "all" {
  const all = rules.map((rule) => kindOf(rule).looksAt?.(rule) ?? "session");
  return all.includes("all") ? "all" : all.includes("person") ? "person" : "session";
}

/** The columns of the tables of trials and of sessions that some rules look at, each once. */
export function columnsNeeded(rules: readonly Rule[]): { trials: string[]; sessions: string[] } {
  const [trials, sessions] = [new Set<string>(), new Set<string>()];
  for (const rule of rules) {
    const kind = kindOf(rule);
    const needs = kind.on === "trials" ? { trials: kind.needs(rule) } : kind.needs(rule);
    for (const name of needs.trials ?? []) trials.add(name);
    for (const name of ("sessions" in needs ? needs.sessions : undefined) ?? []) sessions.add(name);
  }
  return { trials: [...trials], sessions: [...sessions] };
}

/**
 * Applies rules in their order, first those for sessions, then those for trials of the sessions that stay. Each looks only at what
 * those before it left in. A rule that is off leaves nothing out, and is counted as if it were on.
 */
export function leaveOut(rules: readonly Rule[], data: Measured): LeftOut {
  const count = data.sessions.length;
  const sessions = new Uint8Array(count);
  const kept = new Uint8Array(count).fill(1);
  const bySession = Array.from({ length: count }, () => new Uint32Array(2 * rules.length));
  for (const [at, rule] of rules.entries()) {
    const kind = kindOf(rule);
    if (kind.on !== "sessions") continue;
    const marks = kind.marks(rule, data, kept);
    for (let session = 0; session < count; session++) {
      if (marks[session] !== 1) continue;
      const own = bySession[session] as Uint32Array;
      own[rules.length + at] = 1;
      own[at] = kept[session] as number;
    }
    if (!rule.isOn) continue;
    for (let session = 0; session < count; session++)
      if (marks[session] === 1 && kept[session] === 1) {
        kept[session] = 0;
        sessions[session] = at + 1;
      }
  }
  const trials = new Uint8Array(data.trials);
  const times = new Uint8Array(data.trials);
  const standing: Standing = { kept: new Uint8Array(data.trials), timed: new Uint8Array(data.trials) };
  for (let session = 0; session < count; session++)
    if (kept[session] === 1)
      for (const each of [standing.kept, standing.timed])
        each.fill(1, data.starts[session] ?? 0, data.starts[session + 1] ?? 0);
  for (const [at, rule] of rules.entries()) {
    const kind = kindOf(rule);
    if (kind.on !== "trials") continue;
    const marks = kind.marks(rule, data, standing);
    const timesOnly = kind.timesOnly(rule);
    const [stands, by] = timesOnly ? [standing.timed, times] : [standing.kept, trials];
    for (let session = 0; session < count; session++) {
      // Of sessions that are out no trials are told.
      if (kept[session] !== 1) continue;
      let [out, means] = [0, 0];
      const to = data.starts[session + 1] as number;
      for (let row = data.starts[session] as number; row < to; row++) {
        if (marks[row] !== 1) continue;
        means++;
        if (stands[row] !== 1) continue;
        out++;
        if (!rule.isOn) continue;
        stands[row] = 0;
        by[row] = at + 1;
        // Without the trial there is no time.
        if (!timesOnly) standing.timed[row] = 0;
      }
      const own = bySession[session] as Uint32Array;
      own[at] = out;
      own[rules.length + at] = means;
    }
  }
  return { sessions, trials, times, counts: countsOf(rules, bySession), bySession };
}
