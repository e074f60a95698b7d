import { LRUCache } from "lru-cache";
import { leftOutNames } from "../../core/exclusions/columns";
import { columnsNeeded, countsOf, leaveOut, lookedAt } from "../../core/exclusions/leave-out";
import { Measured } from "../../core/exclusions/measured";
import type { ExclusionCounts } from "../../core/exclusions/method";
import { ruleInWords, type Rule } from "../../core/exclusions/registry";
import { tidyColumns } from "../../core/export/tidy-tables";
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
export const personOf = ({ row: { participant, id } }: Sitting): string => (participant > 0 ? String(participant) : id);

/** Whether rules are asked about a session: somebody who left, or was turned away, is no part of the results. */
export const isJudged = ({ facts }: Sitting): boolean => countsAtAll({ ...facts, isExcluded: false });

/** What is known of a session while its rows stay as they are: the columns it has, and what rules take out of it. */
type Own = {
  madeOf: string;
  isKept: boolean;
  columns: Record<ColumnName, Unpacked | null>;
  /** As `LeftOut` has it; null for a session that rules are not asked about. */
  counts: Uint32Array | null;
  trials: ExclusionCounts["trials"];
};
type ColumnName = "trials is" | "trials by" | "sessions is" | "sessions by";

/** What rules said of some data: another question asks them only about what is new. */
type Kept = {
  own: Map<string, Own>;
  /** What `left_out_by` can say: the rules, and pairs of them as they occur. */
  words: string[];
  pairs: Map<number, number>;
};
const kept = new LRUCache<string, Kept>({ max: 3 });

const standings = ["no", "times", "yes"];

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
  const looksAt = lookedAt(rules);
  const isAsked = new Map(data.sittings.map((sitting) => [sitting.row.id, judged(sitting)]));
  const madeOf = (sitting: Sitting) => `${String(isAsked.get(sitting.row.id))} ${data.madeOf(sitting)}`;
  const key = data.name === null ? null : JSON.stringify([data.name, rules]);
  const before: Kept = (key === null ? undefined : kept.get(key)) ?? {
    ...{ own: new Map(), words: rules.map(ruleInWords), pairs: new Map() },
  };
  const isNew = (sitting: Sitting) => before.own.get(sitting.row.id)?.madeOf !== madeOf(sitting);
  let unknown = data.sittings.filter(isNew);
  // Where rules compare sessions, those of the same person are asked about again with one that is new, or all are.
  const isSame = unknown.length === 0 && (looksAt === "session" || before.own.size === data.sittings.length);
  if (!isSame && looksAt === "all") unknown = [...data.sittings];
  if (!isSame && looksAt === "person") unknown = withTheirs(data.sittings, unknown, before);
  const own = new Map<string, Own>();
  for (const { row } of data.sittings) {
    const known = before.own.get(row.id);
    if (known) own.set(row.id, known);
  }
  if (unknown.length > 0) {
    const ids = new Set(unknown.map(({ row }) => row.id));
    const some = data.only(({ row }) => ids.has(row.id));
    for (const [id, found] of await judgedNow(some, documents, rules, before, isAsked, madeOf)) own.set(id, found);
  }
  if (key !== null) kept.set(key, { ...before, own });
  return verdictOf(own, rules);
}

/** These sessions and all others of the same persons; all of them where one is gone, since nobody knows any longer whose it was. */
function withTheirs(all: readonly Sitting[], some: readonly Sitting[], before: Kept): Sitting[] {
  const present = new Set(all.map(({ row }) => row.id));
  if ([...before.own.keys()].some((id) => !present.has(id))) return [...all];
  const theirs = new Set(some.map(personOf));
  return all.filter((sitting) => theirs.has(personOf(sitting)));
}

