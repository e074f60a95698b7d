import { LRUCache } from "lru-cache";
import { Onlooker, type Watched } from "../../core/run/onlooker";
import { otherTurns, type DataReader } from "../export/reader";
import { playedBy } from "../session-of-secret";

/** Longer sessions are not played again while somebody looks on. */
const mostRecords = 5000;
/** So many are played before others have their turn. */
const atOnce = 100;
const kept = new LRUCache<string, Onlooker>({ max: 20 });

/** What values are now in the session of a reader, and what its rules did and did not; null where it is too long for that. */
export async function watchedIn(reader: DataReader): Promise<Watched | null> {
  const [sitting] = reader.sittings;
  if (!sitting || sitting.row.records > mostRecords) return null;
  const { row, release } = sitting;
  const by = playedBy(row, release.document);
  // Once it has its place it is another plan, and once its device is told it begins otherwise.
  const key = JSON.stringify([row.id, by.participant, row.device]);
  const known = kept.get(key);
  const onlooker = known ?? new Onlooker(release.document, by);
  kept.set(key, onlooker);
  if (onlooker.position >= row.records) return onlooker.tell();
  const { records } = await reader.recordsAndLog(sitting);
  while (onlooker.position < records.length) {
    for (const record of records.slice(onlooker.position, onlooker.position + atOnce)) onlooker.see(record);
    await otherTurns();
  }
  return onlooker.tell();
}
