import { accessSync, chmodSync, constants, existsSync, mkdirSync } from "node:fs";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import { LRUCache } from "lru-cache";
import { Kysely, sql, SqliteDialect, type SqliteDatabase, type SqliteStatement } from "kysely";
import type { Tables } from "./tables";

/** Where the database of a data folder lies. */
export const databaseIn = (folder: string): string => join(folder, "lapwing.db");

const waitsForOthers = "pragma busy_timeout = 5000";

/** All that only SQLite has stands in this file. */
export function sqliteIn(folder: string): Kysely<Tables> {
  const file = new Sqlite(databaseIn(folder));
  for (const end of ["", "-wal", "-shm"])
    if (existsSync(databaseIn(folder) + end)) chmodSync(databaseIn(folder) + end, 0o600);
  file.pragma("journal_mode = WAL");
  file.pragma("synchronous = FULL");
  file.pragma("foreign_keys = ON");
  // What is deleted is overwritten.
  file.pragma("secure_delete = ON");
  file.exec(waitsForOthers);
  return new Kysely<Tables>({ dialect: new SqliteDialect({ database: withStatementsKept(file) }) });
}

/** Statements kept prepared: the same few are run for every record that comes in. */
const mostStatements = 400;

/** A database that keeps statements prepared. */
export function withStatementsKept(file: Sqlite.Database): SqliteDatabase {
  const kept = new LRUCache<string, Sqlite.Statement>({ max: mostStatements });
  return {
    close: () => void file.close(),
    prepare: (sql) => {
      // A statement that is walked through row by row must not be begun a second time meanwhile; only these are read at once.
      const known = kept.get(sql);
      if (known && !known.busy) return known as unknown as SqliteStatement;
      const made = file.prepare(sql);
      kept.set(sql, made);
      return made as unknown as SqliteStatement;
    },
  };
}

/**
 * Whether writing failed because the database was locked, the disk full or not to be written: trying again later may help.
 * On such an error SQLite undoes a transaction by itself, so that the rollback that follows finds none.
 */
export const isSqliteBusy = (error: unknown): boolean =>
  error instanceof Error &&
  "code" in error &&
  (/^SQLITE_(BUSY|LOCKED|FULL|IOERR|READONLY|CANTOPEN|NOMEM)/.test(String(error.code)) ||
    /no transaction is active/.test(error.message));

/**
 * Takes what was deleted out of the write-ahead log too. It waits for nobody, since everybody would wait with it: false
 * where somebody is reading just then.
 */
export const cutLog = (db: Kysely<Tables>): Promise<boolean> =>
  db.connection().execute(async (one) => {
    await sql`pragma busy_timeout = 0`.execute(one);
    try {
      const { rows } = await sql<{ busy: number }>`pragma wal_checkpoint(TRUNCATE)`.execute(one);
      return rows[0]?.busy === 0;
    } finally {
      await sql.raw(waitsForOthers).execute(one);
    }
  });

/** A consistent copy of the database in one file, made while it is in use. The file must not be there yet. */
export async function copyTo(folder: string, target: string): Promise<void> {
  const file = new Sqlite(databaseIn(folder), { readonly: true, fileMustExist: true });
  try {
    await file.backup(target);
  } finally {
    file.close();
  }
}

/** Whether a process works with a database just now: each keeps the file shared for as long as it has it open. */
export function isInUse(database: string): boolean {
  const file = new Sqlite(database, { fileMustExist: true, timeout: 0 });
  try {
    file.pragma("locking_mode = EXCLUSIVE");
    file.exec("begin exclusive; rollback");
    return false;
  } catch (error) {
    if (isSqliteBusy(error)) return true;
    throw error;
  } finally {
    file.close();
  }
}

/** Whether a file is a whole database of Lapwing. */
export function isWhole(database: string): boolean {
  try {
    const file = new Sqlite(database, { readonly: true, fileMustExist: true });
    try {
      const own = file.prepare("select 1 from sqlite_master where type = 'table' and name = 'study'").get();
      return own !== undefined && file.pragma("quick_check", { simple: true }) === "ok";
    } finally {
      file.close();
    }
  } catch {
    return false;
  }
}

/** Makes the data folder where needed; returns a sentence saying why it cannot be used, or null. */
export function folderProblem(folder: string): string | null {
  try {
    mkdirSync(join(folder, "media"), { recursive: true, mode: 0o700 });
    for (const each of [folder, join(folder, "media")]) chmodSync(each, 0o700);
    for (const each of [folder, join(folder, "media")])
      accessSync(each, constants.W_OK | constants.R_OK | constants.X_OK);
    return null;
  } catch {
    return `The data folder ${folder} cannot be written. Choose another with LAPWING_DATA, or give this account the right to write there.`;
  }
}
