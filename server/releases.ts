import * as yup from "yup";
import type { Finding } from "../core/check/finding";
import { hasErrors } from "../core/check/preflight";
import { differencesInWords } from "../core/describe/differences";
import { newId } from "./chance";
import { lockStudy } from "./database/locked";
import { frozenDocument } from "./frozen-documents";
import type { Store } from "./database/open";
import type { EntryLink } from "./links";
import { insertWave } from "./new-wave";
import { wavesOf } from "./waves";
import type { Study } from "./studies";

/** What preflight noted of a release, which whoever released it took with it. */
export type Accepted = Pick<Finding, "level" | "where" | "message">;
/** A frozen version of a study. Its document comes from `frozenDocument`. */
export type Release = {
  id: string;
  number: number;
  revision: number;
  /** What changed since the one before. */
  note: string;
  frozenAt: string;
  /** The name of who released it; empty where that is not known. */
  by: string;
  accepted: Accepted[];
};
/** `link`: the open link of the first wave, which comes with the first release; null with later ones. */
export type Frozen = { ok: true; release: Release; link: EntryLink | null } | { ok: false; findings: Finding[] };

/** `by`: the name of who releases it; `waves`: those that run it from now on; `token`: the one of the first wave's link. */
export type Freezing = { by?: string; waves?: readonly string[]; token?: string };

/**
 * Freezes the study as it is saved under the next number; refused while preflight finds errors. With the first release comes
 * the first wave, with an open link. Waves that are to run it move to it; sessions under way keep theirs.
 */
export async function freezeRelease(
  { db, workshop }: Store,
  study: Study,
  note: string,
  { by = "", waves = [], token }: Freezing = {},
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
    const release: Release = {
      id: newId("release"),
      number: (last?.number ?? 0) + 1,
      revision: study.revision,
      note,
      frozenAt: new Date().toISOString(),
      by,
      accepted: findings.map(({ level, where, message }) => ({ level, where, message })),
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
        by_whom: by,
        accepted: JSON.stringify(release.accepted),
      })
      .execute();
    if (waves.length > 0)
      await trx
        .updateTable("wave")
        .set({ release_id: release.id })
        .where("study_id", "=", study.id)
        .where("id", "in", waves)
        .execute();
    const isFirst = (await wavesOf(trx, study.id)).length === 0;
    const first = {
      studyId: study.id,
      releaseId: release.id,
      name: "First wave",
      ...(token === undefined ? {} : { token }),
    };
    return { ok: true, release, link: isFirst ? (await insertWave(trx, first)).link : null };
  });
}

/** What whoever releases a study says of it: a note of their own, and the waves that are to run it. */
export const freezing = yup
  .object({
    note: yup.string().max(500).defined(),
    waves: yup.array(yup.string().max(100).required()).max(1000).required(),
  })
  .noUnknown();

/** Freezes the study as it is saved; without a note of its own it tells the first few changes since the release before. */
export async function releaseAnew(
  store: Store,
  study: Study,
  { note, waves, by }: yup.InferType<typeof freezing> & { by: string },
): Promise<Frozen> {
  const [before] = await listReleases(store, study.id);
  const told = async () =>
    before
      ? differencesInWords(await frozenDocument(store.db, before.id), study.document)
          .slice(0, 4)
          .join(" ") || "Nothing changed."
      : "First release.";
  return freezeRelease(store, study, note.trim() || (await told()), { by, waves });
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
    .select(["id", "number", "revision", "note", "frozen_at", "by_whom", "accepted"])
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
    by: row.by_whom,
    accepted: JSON.parse(row.accepted) as Accepted[],
  }));
}

/** The release of a study with this number, as an address says it; undefined where there is none. */
export const releaseNumbered = async (store: Store, studyId: string, said: string): Promise<Release | undefined> =>
  (await listReleases(store, studyId)).find(({ number }) => String(number) === said);
export const noRelease = (said: string): string => `There is no release ${said} of this study.`;
