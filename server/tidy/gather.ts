import { createHash } from "node:crypto";
import type { Kysely } from "kysely";
import {
  tidyColumns,
  tidyTableNames,
  tidyTables,
  type TidyTableName,
  type WholeSession,
} from "../../core/export/tidy-tables";
import { seedOf } from "../../core/order/seed";
import { noCells, packed } from "../../core/tidy/packed";
import type { DataColumn } from "../../core/values/data-column";
import type { Store } from "../database/open";
import { otherTurns, type DataReader, type SessionInFull, type Sitting } from "../export/reader";
import { sessionSource } from "../export/session-source";
import type { TidyTables } from "./database";
import { forgetStudy } from "./forget";
import { forgetColumns } from "./kept-columns";

/** Counted up whenever rows are made otherwise than before, so that those that are there are made anew. */
const form = 1;
/** So many sessions are written in one transaction. */
const together = 20;

const shortHash = (of: unknown) => createHash("sha256").update(JSON.stringify(of)).digest("base64url").slice(0, 22);

/** How many rows a session has in each table. */
export type RowCounts = Record<TidyTableName, number>;

/** What the rows of these data are made of: the columns of their tables, all that says what their cells are. */
export const columnsIn = ({ documents }: Pick<DataReader, "documents">): string =>
  shortHash([
    form,
    ...tidyTableNames.map((table) =>
      tidyColumns(table, documents).map(({ name, type, meaning, values }) => [name, type, meaning, values]),
    ),
  ]);

/** What the rows of a session are made of. It is another as soon as anything came, or was decided, that they tell. */
export const madeOf = ({ row, computer, facts: { wave, state, isExcluded } }: Sitting): string =>
  [
    ...[row.records, row.stored_characters, row.removed_at ?? "", row.participant, row.group_id, row.orders],
    ...[state, isExcluded, wave, row.seen_at, row.excluded_because ?? "", computer],
  ].join(" ");

/**
 * Brings the rows of a study's sessions up to date: makes those of sessions that are new or went on, and removes those of
 * sessions that are gone. All of them are made anew where their columns are others than before. Only those that are `wanted` are made. Gives how many were.
 */
export async function gather(
  store: Store,
  reader: DataReader,
  wanted: (sitting: Sitting) => boolean = () => true,
): Promise<number> {
  const tidy = await store.tidy();
  const studyId = reader.study.id;
  const columns = columnsIn(reader);
  const there = await tidy
    .selectFrom("tidy_study")
    .select("columns")
    .where("study_id", "=", studyId)
    .executeTakeFirst();
  if (there?.columns !== columns)
    await tidy.transaction().execute(async (trx) => {
      await forgetStudy(trx, studyId);
      await trx
        .insertInto("tidy_study")
        .values({ study_id: studyId, columns })
        .onConflict((conflict) => conflict.column("study_id").doUpdateSet({ columns }))
        .execute();
    });
  const known = new Map(
    (
      await tidy.selectFrom("tidy_session").select(["session_id", "made_of"]).where("study_id", "=", studyId).execute()
    ).map(({ session_id, made_of }) => [session_id, made_of]),
  );
  const stale = reader.sittings.filter((sitting) => wanted(sitting) && known.get(sitting.row.id) !== madeOf(sitting));
  const present = new Set(reader.sittings.map(({ row }) => row.id));
  const of = { study: studyId, columns: columnsOf(reader) };
  // What another has gathered since is no session that is gone.
  const unknown = [...known.keys()].filter((id) => !present.has(id));
  const stillThere = await idsPresent(store, unknown);
  const gone = unknown.filter((id) => !stillThere.has(id));
  await forgetSessions(tidy, gone, of);
  if (gone.length > 0) forgetColumns(studyId);
  for (let from = 0; from < stale.length; from += together) {
    const next = stale.slice(from, from + together);
    const inFull = await reader.inFull(next);
    const some = await Promise.all(
      // What was deleted meanwhile has no rows.
      next.flatMap((sitting) => {
        const row = inFull.get(sitting.row.id);
        const how = { columns: of.columns, isKnown: known.has(sitting.row.id) };
        return row ? [rowsOfSession(reader, sitting, row, how)] : [];
      }),
    );
    await tidy.transaction().execute(async (trx) => {
      for (const { id, made_of, rows, cells } of some) {
        const all = cells.map((each) => ({ ...each, study_id: studyId, session_id: id }));
        for (let at = 0; at < all.length; at += 100)
          await trx
            .insertInto("tidy_cells")
            .values(all.slice(at, at + 100))
            .onConflict((conflict) =>
              conflict
                .columns(["study_id", "in_table", "name", "session_id"])
                .doUpdateSet(({ ref }) => ({ cells: ref("excluded.cells") })),
            )
            .execute();
        const line = { session_id: id, study_id: studyId, made_of, rows: JSON.stringify(rows) };
        await trx
          .insertInto("tidy_session")
          .values(line)
          .onConflict((conflict) => conflict.column("session_id").doUpdateSet(line))
          .execute();
      }
    });
    await otherTurns();
  }
  // Whatever was removed meanwhile is gone here, too.
  const made = stale.flatMap(({ row }) => (row.removed_at === null ? [row.id] : []));
  const left = await idsPresent(store, made);
  await forgetSessions(
    tidy,
    made.filter((id) => !left.has(id)),
    of,
  );
  return stale.length;
}

