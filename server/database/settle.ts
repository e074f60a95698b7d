import type { Kysely } from "kysely";
import { hasManyWriters } from "./locked";
import { cutLog } from "./sqlite";
import type { Tables } from "./tables";

const [againMs, mostTries] = [5000, 200];
const settling = new WeakSet<Kysely<Tables>>();

/**
 * What was deleted is overwritten where it stood (`secure_delete`); this takes it out of the write-ahead log too, now or, where
 * somebody is reading, as soon as nobody is. On PostgreSQL its own clearing away does that in time.
 */
export async function settleDeletion(db: Kysely<Tables>): Promise<void> {
  if (hasManyWriters(db) || (await cutLog(db)) || settling.has(db)) return;
  settling.add(db);
  const again = (left: number) =>
    setTimeout(() => {
      cutLog(db)
        .catch(() => true)
        .then((isDone) => (isDone || left === 0 ? settling.delete(db) : again(left - 1)));
    }, againMs).unref();
  again(mostTries);
}
