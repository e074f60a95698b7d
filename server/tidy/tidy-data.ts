import type { Transaction } from "kysely";
import { tidyTableNames, type TidyTableName } from "../../core/export/tidy-tables";
import { contains, markRows } from "../../core/tidy/chosen-rows";
import { cellAt, ColumnBuilder, type Column } from "../../core/tidy/column";
import { unpacked, type Unpacked } from "../../core/tidy/packed";
import type { Cell } from "../../core/values/data-column";
import type { Store } from "../database/open";
import { DataReader, type Sitting } from "../export/reader";
import type { Study } from "../studies";
import type { TidyTables } from "./database";
import { forgetTidy } from "./forget";
import { columnBySession } from "./kept-columns";
import { columnsIn, gather, madeOf, rowsOfSession, type RowCounts } from "./gather";

/** So often it is gathered again what came while it was being gathered. */
const mostTries = 5;

/** Rows as they stood at one moment; `done` lets them go. */
export type OpenTidy = { data: TidyData; done: () => Promise<void> };

/** The rows of a reader's sessions, brought up to date. It holds all sessions of a study that are no rehearsals. */
export async function openTidy(store: Store, reader: DataReader): Promise<OpenTidy> {
  const tidy = await store.tidy();
  const wanted = new Map(reader.sittings.map((sitting) => [sitting.row.id, madeOf(sitting)]));
  const columns = columnsIn(reader);
  for (let tries = 0; ; tries++) {
    // What nobody has added to since is there already.
    if (tries > 0) await gather(store, reader);
    const trx = await tidy.startTransaction().setIsolationLevel("repeatable read").execute();
    const done = async () => void (await trx.rollback().execute());
    try {
      const study = await trx
        .selectFrom("tidy_study")
        .select("columns")
        .where("study_id", "=", reader.study.id)
        .executeTakeFirst();
      const there = await trx
        .selectFrom("tidy_session")
        .select(["session_id", "made_of", "rows"])
        .where("study_id", "=", reader.study.id)
        .execute();
      const known = new Map(there.map((row) => [row.session_id, row]));
      const isSame = study?.columns === columns;
      const isThere = isSame && reader.sittings.every(({ row: { id } }) => known.has(id));
      const isPresent = isThere && [...wanted].every(([id, made]) => known.get(id)?.made_of === made);
      // Another thread may gather what came later, or earlier, at the same moment: what is there of every session is taken then.
      if (isPresent || (isThere && tries >= mostTries)) {
        const rows = new Map(
          there.map(({ session_id, made_of, rows }) => [
            session_id,
            { counts: JSON.parse(rows) as RowCounts, madeOf: made_of },
          ]),
        );
        const keptAs = `${reader.study.id} ${columns}`;
        return { data: new TidyData(kept(trx, reader.study.id), reader.sittings, rows, keptAs), done };
      }
      if (tries >= 2 * mostTries)
        throw new Error(`The rows of ${reader.study.code} are being made by another process.`);
    } catch (error) {
      await done();
      throw error;
    }
    await done();
  }
}

/** The same for as long as it is used. */
export async function withTidy<Answer>(
  store: Store,
  reader: DataReader,
  ask: (data: TidyData) => Promise<Answer>,
): Promise<Answer> {
  const { data, done } = await openTidy(store, reader);
  try {
    return await ask(data);
  } finally {
    await done();
  }
}

/** Makes the rows of a study anew out of its records. */
export async function rebuild(store: Store, study: Study): Promise<{ sessions: number; rows: number }> {
  await forgetTidy(await store.tidy(), [{ kind: "study", id: study.id }]);
  return withTidy(store, await DataReader.open(store, study, { pilots: false }), (data) =>
    Promise.resolve({
      sessions: data.sittings.length,
      rows: tidyTableNames.reduce((sum, table) => sum + data.count(table), 0),
    }),
  );
}

/** How many rows a session has, and what they are made of. */
type SessionRows = { counts: RowCounts; madeOf: string };

/** The packed cells of a column, of these sessions or of all; sessions that have none are left out. */
type CellsOf = (
  table: TidyTableName,
  name: string,
  sessions?: readonly string[],
) => Promise<{ session_id: string; cells: Uint8Array }[]>;

const kept =
  (trx: Transaction<TidyTables>, studyId: string): CellsOf =>
  (table, name, sessions) => {
    const all = trx
      .selectFrom("tidy_cells")
      .select(["session_id", "cells"])
      .where("study_id", "=", studyId)
      .where("in_table", "=", table)
      .where("name", "=", name);
    return (sessions ? all.where("session_id", "in", sessions) : all).execute();
  };

