import { parseStudy, storedDocument } from "../core/design/parse";
import type { Patch } from "immer";
import type { Selectable } from "kysely";
import { newStudy } from "../core/design/new-study";
import { safelyPatched } from "../core/design/edits/patch-problem";
import { starters } from "../core/design/starters/registry";
import { studyFrom } from "../core/design/starters/starter";
import type { StudyDocument } from "../core/design/document";
import { newId, newSeed, newStudyCode } from "./chance";
import { locked } from "./database/locked";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import type { Role } from "../core/rights/rights";
import { rolesIn } from "./rights";

export type Study = {
  id: string;
  ownerId: string;
  code: string;
  document: StudyDocument;
  revision: number;
  editedAt: string;
  binnedAt: string | null;
};
export type Saved =
  | { ok: true; revision: number; savedAt: string }
  | { ok: false; kind: "newer"; revision: number; document: StudyDocument }
  | { ok: false; kind: "refused"; mistakes: string[] };

const now = () => new Date().toISOString();
const asStudy = (row: Selectable<Tables["study"]>): Study => ({
  id: row.id,
  ownerId: row.owner_id,
  code: row.code,
  document: storedDocument(row.document),
  revision: row.revision,
  editedAt: row.edited_at,
  binnedAt: row.binned_at,
});

/** A study by its code with what somebody is in it; null for anything else, also where they have nothing to do with it. */
export async function findStudy(
  { db }: Store,
  accountId: string,
  code: string,
): Promise<(Study & { roles: Role[] }) | null> {
  const row = await db.selectFrom("study").selectAll().where("code", "=", code).executeTakeFirst();
  const roles = row ? await rolesIn(db, accountId, row.id) : [];
  return row && roles.length > 0 ? { ...asStudy(row), roles } : null;
}

/** A study by its code, as it is known without reading it. */
export type Standing = { id: string; code: string; revision: number; roles: Role[] };

/** The revision a study stands at and what somebody is in it, without reading it; null where they have nothing to do with it. */
export async function standingIn({ db }: Store, accountId: string, code: string): Promise<Standing | null> {
  const row = await db.selectFrom("study").select(["id", "revision"]).where("code", "=", code).executeTakeFirst();
  const roles = row ? await rolesIn(db, accountId, row.id) : [];
  return row && roles.length > 0 ? { id: row.id, code, revision: row.revision, roles } : null;
}

/** The study as it was at an earlier revision, by taking back what was saved since; null where that is not possible. */
export async function documentAt({ db }: Store, study: Study, revision: number): Promise<StudyDocument | null> {
  if (revision === study.revision) return study.document;
  if (!(revision >= 1 && revision < study.revision)) return null;
  const later = await db
    .selectFrom("study_revision")
    .select(["revision", "inverse"])
    .where("study_id", "=", study.id)
    .where("revision", ">", revision)
    .where("revision", "<=", study.revision)
    .orderBy("revision", "desc")
    .execute();
  if (later.length !== study.revision - revision) return null;
  try {
    // What leads back came from a browser too, so that it is looked at like any change.
    let document: StudyDocument = study.document;
    for (const { inverse } of later) {
      const made = safelyPatched(document, JSON.parse(inverse) as Patch[]);
      if (!made.ok) return null;
      document = made.result as StudyDocument;
    }
    const parsed = parseStudy(document);
    return parsed.ok ? parsed.document : null;
  } catch {
    return null;
  }
}

/** A study by its code whoever owns it: for the command line. */
export async function findStudyByCode({ db }: Store, code: string): Promise<Study | null> {
  const row = await db.selectFrom("study").selectAll().where("code", "=", code).executeTakeFirst();
  return row ? asStudy(row) : null;
}

/** A study by its id whoever owns it. */
export async function findStudyById({ db }: Store, id: string): Promise<Study | null> {
  const row = await db.selectFrom("study").selectAll().where("id", "=", id).executeTakeFirst();
  return row ? asStudy(row) : null;
}

