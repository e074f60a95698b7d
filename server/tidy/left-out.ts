import { LRUCache } from "lru-cache";
import { leftOutNames } from "../../core/exclusions/columns";
import { columnsNeeded, leaveOut, type LeftOut } from "../../core/exclusions/leave-out";
import { Measured } from "../../core/exclusions/measured";
import type { ExclusionCounts } from "../../core/exclusions/method";
import { ruleInWords, type Rule } from "../../core/exclusions/registry";
import { tidyColumns, type TidyTableName } from "../../core/export/tidy-tables";
import { counts as countsAtAll, type SessionState } from "../../core/export/tables/standing";
import type { StudyDocument } from "../../core/design/document";
import { numbersOf, type Column } from "../../core/tidy/column";
import { hiddenOfTrials } from "../../core/tidy/hidden-columns";
import type { Unpacked } from "../../core/tidy/packed";
import type { Sitting } from "../export/reader";
import type { TidyData, WorkedOut } from "./tidy-data";

/** What rules leave out of some data. */
export type Verdict = {
  /** Sessions that rules keep. */
  keeps: (sitting: Sitting) => boolean;
  counts: ExclusionCounts;
  /** The columns `left_out` and `left_out_by` of trials and of sessions. */
  columns: WorkedOut;
};

/** Why sessions are no part of results whatever rules say. */
const outBecause: Partial<Record<SessionState, string>> = {
  withdrawn: "The participant left the study",
  "screened-out": "The participant was screened out",
  declined: "The participant declined",
};

/** Who did a session: those without a place of their own are nobody else. */
const personOf = ({ row: { participant, id } }: Sitting): string => (participant > 0 ? String(participant) : id);

/** Whether rules are asked about a session: somebody who left, or was turned away, is no part of the results. */
export const isJudged = ({ facts }: Sitting): boolean => countsAtAll({ ...facts, isExcluded: false });

/** Answers are kept while the data and the rules stay the same. */
const kept = new LRUCache<string, Verdict>({ max: 3 });

/**
 * What rules leave out of data. `judged` says which sessions they are asked about; the others are out. Rules that look at several
 * sessions look at those that are given here.
 */
export async function leftOutOf(
  data: TidyData,
  documents: readonly StudyDocument[],
  rules: readonly Rule[],
  judged: (sitting: Sitting) => boolean = isJudged,
): Promise<Verdict> {
  const some = data.only(judged);
  const key = JSON.stringify([data.madeOf, some.sittings.length, rules]);
  const known = kept.get(key);
  if (known) return known;
  const verdict = await judgedNow(data, some, documents, rules);
  kept.set(key, verdict);
  return verdict;
}

async function judgedNow(
  data: TidyData,
  some: TidyData,
  documents: readonly StudyDocument[],
  rules: readonly Rule[],
): Promise<Verdict> {
  const { sittings } = some;
  const starts = new Uint32Array(sittings.length + 1);
  for (const [at, sitting] of sittings.entries()) starts[at + 1] = (starts[at] ?? 0) + some.rowsOf("trials", sitting);
  const needed = columnsNeeded(rules);
  const read = async (table: "trials" | "sessions", names: readonly string[]) => {
    const there = new Set(tidyColumns(table, documents).map(({ name }) => name));
    const columns = new Map<string, Column>();
    for (const name of names) if (there.has(name)) columns.set(name, await some.column(table, name));
    return columns;
  };
  const rt = await some.column("trials", hiddenOfTrials.rt);
  const measured = new Measured(
    sittings.map((sitting) => ({
      isFinished: sitting.facts.state !== "active",
      isMarked: sitting.facts.isExcluded,
      person: personOf(sitting),
    })),
    starts,
    { trials: await read("trials", needed.trials), sessions: await read("sessions", needed.sessions) },
  );
  const left = leaveOut(rules, measured);
  const places = new Map(sittings.map(({ row }, at) => [row.id, at]));
  return {
    keeps: ({ row }) => left.sessions[places.get(row.id) ?? -1] === 0,
    counts: countsIn(left, starts, numbersOf(rt)),
    columns: columnsOf(data, left, { places, starts, rules }),
  };
}

function countsIn(left: LeftOut, starts: Uint32Array, rt: Float64Array): ExclusionCounts {
  const sessions = { in: left.sessions.length, kept: 0 };
  const trials = { in: 0, kept: 0, timedIn: 0, timed: 0 };
  for (let session = 0; session < left.sessions.length; session++) {
    if (left.sessions[session] !== 0) continue;
    sessions.kept++;
    const to = starts[session + 1] ?? 0;
    for (let row = starts[session] ?? 0; row < to; row++) {
      trials.in++;
      if (left.trials[row] !== 0) continue;
      trials.kept++;
      if (Number.isNaN(rt[row] as number)) continue;
      trials.timedIn++;
      if (left.times[row] === 0) trials.timed++;
    }
  }
  return { sessions, trials, counts: left.counts };
}

/** The columns that tell it, session by session. */
function columnsOf(
  data: TidyData,
  left: LeftOut,
  { places, starts, rules }: { places: ReadonlyMap<string, number>; starts: Uint32Array; rules: readonly Rule[] },
): WorkedOut {
  const words = rules.map(ruleInWords);
  const standings = ["no", "times", "yes"];
  const byTrial = { is: new Uint8Array(left.trials.length), by: new Uint16Array(left.trials.length) };
  /** What is said of a trial that two rules took, by both of them: the time by one, the trial by a later one. */
  const both = new Map<number, number>();
  for (let row = 0; row < left.trials.length; row++) {
    const [trial, time] = [left.trials[row] as number, left.times[row] as number];
    byTrial.is[row] = trial > 0 ? 3 : time > 0 ? 2 : 1;
    if (trial === 0 || time === 0) {
      byTrial.by[row] = trial + time;
      continue;
    }
    const pair = time * 256 + trial;
    let place = both.get(pair);
    if (place === undefined) {
      place = words.push(`${words[time - 1]}; ${words[trial - 1]}`);
      both.set(pair, place);
    }
    byTrial.by[row] = place;
  }
  const found = { trials: { is: cells(), by: cells() }, sessions: { is: cells(), by: cells() } };
  for (const { row, facts } of data.sittings) {
    const at = places.get(row.id);
    const place = at === undefined ? 0 : (left.sessions[at] ?? 0);
    const isOut = at === undefined || place > 0;
    const because = at === undefined ? (outBecause[facts.state] ?? null) : (words[place - 1] ?? null);
    found.sessions.is.set(row.id, { one: isOut ? "yes" : "no" });
    if (because !== null) found.sessions.by.set(row.id, { one: because });
    if (isOut) {
      found.trials.is.set(row.id, { one: "yes" });
      if (because !== null) found.trials.by.set(row.id, { one: because });
      continue;
    }
    const [from, to] = [starts[at] ?? 0, starts[at + 1] ?? 0];
    found.trials.is.set(row.id, { words: standings, codes: byTrial.is.subarray(from, to) });
    found.trials.by.set(row.id, { words, codes: byTrial.by.subarray(from, to) });
  }
  return new Map(
    (["trials", "sessions"] as const satisfies TidyTableName[]).flatMap((table) => [
      [`${table} ${leftOutNames.is}`, found[table].is] as const,
      [`${table} ${leftOutNames.by}`, found[table].by] as const,
    ]),
  );
}

const cells = () => new Map<string, Unpacked>();
