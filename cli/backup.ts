import { existsSync } from "node:fs";
import { resolve } from "node:path";
import { backUp, restore } from "../server/backup";
import { copyTo, databaseIn } from "../server/database/sqlite";
import { Plain } from "./arguments";

const dataFolder = () => resolve(process.env.LAPWING_DATA ?? "lapwing-data");

/** `backup FILE`: everything as a zip; as FILE.db the database alone, without media, which never change and may be copied by themselves. */
export async function backupTo(file: string | undefined): Promise<number> {
  if (!file) throw new Plain("Say where to write the copy, for example backup-2026-11-23.zip.");
  if (existsSync(file)) throw new Plain(`${file} already exists. Choose another name; nothing is overwritten.`);
  if (process.env.LAPWING_DATABASE)
    throw new Plain("The database is on PostgreSQL: copy it with pg_dump, and the data folder’s media/ beside it.");
  const folder = dataFolder();
  if (!existsSync(databaseIn(folder))) throw new Plain(`There is no database in ${folder}.`);
  const target = resolve(file);
  await (file.endsWith(".db") ? copyTo(folder, target) : backUp(folder, target)).catch(() => {
    throw new Plain(`The copy could not be written to ${file}.`);
  });
  console.log(file);
  return 0;
}

/** `restore FILE`: puts such a copy back into the data folder. */
export async function restoreFrom(file: string | undefined): Promise<number> {
  if (!file) throw new Plain("Say which copy to put back, for example backup-2026-11-23.zip.");
  if (!existsSync(file)) throw new Plain(`There is no file ${file}.`);
  if (process.env.LAPWING_DATABASE)
    throw new Plain("The database is on PostgreSQL: put it back with pg_restore, and media/ into the data folder.");
  const folder = dataFolder();
  const done = await restore(folder, resolve(file));
  if (!done.ok) throw new Plain(done.reason);
  console.log(`Restored into ${folder}, with ${done.media} media ${done.media === 1 ? "file" : "files"}.`);
  if (done.aside !== null) console.log(`What was there before is in ${done.aside}.`);
  return 0;
}