/** The same of sessions whose rows are not kept, such as rehearsals: made now. */
export async function madeNow(reader: DataReader): Promise<TidyData> {
  const made = new Map<string, { session_id: string; cells: Uint8Array }[]>();
  const rows = new Map<string, SessionRows>();
  const inFull = await reader.inFull(reader.sittings);
  for (const sitting of reader.sittings) {
    const row = inFull.get(sitting.row.id);
    if (!row) continue;
    const own = await rowsOfSession(reader, sitting, row);
    rows.set(own.id, { counts: own.rows, madeOf: own.made_of });
    for (const { in_table, name, cells } of own.cells) {
      const key = `${in_table} ${name}`;
      made.set(key, [...(made.get(key) ?? []), { session_id: own.id, cells }]);
    }
  }
  return new TidyData(
    (table, name) => Promise.resolve(made.get(`${table} ${name}`) ?? []),
    reader.sittings,
    rows,
    null,
  );
}

/** Columns that are worked out of others when data are looked at, by table and name, and by session. */
export type WorkedOut = ReadonlyMap<Named, ReadonlyMap<string, Unpacked>>;

type Named = `${TidyTableName} ${string}`;
/** The same, computed when it is first asked for. */
export type Derived = ReadonlyMap<Named, () => Promise<ReadonlyMap<string, Unpacked>>>;

/** The rows of some sessions, in their order. */
export class TidyData {
  constructor(
    private readonly cellsOf: CellsOf,
    readonly sittings: readonly Sitting[],
    private readonly rows: ReadonlyMap<string, SessionRows>,
    /** Under which name columns are kept between questions; null where they are not. */
    private readonly keptAs: string | null,
    private readonly workedOut: WorkedOut = new Map(),
    /** Columns that are computed when they are asked for first. */
    private readonly derived: Derived = new Map(),
  ) {}

  /** The same data, of some of the sessions only. */
  only(taken: (sitting: Sitting) => boolean): TidyData {
    return new TidyData(
      this.cellsOf,
      this.sittings.filter(taken),
      this.rows,
      this.keptAs,
      this.workedOut,
      this.derived,
    );
  }

  /** The same data with columns that were worked out of them in the place of those that are kept. */
  with(workedOut: WorkedOut): TidyData {
    return new TidyData(this.cellsOf, this.sittings, this.rows, this.keptAs, workedOut, this.derived);
  }

  /** The same data with columns that are computed when somebody asks for them. */
  withDerived(derived: Derived): TidyData {
    return new TidyData(this.cellsOf, this.sittings, this.rows, this.keptAs, this.workedOut, derived);
  }

  /** What the rows of a session are made of: the same as long as they are the same. */
  madeOf({ row: { id } }: Sitting): string {
    return this.rows.get(id)?.madeOf ?? "";
  }

  /** Under which name what was worked out of these rows can be kept; null where they are not kept themselves. */
  get name(): string | null {
    return this.keptAs;
  }

