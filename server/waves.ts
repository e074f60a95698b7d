import type { Selectable, Transaction } from "kysely";
import { countsUnderWay, whyNotBeginIn, type WavePlan, type WaveStanding, type WaveState } from "../core/collect/wave";
import type { WhyNot } from "../core/collect/terms";
import { hasSittings } from "../core/design/sittings";
import { lockStudy } from "./database/locked";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { stillThereSince, underWay } from "./under-way";
import { frozenDocument, hasRelease } from "./frozen-documents";

/** A wave of data collection. Sessions begin on the release it runs now, and keep theirs when it moves to another. */
export type Wave = {
  id: string;
  releaseId: string;
  plan: WavePlan;
  state: WaveState;
  /** What people read while it is paused or closed. */
  says: string;
  changedAt: string;
};
export type WaveRow = Selectable<Tables["wave"]>;
type Reading = Store["db"] | Transaction<Tables>;

/** What of a wave decides who begins in it. */
export type WaveNow = Pick<WaveRow, "id" | "study_id" | "release_id" | "plan" | "state" | "says">;

export const planOf = ({ plan }: Pick<WaveRow, "plan">): WavePlan => JSON.parse(plan) as WavePlan;

/** The waves of a study in the order in which they were made. */
export async function wavesOf(db: Reading, studyId: string): Promise<Wave[]> {
  const rows = await db.selectFrom("wave").selectAll().where("study_id", "=", studyId).orderBy("place").execute();
  return rows.map((row) => ({
    ...{ id: row.id, releaseId: row.release_id, plan: planOf(row), state: row.state },
    ...{ says: row.says, changedAt: row.changed_at },
  }));
}

/** The waves of a study in which sessions were begun. */
export async function begunWaves(db: Reading, studyId: string): Promise<string[]> {
  const rows = await db
    .selectFrom("session")
    .select("wave_id")
    .distinct()
    .where("study_id", "=", studyId)
    .where("wave_id", "is not", null)
    .execute();
  return rows.map(({ wave_id }) => wave_id ?? "");
}

/** A wave of a study; undefined where it has no such one. */
export const waveOf = (db: Reading, studyId: string, id: string): Promise<WaveRow | undefined> =>
  db.selectFrom("wave").selectAll().where("id", "=", id).where("study_id", "=", studyId).executeTakeFirst();

/** The waves of a study, for a query to look in. */
export const waveIds = (db: Reading, studyId: string) =>
  db.selectFrom("wave").select("id").where("study_id", "=", studyId);

export const releaseGone = "This release is gone. Load the page again.";
export const waveGone = "This wave is gone. Load the page again.";

export type WaveChange = { plan?: WavePlan; release?: string; state?: WaveState; says?: string };

/** Changes a wave: its plan, the release it runs, or whether it is open. Gives why it cannot be changed, null where it was. */
export const setWave = (
  { db }: Store,
  studyId: string,
  id: string,
  { plan, release, state, says }: WaveChange,
): Promise<string | null> =>
  db.transaction().execute(async (trx) => {
    await lockStudy(trx, studyId);
    const wave = await waveOf(trx, studyId, id);
    if (!wave) return waveGone;
    if (release !== undefined && !(await hasRelease(trx, studyId, release))) return releaseGone;
    await trx
      .updateTable("wave")
      .set({
        plan: plan === undefined ? wave.plan : JSON.stringify(plan),
        release_id: release ?? wave.release_id,
        state: state ?? wave.state,
        says: says ?? wave.says,
        changed_at: state === undefined || state === wave.state ? wave.changed_at : new Date().toISOString(),
      })
      .where("id", "=", id)
      .execute();
    return null;
  });

/** Removes a wave in which nothing was begun, with its links. Gives why it cannot be removed, null where it was. */
export const removeWave = ({ db }: Store, studyId: string, id: string): Promise<string | null> =>
  db.transaction().execute(async (trx) => {
    await lockStudy(trx, studyId);
    const waves = await wavesOf(trx, studyId);
    if (!waves.some((wave) => wave.id === id)) return waveGone;
    if (waves.length === 1) return "A study that was released has at least one wave.";
    const begun = await trx.selectFrom("session").select("id").where("wave_id", "=", id).executeTakeFirst();
    if (begun) return "In this wave sessions were begun, so it stays. Close it instead.";
    const links = trx.selectFrom("entry_link").select("token as of").where("wave_id", "=", id);
    const sets = trx.selectFrom("link_set").select("id as of").where("wave_id", "=", id);
    for (const table of ["end_code", "unsuited"] as const)
      await trx.deleteFrom(table).where("link", "in", links.union(sets)).execute();
    await trx.deleteFrom("entry_link").where("wave_id", "=", id).execute();
    await trx.deleteFrom("link_set").where("wave_id", "=", id).execute();
    await trx.deleteFrom("wave").where("id", "=", id).execute();
    return null;
  });

/** How a wave stands: what was finished in it and counts, and who is still under way, as far as its plan asks. */
async function standingOf(db: Reading, wave: WaveNow, plan: WavePlan): Promise<WaveStanding> {
  const stands = { state: wave.state, finished: 0, underWay: 0, now: Date.now() };
  if (plan.target === undefined || plan.closes === "by-hand") return stands;
  const document = await frozenDocument(db, wave.release_id);
  let counted = db
    .selectFrom("session")
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where("wave_id", "=", wave.id)
    .where("excluded_at", "is", null);
  // Where people come several times, they are counted by their first sitting.
  if (hasSittings(document)) counted = counted.where("sitting", "=", 1);
  const { count } = await counted.where("state", "=", "finished").executeTakeFirstOrThrow();
  if (!countsUnderWay(plan)) return { ...stands, finished: Number(count) };
  const inside = await counted
    .where("state", "=", "active")
    .where(underWay(stillThereSince(document)))
    .executeTakeFirstOrThrow();
  return { ...stands, finished: Number(count), underWay: Number(inside.count) };
}

/** Why nobody can begin in a wave just now; null where one can. */
export async function whyNotInWave(db: Reading, wave: WaveNow): Promise<WhyNot | null> {
  const plan = planOf(wave);
  return whyNotBeginIn(plan, await standingOf(db, wave, plan));
}

/** The wave within which groups and orders are filled evenly; null where they are over all of the study. */
export const filledWithin = (wave: Pick<WaveRow, "id" | "plan">): string | null =>
  planOf(wave).places === "wave" ? wave.id : null;
