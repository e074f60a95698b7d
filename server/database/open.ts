import { join } from "node:path";
import { Migrator, type Kysely } from "kysely";
import { mediaInFolder, type MediaKeeper } from "../media/keeper";
import { migrations } from "./migrations";
import { judgeOn, type Judge } from "../judging/judgments";
import { isPostgresAddress, isPostgresBusy, postgresAt, shownAddress } from "./postgres";
import { folderProblem, isSqliteBusy, sqliteIn } from "./sqlite";
import { tidyBeside } from "../tidy/beside";
import type { TidyTables } from "../tidy/database";
import { tombstonesIn, type Tombstones } from "../tombstones";
import { workshopHere, type Workshop } from "../workshop/workshop";
import { settleDeletion } from "./settle";
import type { Tables } from "./tables";
import { Writer } from "./writer";

export type Store = {
  db: Kysely<Tables>;
  /** Writing that shares its commit with what other requests write at the time: for what participants send. */
  write: Writer["write"];
  media: MediaKeeper;
  /** What was removed, also from copies of before. */
  tombstones: Tombstones;
  /** What takes its time with what came from outside. */
  workshop: Workshop;
  /** Which records can follow in a session. */
  judge: Judge;
  /** Flat rows made of the records, for results and exports; opened when they are first asked for. */
  tidy: () => Promise<Kysely<TidyTables>>;
  /** Told that a session of a study has ended, so that its rows can be made before anybody asks for them. */
  ended: (studyId: string) => void;
  /** Takes what was deleted out of what is on disk besides. */
  settle: () => Promise<void>;
  close: () => Promise<void>;
};
export type Opened = { ok: true; store: Store } | { ok: false; reason: string };

/**
 * Opens the database of a data folder, or the one at an address (`postgres://…`), and brings it up to date; a sentence for
 * people where that cannot be done. Media are in the folder either way.
 */
export async function openStore(folder: string, address: string | undefined = undefined): Promise<Opened> {
  const problem = folderProblem(folder) ?? (address === undefined ? null : addressProblem(address));
  if (problem) return { ok: false, reason: problem };
  const named = address === undefined ? folder : shownAddress(address);
  let db: Kysely<Tables>;
  try {
    db = address === undefined ? sqliteIn(folder) : postgresAt(address);
    const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
    const applied = (await migrator.getMigrations()).map(({ name }) => name);
    const unknown = (await appliedNames(db)).filter((name) => !applied.includes(name));
    if (unknown.length > 0) {
      await db.destroy();
      return {
        ok: false,
        reason: `The data in ${named} were written by a newer Lapwing (${unknown[0]}). Start that version, or choose another ${address === undefined ? "folder with LAPWING_DATA" : "database with LAPWING_DATABASE"}.`,
      };
    }
    const { error } = await migrator.migrateToLatest();
    if (error) throw error;
  } catch (error) {
    return {
      ok: false,
      reason: `The database ${address === undefined ? "in" : "at"} ${named} cannot be opened: ${error instanceof Error ? error.message : String(error)}.`,
    };
  }
  return { ok: true, store: storeOn(db, folder, address) };
}

/** A further connection to data that `openStore` has opened and brought up to date, for another thread of the same process. */
export const openedStore = (folder: string, address: string | undefined): Store =>
  storeOn(address === undefined ? sqliteIn(folder) : postgresAt(address), folder, address);

function storeOn(db: Kysely<Tables>, folder: string, address: string | undefined): Store {
  const writer = new Writer(db);
  const media = mediaInFolder(join(folder, "media"));
  const tidy = tidyBeside(db, folder, address);
  const tombstones = tombstonesIn(folder);
  return {
    db,
    write: (work) => writer.write(work),
    media,
    workshop: workshopHere(media),
    tombstones: {
      ...tombstones,
      // What is removed is removed from what was made of it, too.
      add: async (stones) => {
        await tombstones.add(stones);
        await tidy.forget(stones);
      },
    },
    judge: judgeOn({ db }),
    tidy: tidy.rows,
    ended: () => undefined,
    settle: async () => {
      await settleDeletion(db);
      await tidy.settle();
    },
    close: async () => {
      await tidy.close();
      await db.destroy();
    },
  };
}

const addressProblem = (address: string): string | null =>
  isPostgresAddress(address)
    ? null
    : `LAPWING_DATABASE is “${shownAddress(address)}”; it should begin with postgres://. Leave it out to keep the data in the folder.`;

/** Whether a failure is temporary, so that a retry may succeed. */
export const isBusy = (error: unknown): boolean => isSqliteBusy(error) || isPostgresBusy(error);

async function appliedNames(db: Kysely<Tables>): Promise<string[]> {
  const tables = await db.introspection.getTables({ withInternalKyselyTables: true });
  if (!tables.some(({ name }) => name === "kysely_migration")) return [];
  const rows = await (db as unknown as Kysely<{ kysely_migration: { name: string } }>)
    .selectFrom("kysely_migration")
    .select("name")
    .execute();
  return rows.map(({ name }) => name);
}
