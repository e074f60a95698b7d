import type { Finding } from "../core/check/finding";
import { hasErrors } from "../core/check/preflight";
import { newId, newLinkToken } from "./chance";
import { lockStudy } from "./database/locked";
import type { Store } from "./database/open";
import { insertLink, type EntryLink } from "./links";
import type { Study } from "./studies";

/** A frozen version of a study. Its document comes from `frozenDocument`. */
export type Release = { id: string; number: number; revision: number; note: string; frozenAt: string };
export type Frozen = { ok: true; release: Release; link: EntryLink } | { ok: false; findings: Finding[] };

/** Freezes the study as it is saved under the next number, with an open entry link; refused while preflight finds errors. */
export async function freezeRelease(
  { db, workshop }: Store,
  study: Study,
  note: string,
  token: string = newLinkToken(),
): Promise<Frozen> {
  const findings = await workshop.judge(JSON.stringify(study.document));
  if (hasErrors(findings)) return { ok: false, findings: findings.filter(({ level }) => level === "error") };
  return db.transaction().execute(async (trx) => {
    await lockStudy(trx, study.id);
    const last = await trx
      .selectFrom("release")
      .select(({ fn }) => fn.max("number").as("number"))
      .where("study_id", "=", study.id)
      .executeTakeFirst();
    const release = {
      id: newId("release"),
      number: (last?.number ?? 0) + 1,
      revision: study.revision,
      note,
      frozenAt: new Date().toISOString(),
    };
    await trx
      .insertInto("release")
      .values({
        id: release.id,
        study_id: study.id,
        number: release.number,
        revision: release.revision,
        document: JSON.stringify(study.document),
        note,
        frozen_at: release.frozenAt,
      })
      .execute();
    const link = await insertLink(trx, { token, releaseId: release.id, label: "Open link" });
    return { ok: true, release, link };
  });
}

/** The snapshot a rehearsal of the study as it is saved plays; made once a revision. */
export async function rehearsalRelease({ db }: Store, study: Study): Promise<string> {
  const found = await db
    .selectFrom("release")
    .select("id")
    .where("study_id", "=", study.id)
    .where("number", "is", null)
    .where("revision", "=", study.revision)
    .executeTakeFirst();
  if (found) return found.id;
  const id = newId("release");
  await db
    .insertInto("release")
    .values({
      id,
      study_id: study.id,
      number: null,
      revision: study.revision,
      document: JSON.stringify(study.document),
      note: "rehearsal",
      frozen_at: new Date().toISOString(),
    })
    .execute();
  return id;
}

/** The releases of a study, newest first. */
export async function listReleases({ db }: Store, studyId: string): Promise<Release[]> {
  const rows = await db
    .selectFrom("release")
    .select(["id", "number", "revision", "note", "frozen_at"])
    .where("study_id", "=", studyId)
    .where("number", "is not", null)
    .orderBy("number", "desc")
    .execute();
  return rows.map((row) => ({
    id: row.id,
    number: row.number ?? 0,
    revision: row.revision,
    note: row.note,
    frozenAt: row.frozen_at,
  }));
}
