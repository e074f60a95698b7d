import { leftOutNames } from "../../core/exclusions/columns";
import { quantile } from "../../core/stats/quantile";
import { cellAt, coded, numbersOf } from "../../core/tidy/column";
import { hiddenOfTrials } from "../../core/tidy/hidden-columns";
import type { TidyData } from "../tidy/tidy-data";
import { countedTrials, takesRightOnly } from "./counted-trials";
import type { Result } from "./result";
import { scoresIn } from "./scores";

/** What is told of a session in a row of its own. Times are milliseconds, shares from 0 to 1; null where there is nothing to tell. */
export type PersonRow = {
  session: string;
  participant: number;
  sitting: number;
  group: string;
  trials: number;
  right: number | null;
  median: number | null;
  /** Of the times, their standard deviation. */
  spread: number | null;
  /** The share of trials without an answer in time. */
  missed: number | null;
  /** The share of trials with late scenes. */
  late: number | null;
  leftOutBy: string | null;
  /** Of the scores that are shown, in their order. */
  scores: (number | null)[];
  /** How many of its times lie in each of the bins. */
  bins: number[];
};
/** By what rows can be sorted. */
export const personColumns = [
  "participant",
  "group",
  "trials",
  "right",
  "median",
  "spread",
  "missed",
  "late",
  "leftOutBy",
] as const;
export type PersonColumn = (typeof personColumns)[number];

export type PersonsQuestion = {
  /** A column, or the name of a score that is shown. */
  sort: PersonColumn | { score: string };
  isFalling: boolean;
  page: number;
  /** The scores there are, and those that are shown. */
  scores: string[];
  shown: string[];
};
export type PersonsAnswer = {
  rows: PersonRow[];
  total: number;
  pages: number;
  /** From where to where the bins of times reach, in milliseconds. */
  from: number;
  to: number;
  rightOnly: boolean;
};

const rowsAPage = 100;
const bins = 24;
/** So many scores fit beside the other columns. */
const mostShown = 6;
const ofScore = "score:";

/** One row a session: how many trials, how often right, how fast, and what leaves it out. */
export const persons: Result<PersonsQuestion, PersonsAnswer> = {
  showsLeftOut: true,
  ask: (query, reader) => {
    const order = query.get("order") ?? "";
    const sort = order.replace(/^-/, "");
    const lines = scoresIn(reader);
    const scores = lines.map(({ name }) => name);
    // Those over trials are shown until others are chosen.
    const usual = lines.flatMap(({ name, kept }) => (kept ? [name] : []));
    const asked = query.get("scores")?.split(",") ?? usual;
    const shown = scores.filter((name) => asked.includes(name)).slice(0, mostShown);
    const score = shown.find((name) => sort === ofScore + name);
    return {
      ...{ scores, shown },
      sort: score === undefined ? (personColumns.find((each) => each === sort) ?? "participant") : { score },
      isFalling: order.startsWith("-"),
      page: Math.max(1, Math.floor(Number(query.get("sheet")) || 1)),
    };
  },
  answer: async ({ tidy, rules }, { sort, isFalling, page, shown }) => {
    const { rows, from, to } = await tidy((data) => rowsIn(data, shown));
    const turned = isFalling ? -1 : 1;
    // What is empty comes last, whichever way.
    type Cell = PersonRow[PersonColumn];
    const cellOf = (row: PersonRow): Cell =>
      typeof sort === "string" ? row[sort] : (row.scores[shown.indexOf(sort.score)] ?? null);
    const compared = (a: Cell, b: Cell) => {
      if (a === null || b === null) return Number(a === null) - Number(b === null);
      if (typeof a === "number" && typeof b === "number") return turned * (a - b);
      return turned * String(a).localeCompare(String(b), "en", { numeric: true });
    };
    rows.sort((a, b) => compared(cellOf(a), cellOf(b)) || a.participant - b.participant || a.sitting - b.sitting);
    return {
      ...{ rows: rows.slice((page - 1) * rowsAPage, page * rowsAPage), total: rows.length, from, to },
      pages: Math.max(1, Math.ceil(rows.length / rowsAPage)),
      rightOnly: takesRightOnly(rules),
    };
  },
};

