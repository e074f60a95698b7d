import type { Id } from "../core/values/ref";
import type { Orders } from "../core/order/parts";
import type { Store } from "./database/open";
import type { SessionState } from "./database/tables";
import { frozenDocument } from "./frozen-documents";

export type SessionLine = {
  id: string;
  participant: number;
  group: Id;
  orders: Orders;
  sitting: number;
  excluded: boolean;
  pilot: boolean;
  state: SessionState | "broken off";
  trials: number;
  trialsPlanned: number;
  part: string | null;
  startedAt: string;
  seenAt: string;
  finishedAt: string | null;
  release: number | null;
  releaseId: string;
  /** Records that came under a number taken by a different one. */
  keptAside: number;
  /** The participant left and, as the study says, its records were removed. */
  removed: boolean;
};

/** All sessions of a study, newest first. */
export async function listSessions({ db }: Store, studyId: string): Promise<SessionLine[]> {
  const rows = await db
    .selectFrom("session")
    .selectAll()
    .where("study_id", "=", studyId)
    .orderBy("started_at", "desc")
    .orderBy("participant", "desc")
    .execute();
  const numbers = await db.selectFrom("release").select(["id", "number"]).where("study_id", "=", studyId).execute();
  const refused = await db
    .selectFrom("refused_record")
    .innerJoin("session", "session.id", "refused_record.session_id")
    .select(({ fn }) => ["session_id", fn.countAll<number>().as("count")])
    .where("session.study_id", "=", studyId)
    .groupBy("session_id")
    .execute();
  const aside = new Map(refused.map(({ session_id, count }) => [session_id, count]));
  const byRelease = new Map<string, { number: number | null; stillThere: number }>();
  const played = new Set(rows.map(({ release_id }) => release_id));
  for (const { id, number } of numbers) {
    if (!played.has(id)) continue;
    const { activeMinutes } = (await frozenDocument(db, id)).allocation.counts;
    byRelease.set(id, { number, stillThere: Date.now() - activeMinutes * 60_000 });
  }
  return rows.map((row) => ({
    id: row.id,
    participant: row.participant,
    group: row.group_id,
    orders: JSON.parse(row.orders) as Orders,
    sitting: row.sitting,
    excluded: row.excluded_at !== null,
    pilot: row.pilot === 1,
    state:
      row.state !== "active"
        ? row.state
        : Date.parse(row.seen_at) > (byRelease.get(row.release_id)?.stillThere ?? 0)
          ? "active"
          : "broken off",
    trials: row.trials,
    trialsPlanned: row.trials_planned,
    part: row.part,
    startedAt: row.started_at,
    seenAt: row.seen_at,
    finishedAt: row.finished_at,
    release: byRelease.get(row.release_id)?.number ?? null,
    releaseId: row.release_id,
    keptAside: aside.get(row.id) ?? 0,
    removed: row.removed_at !== null,
  }));
}