async function judgedNow(
  data: TidyData,
  documents: readonly StudyDocument[],
  rules: readonly Rule[],
  { words, pairs }: Kept,
  isAsked: ReadonlyMap<string, boolean>,
  madeOf: (sitting: Sitting) => string,
): Promise<Map<string, Own>> {
  const some = data.only(({ row }) => isAsked.get(row.id) === true);
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
  const rt = numbersOf(await some.column("trials", hiddenOfTrials.rt));
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
  const found = new Map<string, Own>();
  const none = { in: 0, kept: 0, timedIn: 0, timed: 0 };
  const out = (by: string | null): Own["columns"] => ({
    ...{ "trials is": { one: "yes" }, "sessions is": { one: "yes" } },
    ...{ "trials by": by === null ? null : { one: by }, "sessions by": by === null ? null : { one: by } },
  });
  for (const sitting of data.sittings)
    if (isAsked.get(sitting.row.id) !== true)
      found.set(sitting.row.id, {
        ...{ madeOf: madeOf(sitting), isKept: false, counts: null, trials: none },
        columns: out(outBecause[sitting.facts.state] ?? null),
      });
  for (const [at, sitting] of sittings.entries()) {
    const place = left.sessions[at] as number;
    const counts = left.bySession[at] ?? null;
    const about = { madeOf: madeOf(sitting), isKept: place === 0, counts };
    if (place > 0) {
      found.set(sitting.row.id, { ...about, trials: none, columns: out(words[place - 1] ?? null) });
      continue;
    }
    const [from, to] = [starts[at] as number, starts[at + 1] as number];
    const is = new Uint8Array(to - from);
    const by = new Uint16Array(to - from);
    const trials = { in: to - from, kept: 0, timedIn: 0, timed: 0 };
    for (let row = from; row < to; row++) {
      const [trial, time] = [left.trials[row] as number, left.times[row] as number];
      is[row - from] = trial > 0 ? 3 : time > 0 ? 2 : 1;
      by[row - from] = trial === 0 || time === 0 ? trial + time : pairOf(time, trial, words, pairs);
      if (trial > 0) continue;
      trials.kept++;
      if (Number.isNaN(rt[row] as number)) continue;
      trials.timedIn++;
      if (time === 0) trials.timed++;
    }
    const columns: Own["columns"] = {
      ...{ "trials is": { words: standings, codes: is }, "sessions is": { one: "no" } },
      ...{ "trials by": by.every((code) => code === 0) ? null : { words, codes: by }, "sessions by": null },
    };
    found.set(sitting.row.id, { ...about, trials, columns });
  }
  return found;
}

/** What is said of a trial that two rules took, the time by one and the trial by a later one: its place among the words. */
function pairOf(time: number, trial: number, words: string[], pairs: Map<number, number>): number {
  const pair = time * 256 + trial;
  const known = pairs.get(pair);
  if (known !== undefined) return known;
  const place = words.push(`${words[time - 1]}; ${words[trial - 1]}`);
  pairs.set(pair, place);
  return place;
}

function verdictOf(own: ReadonlyMap<string, Own>, rules: readonly Rule[]): Verdict {
  const sessions = { in: 0, kept: 0 };
  const trials = { in: 0, kept: 0, timedIn: 0, timed: 0 };
  const counts: Uint32Array[] = [];
  const columns = new Map<ColumnName, Map<string, Unpacked>>();
  for (const name of ["trials is", "trials by", "sessions is", "sessions by"] as const) columns.set(name, new Map());
  for (const [id, each] of own) {
    for (const [name, byId] of columns) {
      const cells = each.columns[name];
      if (cells !== null) byId.set(id, cells);
    }
    if (each.counts === null) continue;
    counts.push(each.counts);
    sessions.in++;
    if (!each.isKept) continue;
    sessions.kept++;
    for (const what of ["in", "kept", "timedIn", "timed"] as const) trials[what] += each.trials[what];
  }
  const named = (table: "trials" | "sessions", what: keyof typeof leftOutNames) =>
    [`${table} ${leftOutNames[what]}`, columns.get(`${table} ${what}`) ?? new Map<string, Unpacked>()] as const;
  return {
    keeps: ({ row }) => own.get(row.id)?.isKept === true,
    counts: { sessions, trials, counts: countsOf(rules, counts) },
    columns: new Map([named("trials", "is"), named("trials", "by"), named("sessions", "is"), named("sessions", "by")]),
  };
}
