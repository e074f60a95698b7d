import { sql } from "kysely";
import { enoughScenes, manyLate, liveMessages } from "../core/collect/live";
import { groupOfKey, shareOf } from "../core/allocate/scheme";
import { partsInOrder } from "../core/design/lookup";
import type { StudyDocument } from "../core/design/document";
import { quantile } from "../core/timing/report";
import type { Id } from "../core/values/ref";
import { cellCounts } from "./cell-counts";
import type { Store } from "./database/open";
import { brokenOff } from "./session-list";
import { filledWithin, waveOf } from "./waves";

/** How a wave goes, for those who look after it. */
export type LiveSummary = {
  /** Minutes from the beginning to the end of finished sessions; null before the first. */
  minutes: { median: number; lower: number; upper: number } | null;
  /** At which part people left, those by whom it was last recorded; null is before the first record. */
  leaving: { part: Id | null; count: number }[];
  /** How many participants count in each cell of group and orders, by its key; those with none are left out. */
  cells: Record<string, number>;
  /** What needs somebody. */
  messages: string[];
};

/** The summary of a wave of a study, by the release it runs. */
export async function liveSummary(
  store: Store,
  studyId: string,
  waveId: string | null,
  document: StudyDocument,
): Promise<LiveSummary> {
  const { db } = store;
  let own = db
    .selectFrom("session")
    .where("session.study_id", "=", studyId)
    .where("pilot", "=", 0)
    .where("excluded_at", "is", null);
  if (waveId !== null) own = own.where("wave_id", "=", waveId);
  const finished = await own.select(["started_at", "finished_at"]).where("state", "=", "finished").execute();
  const minutes = finished
    .map((row) => (Date.parse(row.finished_at ?? row.started_at) - Date.parse(row.started_at)) / 60_000)
    .sort((a, b) => a - b);
  // Not a parameter: PostgreSQL takes the same number, sent twice, for two expressions.
  const isUnread = sql<boolean>`records = 0`;
  const isLeft = await brokenOff(store, studyId);
  const left = await own
    .select("part")
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .select(isUnread.as("isUnread"))
    .where((eb) => eb.or([eb("state", "=", "withdrawn"), isLeft(eb)]))
    .groupBy(["part", isUnread])
    .execute();
  const parts = partsInOrder(document);
  const order = new Map<Id | null, number>([[null, -1], ...parts.map(({ id }, index) => [id, index] as const)]);
  const byPart = new Map<Id | null, number>();
  for (const { part, isUnread, count } of left) {
    const at = isUnread ? null : part;
    byPart.set(at, (byPart.get(at) ?? 0) + Number(count));
  }
  const leaving = [...byPart]
    .map(([part, count]) => ({ part, count }))
    .toSorted((a, b) => (order.get(a.part) ?? Infinity) - (order.get(b.part) ?? Infinity));
  const told = await own
    .select(({ fn }) => fn.countAll<number>().as("started"))
    .select(sql<number>`coalesce(sum(case when scenes >= ${enoughScenes} then 1 else 0 end), 0)`.as("timed"))
    .select(
      sql<number>`coalesce(sum(case when scenes >= ${enoughScenes} and late > cast(${manyLate} as real) * scenes then 1 else 0 end), 0)`.as(
        "late",
      ),
    )
    .executeTakeFirstOrThrow();
  const aside = await own
    .innerJoin("refused_record", "refused_record.session_id", "session.id")
    .select(({ fn }) => fn.count<number>("session.id").distinct().as("count"))
    .executeTakeFirstOrThrow();
  const wave = waveId === null ? undefined : await waveOf(db, studyId, waveId);
  const cells = await cellCounts(db, studyId, document, null, wave ? filledWithin(wave) : null);
  const inGroup = (id: Id) => [...cells].reduce((sum, [key, count]) => sum + (groupOfKey(key) === id ? count : 0), 0);
  const isEven = document.allocation.method === "permuted-blocks" || document.allocation.method === "least-filled";
  return {
    minutes:
      minutes.length === 0
        ? null
        : { median: quantile(minutes, 0.5), lower: quantile(minutes, 0.25), upper: quantile(minutes, 0.75) },
    leaving,
    cells: Object.fromEntries(cells),
    messages: liveMessages({
      started: Number(told.started),
      leaving: leaving.map(({ part, count }) => ({
        part: part === null ? "" : (parts.find(({ id }) => id === part)?.name ?? "a part of an earlier release"),
        count,
      })),
      groups: isEven
        ? document.groups.map((group) => ({ name: group.name, count: inGroup(group.id), share: shareOf(group) }))
        : [],
      timed: Number(told.timed),
      late: Number(told.late),
      keptAside: Number(aside.count),
    }),
  };
}

/** What changes whenever something happens in a study's sessions: cheap to ask for again and again. */
export async function pulseOf({ db }: Store, studyId: string): Promise<string> {
  const row = await db
    .selectFrom("session")
    .select(({ fn }) => [
      fn.countAll<number>().as("all"),
      fn.max("seen_at").as("seen"),
      fn.sum<number>("records").as("records"),
      fn.count<number>("excluded_at").as("excluded"),
    ])
    .where("study_id", "=", studyId)
    .executeTakeFirst();
  return JSON.stringify(row);
}
