import { blocksInOrder } from "../../core/design/lookup";
import { numberedAnswers } from "../../core/export/tables/answers";
import { sessionColumnNames } from "../../core/export/tables/sessions";
import { measureNames, ofDetection, type MeasureName } from "../../core/stats/measures";
import { addTrial, type People, type Sums } from "../../core/stats/sums";
import { cellAt, type Column } from "../../core/tidy/column";
import type { DataReader } from "../export/reader";
import { tableColumns } from "./table-columns";
import type { TidyData } from "../tidy/tidy-data";
import { comparableColumns, levelled, type Comparable } from "./comparable";
import { countedTrials, scoreOrNull, timeOrNull } from "./counted-trials";

/** What conditions are compared by. */
export type Measured = {
  measure: MeasureName;
  /** The column whose numbers it is, where it is one’s. */
  column: string | null;
  /** The columns that have numbers of sessions or of trials. */
  numbers: string[];
  /** Which level of which column is the signal; null where the measure need not know, or no column can tell. */
  signal: { column: string; level: string } | null;
  /** The columns in which it can be, with their levels. */
  signals: { column: string; levels: string[] }[];
};

const ofColumn = "column:";

/** The columns of numbers that answers, scores and variables have, by their tables. */
export function numbersIn(reader: DataReader): Record<"sessions" | "trials", string[]> {
  const known = new Set(sessionColumnNames());
  return {
    sessions: tableColumns("sessions", reader)
      .filter(({ name, type }) => !known.has(name) && (type === "number" || type === "whole number"))
      .map(({ name }) => name),
    trials: numberedAnswers(reader.documents.flatMap((document) => blocksInOrder(document))),
  };
}

/**
 * What an address asks to compare by: `of=MEASURE` or `of=column:NAME`, `signal=COLUMN` and `is=LEVEL`; the mean time if it says
 * nothing. `by` are the columns that are compared: none of them can tell the signal.
 */
export function measuredBy(query: URLSearchParams, reader: DataReader, by: readonly string[]): Measured {
  const of = query.get("of") ?? "";
  const numbers = Object.values(numbersIn(reader)).flat();
  const column = of.startsWith(ofColumn) ? (numbers.find((each) => each === of.slice(ofColumn.length)) ?? null) : null;
  const named = measureNames.find((each) => each === of && each !== "column") ?? "mean";
  const measure = column === null ? named : "column";
  const signals = comparableColumns(reader)
    .filter(({ isFactor, name }) => isFactor && !by.includes(name))
    .map((each) => ({ column: each.name, levels: each.levels() }))
    .filter(({ levels }) => levels.length > 1);
  const asked = signals.find((each) => each.column === query.get("signal")) ?? signals[0];
  const level = asked?.levels.find((each) => each === query.get("is")) ?? asked?.levels[0];
  const signal = asked && level !== undefined ? { column: asked.column, level } : null;
  return { measure, column, numbers, signal: ofDetection(measure) ? signal : null, signals };
}

/** What each session did, added up by the cells its trials belong to; `null` for those that belong to none. */
export async function summedBy(
  data: TidyData,
  reader: DataReader,
  measured: Pick<Measured, "signal" | "column">,
  cellAtRow: (row: number) => string | null,
): Promise<People> {
  const { right, rt, isOut, timeAt } = await countedTrials(data);
  const isSignal = await signalsIn(data, reader, measured);
  const values = await valuesIn(data, reader, measured);
  const people: People = new Map();
  let row = 0;
  for (const [session, sitting] of data.sittings.entries()) {
    const own = new Map<string, Sums>();
    for (const end = row + data.rowsOf("trials", sitting); row < end; row++) {
      if (isOut(row)) continue;
      const cell = cellAtRow(row);
      if (cell === null) continue;
      addTrial(own, cell, {
        right: scoreOrNull(right[row] as number),
        rt: timeOrNull(timeAt(row)),
        isSignal: isSignal(row),
        isAnswered: !Number.isNaN(rt[row]),
        value: values(session, row),
      });
    }
    if (own.size > 0) people.set(sitting.facts.session, own);
  }
  return people;
}

async function signalsIn(data: TidyData, reader: DataReader, { signal }: Pick<Measured, "signal">) {
  const column = comparableColumns(reader).find(({ name }) => name === signal?.column);
  if (!signal || !column) return () => null;
  const { codes, levels } = levelled(await data.column("trials", column.exported));
  return (row: number) => levels[codes[row] as number] === signal.level;
}

async function valuesIn(data: TidyData, reader: DataReader, { column }: Pick<Measured, "column">) {
  if (column === null) return () => null;
  if (numbersIn(reader).trials.includes(column)) {
    const answers = await data.column("trials", column);
    return (_: number, row: number) => numberAt(answers, row);
  }
  const ofSessions = await data.column("sessions", column);
  return (session: number) => numberAt(ofSessions, session);
}

/** A cell’s number, also where it stands as text. */
function numberAt(column: Column, row: number): number | null {
  const cell = cellAt(column, row);
  const number = typeof cell === "string" && cell.trim() !== "" ? Number(cell) : cell;
  return typeof number === "number" && Number.isFinite(number) ? number : null;
}

/** Conditions of trials by some columns: names made once for each combination of levels there is. */
export async function cellsBy(
  data: TidyData,
  columns: readonly Comparable[],
): Promise<{ cellAtRow: (row: number) => string; seen: Set<string>[] }> {
  const coded = await Promise.all(columns.map(async ({ exported }) => levelled(await data.column("trials", exported))));
  const seen = columns.map(() => new Set<string>());
  const names = new Map<number, string>();
  const cellAtRow = (row: number) => {
    let key = 0;
    for (const { codes, levels } of coded) key = key * levels.length + (codes[row] as number);
    const known = names.get(key);
    if (known !== undefined) return known;
    const own = coded.map(({ codes, levels }) => levels[codes[row] as number] ?? "");
    for (const [at, level] of own.entries()) seen[at]?.add(level);
    const name = cellOf(own);
    names.set(key, name);
    return name;
  };
  return { cellAtRow, seen };
}

/** What a condition is called by its levels. */
export const cellOf = (levels: readonly string[]): string => levels.join("\u001f");

/** How many trials all sessions have in each condition. */
export function trialsByCell(people: People): Map<string, number> {
  const trials = new Map<string, number>();
  for (const own of people.values())
    for (const [cell, sums] of own) trials.set(cell, (trials.get(cell) ?? 0) + sums.trials);
  return trials;
}
