import { LRUCache } from "lru-cache";
import { seedOf } from "../../core/compile/seed";
import { watched, type Watched } from "../../core/run/watched";
import type { Orders } from "../../core/order/parts";
import type { Store } from "../database/open";
import { DataReader } from "../export/reader";
import { givenIn } from "../session-of-secret";
import type { Study } from "../studies";

/** Longer sessions are not played again while somebody looks on: it would keep others waiting. */
const mostRecords = 1500;
const kept = new LRUCache<string, Watched>({ max: 50 });

/** What values are now in a session, and what its rules did and did not; null where it is too long for that, or gone. */
export async function watchedIn(store: Store, study: Study, session: string): Promise<Watched | null> {
  const reader = await DataReader.open(store, study, { pilots: true });
  const sitting = reader.sittings.find(({ facts }) => facts.session === session);
  if (!sitting || sitting.row.records > mostRecords) return null;
  const { row, release } = sitting;
  const key = `${session} ${row.records}`;
  const known = kept.get(key);
  if (known) return known;
  const { records } = await reader.everythingOf(sitting);
  const by = {
    participant: row.participant,
    entered: row.entered === 0 ? row.participant : row.entered,
    group: row.group_id,
    orders: JSON.parse(row.orders) as Orders,
    seed: seedOf(release.document, row.sitting),
    given: givenIn(row),
  };
  const made = watched(release.document, by, records);
  kept.set(key, made);
  return made;
}