/** Which of these sessions are there, and were not emptied. */
async function idsPresent({ db }: Store, ids: readonly string[]): Promise<ReadonlySet<string>> {
  const present = new Set<string>();
  for (let from = 0; from < ids.length; from += 500) {
    const some = await db
      .selectFrom("session")
      .select("id")
      .where("id", "in", ids.slice(from, from + 500))
      .where("removed_at", "is", null)
      .execute();
    for (const { id } of some) present.add(id);
  }
  return present;
}

type Columns = Record<TidyTableName, readonly DataColumn<never>[]>;
const columnsOf = ({ documents }: DataReader): Columns =>
  Object.fromEntries(tidyTableNames.map((table) => [table, tidyColumns(table, documents)])) as Columns;

/** All that is stored of a session. */
export async function wholeSession(reader: DataReader, sitting: Sitting, inFull: SessionInFull): Promise<WholeSession> {
  const { document } = sitting.release;
  const { records, log } = await reader.recordsAndLog(sitting);
  const pages = records.filter(({ kind }) => kind === "page");
  const session = sessionSource(sitting, inFull, { records: pages, last: records.at(-1) ?? null });
  return { document, facts: sitting.facts, seed: seedOf(document, sitting.row.sitting), records, log, session };
}

/** The rows of a session in each table, packed by columns. */
export async function rowsOfSession(
  reader: DataReader,
  sitting: Sitting,
  inFull: SessionInFull,
  { columns = columnsOf(reader), isKnown = false }: { columns?: Columns; isKnown?: boolean } = {},
) {
  const whole = await wholeSession(reader, sitting, inFull);
  const rows = Object.fromEntries(tidyTableNames.map((table) => [table, 0])) as RowCounts;
  const cells = tidyTableNames.flatMap((in_table) => {
    const sources = tidyTables[in_table].rows(whole) as readonly never[];
    rows[in_table] = sources.length;
    return columns[in_table].flatMap(({ name, read }) => {
      const bytes = packed(sources.map((source) => read(source)));
      // What was there before may be there no longer.
      const present = bytes ?? (isKnown ? noCells : null);
      return present === null ? [] : [{ in_table, name, cells: Buffer.from(present.buffer) }];
    });
  });
  return { id: sitting.row.id, made_of: madeOf(sitting), rows, cells };
}

/** Removes the rows of sessions of a study that are made of these columns. */
async function forgetSessions(
  tidy: Kysely<TidyTables>,
  ids: readonly string[],
  { study, columns }: { study: string; columns: Columns },
): Promise<void> {
  for (let from = 0; from < ids.length; from += 500) {
    const some = ids.slice(from, from + 500);
    // By column, as they lie.
    for (const table of tidyTableNames)
      for (const { name } of columns[table])
        await tidy
          .deleteFrom("tidy_cells")
          .where("study_id", "=", study)
          .where("in_table", "=", table)
          .where("name", "=", name)
          .where("session_id", "in", some)
          .execute();
    await tidy.deleteFrom("tidy_session").where("session_id", "in", some).execute();
  }
}
