import { summarize, type CellSummary } from "../../core/stats/conditions";
import { differences, type Difference } from "../../core/stats/differences";
import { factorial, type Factorial } from "../../core/stats/factorial";
import { ofDetection, valuesOf, type MeasureName } from "../../core/stats/measures";
import { comparableColumns, inDesignOrder } from "./comparable";
import { takesRightOnly } from "./counted-trials";
import { cellOf, cellsBy, measuredBy, summedBy, trialsByCell, type Measured } from "./measured";
import type { Result } from "./result";

/** Conditions are told apart by so many columns at most. */
export const mostColumns = 3;

/** The columns to compare by, those chosen of them, and what is compared. */
export type ConditionQuestion = Measured & {
  columns: string[];
  /** One to three of them. */
  by: string[];
  /** A level that is subtracted from another of one of these columns; null where nothing is. */
  contrast: { column: string; from: string; less: string } | null;
  /** Whether the points of each session are joined by lines. */
  lines: boolean;
  /** Whether tests and effect sizes of all factors are asked for. */
  tests: boolean;
  /** Columns that were measured of persons rather than manipulated. */
  measuredColumns: string[];
};
/** A condition: what persons have in it, and beside it whether they were right, or how fast. */
export type ConditionCell = CellSummary & {
  levels: string[];
  trials: number;
  beside: { mean: number | null; interval: number | null } | null;
};
export type ConditionAnswer = {
  /** Of each column that is compared. */
  levels: string[][];
  /** None where there are too many to be told apart. */
  cells: ConditionCell[];
  /** The columns whose levels lie between participants, and those that each participant has several of. */
  between: string[];
  within: string[];
  /** What stands beside the measure, so that the one is not bought with the other. */
  beside: MeasureName | null;
  sessions: number;
  trials: number;
  /** Times are of right answers only. */
  rightOnly: boolean;
  /** Every how many sessions one comes as a point of its own. */
  pointOfEach: number;
  differences: Difference[];
  factorial: Factorial | null;
};
/** More points beside a mean than these cannot be told apart, nor more conditions. */
const mostPoints = 400;
const mostConditions = 96;

const besideOf = (measure: MeasureName): MeasureName | null => {
  if (ofDetection(measure) || measure === "column" || measure === "trials") return null;
  return measure === "accuracy" ? "mean" : "accuracy";
};

/** Times, accuracy, or what is made of them, by up to three columns; differences between conditions, and their tests. */
export const conditions: Result<ConditionQuestion, ConditionAnswer> = {
  ask: (query, reader) => {
    const columns = comparableColumns(reader);
    const asked = (name: string | null) =>
      columns.find((column) => column.name === name)?.name ?? columns.find(({ isNow }) => name && isNow(name))?.name;
    const first = asked(query.get("by")) ?? columns.find(({ isFactor }) => isFactor)?.name ?? "part";
    const usual = query.has("and") ? undefined : columns.find(({ isFactor, name }) => isFactor && name !== first)?.name;
    const by = [first, asked(query.get("and")) ?? usual, asked(query.get("then"))].filter((name) => name !== undefined);
    const distinct = [...new Set(by)].slice(0, mostColumns);
    const across = distinct.find((name) => name === query.get("across")) ?? distinct[0];
    const [from, less] = [query.get("from"), query.get("less")];
    return {
      ...measuredBy(query, reader, distinct),
      columns: columns.map(({ name }) => name),
      by: distinct,
      contrast: across !== undefined && from !== null && less !== null ? { column: across, from, less } : null,
      lines: query.get("lines") === "yes",
      tests: query.get("tests") === "yes",
      measuredColumns: distinct.filter((name) => query.getAll("measured").includes(name)),
    };
  },
  answer: async ({ reader, tidy, rules }, question) => {
    const { by, measure, contrast, tests, measuredColumns } = question;
    const columns = by.flatMap((name) => comparableColumns(reader).find((column) => column.name === name) ?? []);
    const { people, seen } = await tidy(async (data) => {
      const cells = await cellsBy(data, columns);
      return { people: await summedBy(data, reader, question, cells.cellAtRow), seen: cells.seen };
    });
    const levels = seen.map((own, at) => inDesignOrder(columns[at], own));
    const trials = trialsByCell(people);
    const isTold = trials.size <= mostConditions;
    const compared = (isTold ? combinations(levels) : [])
      .map((each) => ({ cell: cellOf(each), levels: each }))
      .filter(({ cell }) => trials.has(cell));
    const values = valuesOf(people, measure);
    const { between, cells } = summarize(values, compared);
    const beside = besideOf(measure);
    const step = Math.ceil(people.size / mostPoints) || 1;
    const answer = {
      levels,
      sessions: people.size,
      trials: [...trials.values()].reduce((sum, count) => sum + count, 0),
      rightOnly: takesRightOnly(rules),
      between: by.filter((_, factor) => between[factor]),
      within: by.filter((_, factor) => !between[factor] && (levels[factor]?.length ?? 0) > 1),
      beside,
      pointOfEach: step,
    };
    if (!isTold) return { ...answer, cells: [], differences: [], factorial: null };
    const besides = beside && summarize(valuesOf(people, beside), compared).cells;
    const factor = contrast ? by.indexOf(contrast.column) : -1;
    return {
      ...answer,
      cells: cells.map((summary, at) => ({
        ...summary,
        levels: compared[at]?.levels ?? [],
        trials: trials.get(summary.cell) ?? 0,
        points: summary.points.filter((_, index) => index % step === 0),
        beside: besides && { mean: besides[at]?.mean ?? null, interval: besides[at]?.interval ?? null },
      })),
      differences: contrast && factor >= 0 ? differences(values, compared, { ...contrast, factor }) : [],
      factorial: tests
        ? factorial(
            values,
            compared,
            measuredColumns.map((name) => by.indexOf(name)),
          )
        : null,
    };
  },
};

const combinations = (levels: readonly string[][]): string[][] =>
  levels.reduce<string[][]>((found, own) => found.flatMap((each) => own.map((level) => [...each, level])), [[]]);
