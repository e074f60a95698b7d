import type { Transaction } from "kysely";
import { cellKey, type CellCounts } from "../core/allocate/scheme";
import type { StudyDocument } from "../core/design/document";
import type { Orders } from "../core/order/parts";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { stillThereSince, underWay } from "./under-way";

/** The participants that count in each cell, over all waves or within one, by the study's own rule; a participant with several sittings counts once. */
export async function cellCounts(
  db: Store["db"] | Transaction<Tables>,
  studyId: string,
  { allocation }: Pick<StudyDocument, "allocation">,
  stratum: string | null,
  wave: string | null = null,
): Promise<CellCounts> {
  const { sessions, excluded } = allocation.counts;
  let query = db
    .selectFrom("session")
    .select(({ fn }) => ["group_id", "orders", fn.count<number>("participant").distinct().as("count")])
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .where("participant", ">", 0)
    // Who was not taken further holds no place.
    .where("state", "not in", ["screened-out", "declined"]);
  if (stratum !== null) query = query.where("stratum", "=", stratum);
  if (wave !== null) query = query.where("wave_id", "=", wave);
  if (excluded === "gives-back") query = query.where("excluded_at", "is", null);
  if (sessions === "finished") query = query.where("state", "=", "finished");
  if (sessions === "finished-and-active")
    query = query.where((eb) =>
      eb.or([
        eb("state", "=", "finished"),
        // Who has left holds no place any more, however lately they were seen.
        eb.and([eb("state", "=", "active"), underWay(stillThereSince({ allocation }))(eb)]),
      ]),
    );
  const rows = await query.groupBy(["group_id", "orders"]).execute();
  const counts = new Map<string, number>();
  for (const { group_id, orders, count } of rows) {
    const key = cellKey({ group: group_id, orders: JSON.parse(orders) as Orders });
    counts.set(key, (counts.get(key) ?? 0) + count);
  }
  return counts;
}
