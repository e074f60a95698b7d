import { chmodSync, existsSync, rmSync } from "node:fs";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import { Kysely, sql, SqliteDialect, type SchemaModule } from "kysely";
import { withStatementsKept } from "../database/sqlite";
import type { TidyTableName } from "../../core/export/tidy-tables";

/** Of which columns a study's rows are made; where that changes they are made anew. */
type TidyStudyTable = { study_id: string; columns: string };
/** A session whose rows are there: of what they were made, and how many there are in each table. */
type TidySessionTable = { session_id: string; study_id: string; made_of: string; rows: string };
/** The cells of one column of a session, packed; none where all are empty. */
type TidyCellsTable = {
  study_id: string;
  in_table: TidyTableName;
  name: string;
  session_id: string;
  cells: Uint8Array;
};

export type TidyTables = { tidy_study: TidyStudyTable; tidy_session: TidySessionTable; tidy_cells: TidyCellsTable };

/** Makes the tables where they are not there. */
export async function makeTidyTables(schema: SchemaModule, bytes: "blob" | "bytea"): Promise<void> {
  await schema
    .createTable("tidy_study")
    .ifNotExists()
    .addColumn("study_id", "text", (c) => c.primaryKey())
    .addColumn("columns", "text", (c) => c.notNull())
    .execute();
  await schema
    .createTable("tidy_session")
    .ifNotExists()
    .addColumn("session_id", "text", (c) => c.primaryKey())
    .addColumn("study_id", "text", (c) => c.notNull())
    .addColumn("made_of", "text", (c) => c.notNull())
    .addColumn("rows", "text", (c) => c.notNull())
    .execute();
  await schema.createIndex("tidy_session_study").ifNotExists().on("tidy_session").column("study_id").execute();
  const cells = schema
    .createTable("tidy_cells")
    .ifNotExists()
    .addColumn("study_id", "text", (c) => c.notNull())
    .addColumn("in_table", "text", (c) => c.notNull())
    .addColumn("name", "text", (c) => c.notNull())
    .addColumn("session_id", "text", (c) => c.notNull())
    .addColumn("cells", bytes, (c) => c.notNull())
    // All sessions of a column lie together.
    .addPrimaryKeyConstraint("tidy_cells_key", ["study_id", "in_table", "name", "session_id"]);
  await (bytes === "blob" ? cells.modifyEnd(sql`without rowid`) : cells).execute();
}

/** Where they lie in a data folder: beside the records, so that neither waits for the other. */
export const tidyIn = (folder: string): string => join(folder, "tidy.db");

/** The tables of a data folder, in a file of their own that can be thrown away at any time. */
export async function tidySqlite(folder: string): Promise<Kysely<TidyTables>> {
  try {
    return await opened(folder);
  } catch (error) {
    if (!isBroken(error)) throw error;
    for (const end of ends) rmSync(tidyIn(folder) + end, { force: true });
    return opened(folder);
  }
}

const ends = ["", "-wal", "-shm"];
const isBroken = (error: unknown) =>
  error instanceof Error && "code" in error && /^SQLITE_(CORRUPT|NOTADB)/.test(String(error.code));

async function opened(folder: string): Promise<Kysely<TidyTables>> {
  const file = new Sqlite(tidyIn(folder));
  try {
    file.pragma("busy_timeout = 10000");
    file.pragma("page_size = 8192");
    file.pragma("journal_mode = WAL");
    // What is lost with the machine's power can be made again.
    file.pragma("synchronous = NORMAL");
    file.pragma("secure_delete = ON");
    const db = new Kysely<TidyTables>({ dialect: new SqliteDialect({ database: withStatementsKept(file) }) });
    await makeTidyTables(db.schema, "blob");
    for (const end of ends) if (existsSync(tidyIn(folder) + end)) chmodSync(tidyIn(folder) + end, 0o600);
    return db;
  } catch (error) {
    file.close();
    throw error;
  }
}
