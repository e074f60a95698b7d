import { tidyTables } from "../../core/export/tidy-tables";
import { standingIn, type NormStanding } from "../../core/persons/standing";
import type { TrialScore } from "../../core/persons/trial-score";
import { valuesOf } from "../../core/stats/measures";
import { cellAt } from "../../core/tidy/column";
import type { Unpacked } from "../../core/tidy/packed";
import type { Cell } from "../../core/values/data-column";
import type { DataReader } from "../export/reader";
import type { KeptNorm } from "../persons";
import type { TidyData } from "../tidy/tidy-data";
import { comparableColumns } from "./comparable";
import { cellsBy, summedBy } from "./measured";
import { normsInUse, standingNames } from "./table-columns";

/** The same data with what is computed of sessions. What is left out of `data` is left out of scores. */
export function withScores(data: TidyData, reader: DataReader): TidyData {
  const derived: [`sessions ${string}`, () => Promise<ReadonlyMap<string, Unpacked>>][] = [];
  for (const { name, score } of reader.persons.scores)
    derived.push([`sessions ${name}`, once(async () => asCells(await scoreOf(data, reader, score)))]);
  const scored = data.withDerived(new Map(derived));
  for (const { norm } of normsInUse(reader)) {
    const told = once(() => standingsIn(scored, norm));
    const cells = (read: (standing: NormStanding) => Cell) =>
      once(async () => asCells(new Map([...(await told())].map(([session, standing]) => [session, read(standing)]))));
    for (const name of standingNames)
      derived.push([`sessions ${norm.score}_${name}`, cells((standing) => rounded(standing[name]))]);
    derived.push([`sessions ${norm.score}_norm`, cells(({ band }) => band)]);
  }
  const own = new Set(tidyTables.sessions.columns(reader.documents).map(({ name }) => `sessions ${name}`));
  // Of two with the same name the first one stands.
  return data.withDerived(new Map(derived.filter(([name]) => !own.has(name)).toReversed()));
}

function once<T>(make: () => Promise<T>): () => Promise<T> {
  let made: Promise<T> | null = null;
  return () => (made ??= make());
}

const rounded = (value: number | null) => (value === null ? null : Number(value.toPrecision(10)));
const asCells = (values: ReadonlyMap<string, Cell>): Map<string, Unpacked> =>
  new Map([...values].map(([session, cell]) => [session, { one: cell }]));

/** A score over trials of each session; null where it cannot be told. */
export async function scoreOf(
  data: TidyData,
  reader: DataReader,
  score: TrialScore,
): Promise<Map<string, number | null>> {
  const [whole] = await scoredBy(data, reader, score, () => "");
  return whole ?? new Map<string, number | null>();
}
/** The same of odd and of even trials, on each side of a contrast, as they come. */
export async function halvesOf(
  data: TidyData,
  reader: DataReader,
  score: TrialScore,
): Promise<[number | null, number | null][]> {
  const seen = new Map<string, number>();
  const [odd, even] = await scoredBy(
    data,
    reader,
    score,
    (side) => {
      const count = (seen.get(side) ?? 0) + 1;
      seen.set(side, count);
      return count % 2 === 1 ? "odd" : "even";
    },
    ["odd", "even"],
  );
  return [...(odd ?? [])].map(([session, value]) => [value, even?.get(session) ?? null]);
}

/** The same of parts of the trials: `partOf` says, as trials come, to which part one of a side of the contrast belongs. */
async function scoredBy(
  data: TidyData,
  reader: DataReader,
  { measure, numbers, signal, where, contrast }: TrialScore,
  partOf: (side: string) => string,
  parts: readonly string[] = [""],
): Promise<Map<string, number | null>[]> {
  const asked = [...where, ...(contrast ? [{ column: contrast.column, level: "" }] : [])];
  const names = [...new Set(asked.map(({ column }) => column))];
  const columns = names.flatMap((name) => comparableColumns(reader).find((column) => column.name === name) ?? []);
  // A column that is gone tells nothing.
  if (columns.length < names.length) return parts.map(() => new Map());
  const { cellAtRow } = await cellsBy(data, columns);
  const sides = new Map<string, string | null>();
  const sideOf = (cell: string): string | null => {
    const levels = cell.split("\u001f");
    const level = (column: string) => levels[names.indexOf(column)];
    if (!where.every(({ column, level: wanted }) => level(column) === wanted)) return null;
    if (!contrast) return "of";
    const own = level(contrast.column);
    return own === contrast.of ? "of" : own === contrast.less ? "less" : null;
  };
  const people = await summedBy(data, reader, { signal, column: measure === "column" ? numbers : null }, (row) => {
    const cell = cellAtRow(row);
    const known = sides.get(cell);
    const side = known === undefined ? sideOf(cell) : known;
    if (known === undefined) sides.set(cell, side);
    return side === null ? null : `${side} ${partOf(side)}`;
  });
  const values = valuesOf(people, measure);
  return parts.map(
    (part) =>
      new Map(
        [...values].map(([session, own]): [string, number | null] => {
          const [of, less] = [own.get(`of ${part}`) ?? null, own.get(`less ${part}`) ?? null];
          if (!contrast) return [session, of];
          return [session, of === null || less === null ? null : of - less];
        }),
      ),
  );
}

/** How a score of each session stands in a norm sample. */
export async function standingsIn(data: TidyData, norm: KeptNorm["norm"]): Promise<Map<string, NormStanding>> {
  const names = [...new Set([norm.score, ...norm.bands.flatMap(({ where }) => where.map(({ column }) => column))])];
  const columns = new Map(
    await Promise.all(names.map(async (name) => [name, await data.column("sessions", name)] as const)),
  );
  const found = new Map<string, NormStanding>();
  let row = 0;
  for (const sitting of data.sittings) {
    if (data.rowsOf("sessions", sitting) === 0) continue;
    const at = row++;
    const cellOf = (name: string): Cell => {
      const column = columns.get(name);
      return column ? cellAt(column, at) : null;
    };
    const raw = cellOf(norm.score);
    found.set(sitting.row.id, standingIn(norm, typeof raw === "number" ? raw : null, cellOf, sitting.row.id));
  }
  return found;
}
