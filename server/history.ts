import type { Store } from "./database/open";
import type { Study } from "./studies";

/** A point in a study's history: a revision after which nothing was saved for a while, or one that has a name. */
export type HistoryPoint = {
  revision: number;
  /** ISO 8601, UTC. */
  savedAt: string;
  name: string | null;
  /** Saves since the point before. */
  saves: number;
};

/** The beginning is a point. A pause in editing this long makes one; without a pause, so does this much time. */
const pauseMs = 10 * 60_000;
const longestMs = 60 * 60_000;

/** The points in time of a study, newest first. */
export async function historyOf({ db }: Store, study: Study): Promise<HistoryPoint[]> {
  const [revisions, named, made] = await Promise.all([
    db
      .selectFrom("study_revision")
      .select(["revision", "saved_at"])
      .where("study_id", "=", study.id)
      .orderBy("revision")
      .execute(),
    db.selectFrom("study_version").select(["revision", "name"]).where("study_id", "=", study.id).execute(),
    db.selectFrom("study").select("created_at").where("id", "=", study.id).executeTakeFirstOrThrow(),
  ]);
  const names = new Map(named.map(({ revision, name }) => [revision, name]));
  const all = [{ revision: 1, saved_at: made.created_at }, ...revisions];
  const points: HistoryPoint[] = [];
  let [saves, since] = [0, Date.parse(made.created_at)];
  all.forEach(({ revision, saved_at }, index) => {
    saves++;
    const [at, next] = [Date.parse(saved_at), all[index + 1]];
    const name = names.get(revision) ?? null;
    const isPoint =
      revision === 1 || name !== null || !next || Date.parse(next.saved_at) - at >= pauseMs || at - since >= longestMs;
    if (!isPoint) return;
    points.push({ revision, savedAt: saved_at, name, saves });
    [saves, since] = [0, next ? Date.parse(next.saved_at) : at];
  });
  return points.reverse();
}

/** Gives a revision a name, or another one; an empty name takes it away. */
export async function nameVersion({ db }: Store, study: Study, revision: number, name: string): Promise<void> {
  const named = name.trim().slice(0, 80);
  await db.transaction().execute(async (trx) => {
    await trx.deleteFrom("study_version").where("study_id", "=", study.id).where("revision", "=", revision).execute();
    if (named !== "" && revision >= 1 && revision <= study.revision)
      await trx
        .insertInto("study_version")
        .values({ study_id: study.id, revision, name: named, named_at: new Date().toISOString() })
        .execute();
  });
}
