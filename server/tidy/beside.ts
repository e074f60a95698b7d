import { existsSync } from "node:fs";
import type { Kysely } from "kysely";
import { settleDeletion } from "../database/settle";
import type { Tables } from "../database/tables";
import type { Tombstone } from "../tombstones";
import { tidyIn, tidySqlite, type TidyTables } from "./database";
import { forgetTidy } from "./forget";

/** The tidy rows that belong to a database: opened when they are first asked for. */
export type TidyBeside = {
  rows: () => Promise<Kysely<TidyTables>>;
  /** Removes what was made of what is removed. */
  forget: (stones: readonly Tombstone[]) => Promise<void>;
  /** The same once more, now that it is gone, since it may just have been made again; and out of what is on disk besides. */
  settle: () => Promise<void>;
  close: () => Promise<void>;
};

/** On SQLite they lie in a file of their own; on PostgreSQL nobody waits for whoever writes other rows, and they lie in the same database. */
export function tidyBeside(db: Kysely<Tables>, folder: string, address: string | undefined): TidyBeside {
  let opened: Promise<Kysely<TidyTables>> | null = null;
  const rows = () =>
    (opened ??= address === undefined ? tidySqlite(folder) : Promise.resolve(db as unknown as Kysely<TidyTables>));
  let unsettled: Tombstone[] = [];
  return {
    rows,
    forget: async (stones) => {
      if (address === undefined && !existsSync(tidyIn(folder))) return;
      unsettled.push(...stones);
      await forgetTidy(await rows(), stones);
    },
    settle: async () => {
      if (opened === null) return;
      const stones = unsettled;
      unsettled = [];
      await forgetTidy(await opened, stones);
      if (address === undefined) await settleDeletion((await opened) as unknown as Kysely<Tables>);
    },
    close: async () => {
      if (opened && address === undefined) await (await opened).destroy();
    },
  };
}
