import { alongNames, type Along } from "../../core/stats/along";
import { summarize, type CellSummary } from "../../core/stats/conditions";
import { valuesOf } from "../../core/stats/measures";
import type { People } from "../../core/stats/sums";
import { coded, numbersOf } from "../../core/tidy/column";
import type { TidyData } from "../tidy/tidy-data";
import { mostCurves } from "../../core/stats/distributions";
import { countedTrials, takesRightOnly } from "./counted-trials";
import type { DataReader } from "../export/reader";
import { cellOf, measuredBy, summedBy, trialsByCell, type Measured } from "./measured";
import { comparableColumns, inDesignOrder, levelled, type Comparable } from "./comparable";
import type { Result } from "./result";

export type CourseQuestion = Measured & {
  along: Along;
  columns: string[];
  /** The conditions that are told apart; null for all trials together. */
  by: string | null;
};
export type CourseAnswer = {
  /** Steps in their order, as they are called. */
  steps: string[];
  levels: string[];
  cells: (Omit<CellSummary, "points"> & { step: string; level: string; trials: number })[];
  sessions: number;
  rightOnly: boolean;
};

/** Numbers are put together into at most so many steps. */
const mostSteps = 12;

/** Times and accuracy as a session goes on: practice, fatigue, and what followed what. */
export const course: Result<CourseQuestion, CourseAnswer> = {
  ask: (query, reader) => {
    const columns = comparableColumns(reader);
    const wanted = query.get("by");
    const along = alongNames.find((each) => each === query.get("along")) ?? "trial";
    const by = columns.find(({ name, isNow }) => wanted && (name === wanted || isNow(wanted)))?.name ?? null;
    // Whether a condition is that of the trial before needs one.
    const usual = along === "same" ? (columns[0]?.name ?? null) : null;
    const compared = by ?? usual;
    return {
      along,
      columns: columns.map(({ name }) => name),
      by: compared,
      ...measuredBy(query, reader, compared === null ? [] : [compared]),
    };
  },
  answer: async ({ reader, tidy, rules }, question) => {
    const { by, measure } = question;
    const column = comparableColumns(reader).find(({ name }) => name === by);
    const { people, steps, levels: seen } = await tidy((data) => peopleAlong(data, reader, question, column));
    const trials = trialsByCell(people);
    const levels = column ? inDesignOrder(column, seen) : [""];
    const drawn = levels.length <= mostCurves ? levels : [];
    const cells = drawn
      .flatMap((level) => steps.map((step) => ({ cell: cellOf([level, step]), levels: [level, step] })))
      .filter(({ cell }) => trials.has(cell));
    return {
      steps,
      levels,
      sessions: people.size,
      rightOnly: takesRightOnly(rules),
      cells: summarize(valuesOf(people, measure), cells).cells.map(({ points: _, ...summary }, at) => {
        const [level = "", step = ""] = cells[at]?.levels ?? [];
        return { ...summary, trials: trials.get(summary.cell) ?? 0, level, step };
      }),
    };
  },
};

/** What each session did at each step, by condition. */
async function peopleAlong(
  data: TidyData,
  reader: DataReader,
  { along, ...measured }: CourseQuestion,
  by: Comparable | undefined,
): Promise<{ people: People; steps: string[]; levels: Set<string> }> {
  const { right, isOut } = await countedTrials(data);
  const level = by === undefined ? null : levelled(await data.column("trials", by.exported));
  const { step, steps } = await stepsOf(data, along, {
    right,
    level: level?.codes ?? null,
    isOut,
  });
  const levels = new Set<string>();
  const names: string[][] = [];
  const people = await summedBy(data, reader, measured, (row) => {
    const at = step[row] as number;
    if (at < 0) return null;
    const code = level?.codes[row] ?? 0;
    const called = level?.levels[code] ?? "";
    levels.add(called);
    return ((names[code] ??= [])[at] ??= cellOf([called, steps[at] ?? ""]));
  });
  return { people, steps, levels };
}

/** The step of each trial by its place among them, −1 where it has none; and what steps are called. */
async function stepsOf(
  data: TidyData,
  along: Along,
  { right, level, isOut }: { right: Float64Array; level: Uint32Array | null; isOut: (row: number) => boolean },
): Promise<{ step: Int32Array; steps: string[] }> {
  if (along === "before" || along === "same") {
    const part = coded(await data.column("trials", "part")).codes;
    const step = new Int32Array(right.length).fill(-1);
    let row = 0;
    for (const sitting of data.sittings)
      for (let first = row, end = row + data.rowsOf("trials", sitting); row < end; row++) {
        if (row === first || part[row] !== part[row - 1]) continue;
        if (along === "same") step[row] = level !== null && level[row] === level[row - 1] ? 0 : 1;
        else if (!Number.isNaN(right[row - 1] as number)) step[row] = right[row - 1] === 1 ? 0 : 1;
      }
    return { step, steps: along === "same" ? ["the same", "another"] : ["right", "not right"] };
  }
  const name = { trial: "trial", "trial-in-block": "trial_in_block", attempt: "block_attempt" }[along];
  const numbers = numbersOf(await data.column("trials", name));
  let [low, high] = [Infinity, -Infinity];
  for (let row = 0; row < numbers.length; row++) {
    const number = numbers[row] as number;
    if (Number.isNaN(number) || isOut(row)) continue;
    low = Math.min(low, number);
    high = Math.max(high, number);
  }
  const width = Math.max(1, Math.ceil((high - low + 1) / mostSteps));
  const count = high < low ? 0 : Math.ceil((high - low + 1) / width);
  const step = new Int32Array(numbers.length);
  for (let row = 0; row < numbers.length; row++) {
    const number = numbers[row] as number;
    step[row] = number >= low && number <= high ? Math.floor((number - low) / width) : -1;
  }
  const called = (at: number) => {
    const from = low + at * width;
    const to = Math.min(high, from + width - 1);
    return from === to ? String(from) : `${from}–${to}`;
  };
  return { step, steps: Array.from({ length: count }, (_, at) => called(at)) };
}