/** Keeps a document as a new study, under a code and an id of its own or those asked for. */
export async function addStudy(
  store: Store,
  ownerId: string,
  document: StudyDocument,
  wantedCode?: string,
  id = newId("study"),
): Promise<Study> {
  const { db } = store;
  for (let attempt = 0; ; attempt++) {
    const code = wantedCode ?? (attempt < 20 ? newStudyCode() : `${newStudyCode()}-${attempt}`);
    const at = now();
    const made = await db
      .insertInto("study")
      .values({
        id,
        owner_id: ownerId,
        code,
        document: JSON.stringify(document),
        revision: 1,
        created_at: at,
        edited_at: at,
        binned_at: null,
      })
      .onConflict((conflict) => conflict.column("code").doNothing())
      .executeTakeFirst();
    if (made.numInsertedOrUpdatedRows !== 0n)
      return { id, ownerId, code, document, revision: 1, editedAt: at, binnedAt: null };
    if (wantedCode) throw new Error(`The code ${wantedCode} is taken`);
  }
}

/** A new study, blank or from the starter design asked for. */
export function createStudy(store: Store, ownerId: string, title: string, starterId = ""): Promise<Study> {
  const starter = starters.find(({ id }) => id === starterId);
  const document = starter ? studyFrom(starter, newId, title, newSeed()) : newStudy(newId, title, newSeed());
  return addStudy(store, ownerId, document);
}

/** A copy for somebody with everything but sessions and releases: of the study as it is saved, or of another document of it. */
export async function duplicateStudy(
  store: Store,
  ownerId: string,
  study: Study,
  { document, title }: Pick<Study, "document"> & { title: string } = {
    document: study.document,
    title: `${study.document.title}, copy`,
  },
): Promise<Study> {
  const copy = await addStudy(store, ownerId, { ...document, title });
  await store.db
    .insertInto("study_media")
    .columns(["study_id", "sha256", "mime", "bytes", "added_at"])
    .expression((eb) =>
      eb
        .selectFrom("study_media")
        .select((each) => [each.val(copy.id).as("study_id"), "sha256", "mime", "bytes", "added_at"])
        .where("study_id", "=", study.id),
    )
    .execute();
  return copy;
}

/**
 * Takes an edit made on `base`. When the study has moved on since, nothing is written and the newer version is given
 * back; when the result would not be a valid study, nothing is written either and the mistakes are given back.
 */
export async function saveEdit(
  { db }: Store,
  studyId: string,
  base: number,
  patches: Patch[],
  inverse: Patch[],
): Promise<Saved> {
  return db.transaction().execute(async (trx) => {
    const row = await locked(
      trx,
      trx.selectFrom("study").selectAll().where("id", "=", studyId),
    ).executeTakeFirstOrThrow();
    const document = storedDocument(row.document);
    if (row.revision !== base) return { ok: false, kind: "newer", revision: row.revision, document };
    const made = safelyPatched(document, patches);
    if (!made.ok) {
      return {
        ok: false,
        kind: "refused",
        mistakes: [
          `${made.problem} It does not fit the study as it is saved. Load the page again; your last change is kept in this window until then.`,
        ],
      };
    }
    const parsed = parseStudy(made.result);
    if (!parsed.ok) return { ok: false, kind: "refused", mistakes: parsed.mistakes };
    const [revision, savedAt] = [base + 1, now()];
    await trx
      .insertInto("study_revision")
      .values({
        study_id: studyId,
        revision,
        patches: JSON.stringify(patches),
        inverse: JSON.stringify(inverse),
        saved_at: savedAt,
      })
      .execute();
    await trx
      .updateTable("study")
      .set({ document: JSON.stringify(parsed.document), revision, edited_at: savedAt })
      .where("id", "=", studyId)
      .execute();
    return { ok: true, revision, savedAt };
  });
}

export async function setBinned({ db }: Store, studyId: string, binned: boolean): Promise<void> {
  await db
    .updateTable("study")
    .set({ binned_at: binned ? now() : null })
    .where("id", "=", studyId)
    .execute();
}