async function rowsIn(
  data: TidyData,
  shown: readonly string[],
): Promise<{ rows: PersonRow[]; from: number; to: number }> {
  const of = (name: string) => data.column("trials", name);
  const { right, rt, isOut, isTimeOut } = await countedTrials(data);
  const late = numbersOf(await of("late_frames"));
  const first = numbersOf(await of(hiddenOfTrials.isFirst));
  const practice = coded(await of("practice"));
  const isPractice = practice.cells.map((cell) => cell === "yes");
  const ofSessions = async (name: string) => data.column("sessions", name);
  const [isSessionOut, because, group] = await Promise.all(
    [leftOutNames.is, leftOutNames.by, "group_name"].map(ofSessions),
  );
  const scores = await Promise.all(shown.map(ofSessions));
  const range = rangeOf(rt);
  const rows: PersonRow[] = [];
  let row = 0;
  let sessions = 0;
  for (const sitting of data.sittings) {
    const at = sessions;
    sessions += data.rowsOf("sessions", sitting);
    const isSessionLeftOut = isSessionOut !== undefined && cellAt(isSessionOut, at) === "yes";
    const sums = { trials: 0, scored: 0, hits: 0, missed: 0, late: 0 };
    const times: number[] = [];
    const counts = Array<number>(bins).fill(0);
    for (const end = row + data.rowsOf("trials", sitting); row < end; row++) {
      // Of a session that is out its trials are told as they would be: without practice, and of right answers.
      const isTrialOut = isSessionLeftOut
        ? first[row] !== 1 || isPractice[practice.codes[row] as number] === true
        : isOut(row);
      if (isTrialOut) continue;
      sums.trials++;
      const [score, time] = [right[row] as number, rt[row] as number];
      if (!Number.isNaN(score)) {
        sums.scored++;
        sums.hits += score;
      }
      if (Number.isNaN(time)) sums.missed++;
      if ((late[row] as number) > 0) sums.late++;
      const takesTime = isSessionLeftOut ? score !== 0 : !isTimeOut(row);
      if (Number.isNaN(time) || !takesTime) continue;
      times.push(time);
      const bin = Math.floor((bins * (time - range.from)) / (range.to - range.from));
      if (bin >= 0 && bin < bins) counts[bin] = (counts[bin] ?? 0) + 1;
    }
    const share = (part: number, whole: number) => (whole === 0 ? null : part / whole);
    const mean = times.reduce((sum, time) => sum + time, 0) / times.length;
    const squares = times.reduce((sum, time) => sum + (time - mean) ** 2, 0);
    const { row: kept, facts } = sitting;
    rows.push({
      ...{
        session: kept.id,
        participant: facts.participant,
        sitting: facts.sitting,
        trials: sums.trials,
        bins: counts,
      },
      group: String((group && cellAt(group, at)) ?? ""),
      right: share(sums.hits, sums.scored),
      median: times.length === 0 ? null : quantile(Float64Array.from(times).sort(), 0.5),
      spread: times.length < 2 ? null : Math.sqrt(squares / (times.length - 1)),
      missed: share(sums.missed, sums.trials),
      late: share(sums.late, sums.trials),
      scores: scores.map((column) => {
        const cell = cellAt(column, at);
        return typeof cell === "number" ? cell : null;
      }),
      leftOutBy: isSessionLeftOut && because ? String(cellAt(because, at) ?? "") : null,
    });
  }
  return { rows, ...range };
}

/** From where to where nearly all times lie. */
function rangeOf(rt: Float64Array): { from: number; to: number } {
  const sorted = rt.filter((time) => !Number.isNaN(time)).sort();
  if (sorted.length === 0) return { from: 0, to: 1 };
  const [from, to] = [quantile(sorted, 0.002), quantile(sorted, 0.99)];
  return to > from ? { from, to } : { from, to: from + 1 };
}
