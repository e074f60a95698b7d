import type { Transaction } from "kysely";
import { newWavePlan } from "../core/collect/wave";
import { newId } from "./chance";
import { lockStudy } from "./database/locked";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { hasRelease } from "./frozen-documents";
import { insertLink, type EntryLink } from "./links";
import { releaseGone } from "./waves";

/** Writes a wave down, with an open link. The study is locked. */
export async function insertWave(
  trx: Transaction<Tables>,
  { studyId, releaseId, name, token }: { studyId: string; releaseId: string; name: string; token?: string },
): Promise<{ id: string; link: EntryLink }> {
  const last = await trx
    .selectFrom("wave")
    .select(({ fn }) => fn.max("place").as("place"))
    .where("study_id", "=", studyId)
    .executeTakeFirst();
  const [id, at] = [newId("wave"), new Date().toISOString()];
  await trx
    .insertInto("wave")
    .values({
      ...{ id, study_id: studyId, place: (last?.place ?? -1) + 1, release_id: releaseId },
      ...{ plan: JSON.stringify(newWavePlan(name)), state: "open" as const, says: "", changed_at: at, created_at: at },
    })
    .execute();
  const link = await insertLink(trx, { waveId: id, label: "Open link", ...(token === undefined ? {} : { token }) });
  return { id, link };
}

/** A study has no more waves than this. */
const mostWaves = 200;

/** Makes another wave on a release of a study, with an open link: gives its id, or tells why it cannot be made. */
export const addWave = (
  { db }: Store,
  studyId: string,
  releaseId: string,
  name: string,
): Promise<{ id: string } | { reason: string }> =>
  db.transaction().execute(async (trx) => {
    await lockStudy(trx, studyId);
    if (!(await hasRelease(trx, studyId, releaseId))) return { reason: releaseGone };
    const { count } = await trx
      .selectFrom("wave")
      .select(({ fn }) => fn.countAll<number>().as("count"))
      .where("study_id", "=", studyId)
      .executeTakeFirstOrThrow();
    if (Number(count) >= mostWaves) return { reason: `A study has at most ${mostWaves} waves.` };
    return insertWave(trx, { studyId, releaseId, name });
  });
