import { accessSync, constants, mkdirSync } from "node:fs";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import { Kysely, SqliteDialect } from "kysely";
import type { Tables } from "./tables";

/** All that only SQLite has stands in this file. */
export function sqliteIn(folder: string): Kysely<Tables> {
  const file = new Sqlite(join(folder, "lapwing.db"));
  file.pragma("journal_mode = WAL");
  file.pragma("synchronous = FULL");
  file.pragma("foreign_keys = ON");
  file.pragma("busy_timeout = 5000");
  return new Kysely<Tables>({ dialect: new SqliteDialect({ database: file }) });
}

/** Makes the data folder where needed; returns a sentence saying why it cannot be used, or null. */
export function folderProblem(folder: string): string | null {
  try {
    mkdirSync(join(folder, "media"), { recursive: true });
    for (const each of [folder, join(folder, "media")])
      accessSync(each, constants.W_OK | constants.R_OK | constants.X_OK);
    return null;
  } catch {
    return `The data folder ${folder} cannot be written. Choose another with LAPWING_DATA, or give this account the right to write there.`;
  }
}