  /** The cells of a column by session, of these sessions or of all; sessions that have none are left out. */
  async #unpacked(
    table: TidyTableName,
    name: string,
    sessions?: readonly string[],
  ): Promise<ReadonlyMap<string, Unpacked>> {
    const known = this.workedOut.get(`${table} ${name}`) ?? (await this.derived.get(`${table} ${name}`)?.());
    if (known) return known;
    const unpackedOf = new Map<string, Unpacked>();
    for (const { session_id, cells } of await this.cellsOf(table, name, sessions)) {
      const count = this.rows.get(session_id)?.counts[table] ?? 0;
      if (count > 0) unpackedOf.set(session_id, unpacked(cells, count));
    }
    return unpackedOf;
  }

  /** How many rows a session has. */
  rowsOf(table: TidyTableName, { row: { id } }: Sitting): number {
    return this.rows.get(id)?.counts[table] ?? 0;
  }

  count(table: TidyTableName): number {
    return this.sittings.reduce((sum, sitting) => sum + this.rowsOf(table, sitting), 0);
  }

  /** A column over all rows; all of it empty where no session has any cell of it. */
  async column(table: TidyTableName, name: string): Promise<Column> {
    const read = async (sessions: readonly string[]): Promise<ReadonlyMap<string, Unpacked>> =>
      // Few are asked for by name; of many the whole column is read in one go.
      sessions.length === 0
        ? new Map<string, Unpacked>()
        : this.#unpacked(table, name, sessions.length <= mostByName ? sessions : undefined);
    const madeOf = new Map(this.sittings.map(({ row: { id } }) => [id, this.rows.get(id)?.madeOf ?? ""]));
    const bySession =
      this.keptAs === null || this.workedOut.has(`${table} ${name}`) || this.derived.has(`${table} ${name}`)
        ? await read([...madeOf.keys()])
        : await columnBySession(`${this.keptAs} ${table} ${name}`, madeOf, read);
    const builder = new ColumnBuilder(this.count(table));
    for (const sitting of this.sittings) {
      const cells = bySession.get(sitting.row.id) ?? null;
      builder.add(cells && "madeOf" in cells ? cells.cells : cells, this.rowsOf(table, sitting));
    }
    return builder.done();
  }

  /** Which rows contain a text in one of these columns, or hold the number it is: a mark for each. */
  async containing(table: TidyTableName, names: readonly string[], text: string): Promise<Uint8Array> {
    const marks = new Uint8Array(this.count(table));
    const starts = new Map<string, { from: number; count: number }>();
    let from = 0;
    for (const sitting of this.sittings) {
      const count = this.rowsOf(table, sitting);
      starts.set(sitting.row.id, { from, count });
      from += count;
    }
    const passes = contains(text);
    for (const name of names)
      for (const [session, cells] of await this.#unpacked(table, name)) {
        const place = starts.get(session);
        if (place && place.count > 0) markRows(marks, cells, place, passes);
      }
    return marks;
  }

  /** Cells of some rows, told by their places among all rows of a table, in these columns. */
  async cells(table: TidyTableName, rows: Iterable<number>, names: readonly string[]): Promise<Cell[][]> {
    const wanted = [...rows];
    const starts: { sitting: Sitting; from: number; count: number }[] = [];
    let from = 0;
    for (const sitting of this.sittings) {
      const count = this.rowsOf(table, sitting);
      if (count > 0) starts.push({ sitting, from, count });
      from += count;
    }
    const placed = wanted.map((row) => {
      let [low, high] = [0, starts.length];
      while (high - low > 1) {
        const middle = (low + high) >> 1;
        if ((starts[middle]?.from ?? Infinity) <= row) low = middle;
        else high = middle;
      }
      return { start: starts[low], row };
    });
    const sittings = [...new Set(placed.flatMap(({ start }) => (start ? [start.sitting] : [])))];
    const unpackedOf = await this.#columnsOf(table, sittings, names);
    return placed.map(({ start, row }) =>
      names.map((name) => {
        const column = start && unpackedOf.get(start.sitting.row.id)?.get(name);
        return column ? cellAt(column, row - start.from) : null;
      }),
    );
  }

  /** All rows of a table in these columns, some sessions at a time. */
  async *batches(
    table: TidyTableName,
    names: readonly string[],
  ): AsyncGenerator<{ sitting: Sitting; columns: (Unpacked | null)[]; from: number; to: number }> {
    for (const together of inParts(this.sittings, (sitting) => this.rowsOf(table, sitting))) {
      const unpackedOf = await this.#columnsOf(table, together, names);
      for (const sitting of together) {
        const own = unpackedOf.get(sitting.row.id);
        const columns = names.map((name) => own?.get(name) ?? null);
        const count = this.rowsOf(table, sitting);
        // A long session is given in pieces.
        for (let from = 0; from < count; from += mostTogether)
          yield { sitting, columns, from, to: Math.min(from + mostTogether, count) };
      }
    }
  }

  async #columnsOf(
    table: TidyTableName,
    sittings: readonly Sitting[],
    names: readonly string[],
  ): Promise<Map<string, Map<string, Unpacked>>> {
    const counts = new Map(sittings.map((sitting) => [sitting.row.id, this.rowsOf(table, sitting)]));
    const found = new Map<string, Map<string, Unpacked>>();
    if (sittings.length === 0) return found;
    for (const name of names) {
      const read = await this.#unpacked(table, name, [...counts.keys()]);
      for (const session of counts.keys()) {
        const cells = read.get(session);
        if (!cells) continue;
        const own = found.get(session) ?? new Map<string, Unpacked>();
        found.set(session, own);
        own.set(name, cells);
      }
    }
    return found;
  }
}

/** So many sessions are asked for by name. */
const mostByName = 300;
/** So many rows are unpacked at a time. */
const mostTogether = 10_000;

function inParts(sittings: readonly Sitting[], rowsOf: (sitting: Sitting) => number): Sitting[][] {
  const parts: Sitting[][] = [];
  let room = 0;
  for (const sitting of sittings) {
    const rows = rowsOf(sitting);
    const last = parts.at(-1);
    if (last && rows <= room && last.length < 500) last.push(sitting);
    else {
      parts.push([sitting]);
      room = mostTogether;
    }
    room -= rows;
  }
  return parts;
}
