import { parseStudy, storedDocument } from "../core/design/parse";
import type { Patch } from "immer";
import { sql, type Selectable } from "kysely";
import { newStudy } from "../core/design/new-study";
import { safelyPatched } from "../core/design/edits/patch-problem";
import { listedParts } from "../core/design/lookup";
import { starters } from "../core/design/starters/registry";
import { studyFrom } from "../core/design/starters/starter";
import type { StudyDocument } from "../core/design/document";
import { newId, newSeed, newStudyCode } from "./chance";
import { locked } from "./database/locked";
import type { Store } from "./database/open";
import { hasSittings } from "../core/design/sittings";
import type { WaveState } from "../core/collect/wave";
import { planOf } from "./waves";
import type { Tables } from "./database/tables";
import { wordsIn } from "../core/describe/words-in";
import { mayDo, type Role } from "../core/rights/rights";
import { rolesIn, rolesOf } from "./rights";

export type Study = {
  id: string;
  ownerId: string;
  code: string;
  document: StudyDocument;
  revision: number;
  editedAt: string;
  binnedAt: string | null;
};
export type StudyLine = {
  code: string;
  title: string;
  /** What somebody is in it, who owns it, and how many other persons and laboratories it is shared with. */
  roles: Role[];
  owner: string;
  shared: number;
  labels: string[];
  /** Nothing is released; people may take part, or not just now; all its waves are closed. */
  work: "drafting" | "collecting" | "closed";
  groups: number;
  parts: number;
  finished: number;
  target: number | null;
  released: boolean;
  days: number[];
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

/** The revision a study stands at and what somebody is in it, without reading it; null where they have nothing to do with it. */
export async function revisionOf(
  { db }: Store,
  accountId: string,
  code: string,
): Promise<{ revision: number; roles: Role[] } | null> {
  const row = await db.selectFrom("study").select(["id", "revision"]).where("code", "=", code).executeTakeFirst();
  const roles = row ? await rolesIn(db, accountId, row.id) : [];
  return row && roles.length > 0 ? { revision: row.revision, roles } : null;
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

/** Keeps a document as a new study, under a code of its own or the one asked for. */
export async function addStudy(
  store: Store,
  ownerId: string,
  document: StudyDocument,
  wantedCode?: string,
): Promise<Study> {
  const { db } = store;
  for (let attempt = 0; ; attempt++) {
    const code = wantedCode ?? (attempt < 20 ? newStudyCode() : `${newStudyCode()}-${attempt}`);
    const id = newId("study");
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

/** The studies somebody has to do with, and what the index shows of each, newest work first. */
export async function listStudies({ db }: Store, accountId: string): Promise<StudyLine[]> {
  const roles = await rolesOf(db, accountId);
  const ids = [...roles.keys()];
  if (ids.length === 0) return [];
  const rows = await db
    .selectFrom("study")
    .innerJoin("account", "account.id", "study.owner_id")
    .selectAll("study")
    .select("account.name as owner")
    .select(({ selectFrom }) =>
      selectFrom("study_share")
        .select(({ fn }) => fn.countAll<number>().as("count"))
        .whereRef("study_share.study_id", "=", "study.id")
        .as("shared"),
    )
    .where("study.id", "in", ids)
    .orderBy("edited_at", "desc")
    .execute();
  const labels = await db.selectFrom("study_label").selectAll().where("study_id", "in", ids).orderBy("label").execute();
  const since = new Date(Date.now() - 13 * 86_400_000).toISOString().slice(0, 10);
  const sessions = await db
    .selectFrom("session")
    .innerJoin("study", "study.id", "session.study_id")
    .select(({ fn }) => [
      "session.study_id as study",
      "session.state as state",
      "session.sitting as sitting",
      sql<string>`substr(session.started_at, 1, 10)`.as("day"),
      fn.countAll<number>().as("count"),
    ])
    .where("study.id", "in", ids)
    .where("session.pilot", "=", 0)
    .groupBy(["session.study_id", "session.state", "session.sitting", "day"])
    .execute();
  const waves = await wavesIn(db, ids);
  return rows.map((row) => {
    const document = storedDocument(row.document);
    const own = sessions.filter(({ study }) => study === row.id);
    const days = Array.from({ length: 14 }, (_, index) => {
      const day = new Date(Date.parse(since) + index * 86_400_000).toISOString().slice(0, 10);
      return own.reduce((sum, each) => sum + (each.day === day ? each.count : 0), 0);
    });
    return {
      code: row.code,
      title: document.title,
      roles: roles.get(row.id) ?? [],
      owner: row.owner,
      shared: Number(row.shared),
      labels: labels.filter(({ study_id }) => study_id === row.id).map(({ label }) => label),
      work: workOf(waves.get(row.id)),
      groups: document.groups.length,
      parts: listedParts(document.runningOrder).length,
      // Where people come several times, they are counted by their first sitting, as their target is.
      finished: own
        .filter(({ state, sitting }) => state === "finished" && (sitting === 1 || !hasSittings(document)))
        .reduce((sum, { count }) => sum + Number(count), 0),
      target: targetOf(waves.get(row.id)),
      released: waves.has(row.id),
      days,
      editedAt: row.edited_at,
      binnedAt: row.binned_at,
    };
  });
}

type WaveLine = { state: WaveState; target: number | undefined };

/** The waves of studies: every study that was released has at least one. */
async function wavesIn(db: Store["db"], ids: readonly string[]): Promise<Map<string, WaveLine[]>> {
  const rows = await db
    .selectFrom("wave")
    .innerJoin("study", "study.id", "wave.study_id")
    .select(["wave.study_id", "wave.plan", "wave.state"])
    .where("study.id", "in", ids)
    .execute();
  const waves = new Map<string, WaveLine[]>();
  for (const { study_id, plan, state } of rows)
    waves.set(study_id, [...(waves.get(study_id) ?? []), { state, target: planOf({ plan }).target }]);
  return waves;
}

const workOf = (waves: readonly WaveLine[] | undefined): StudyLine["work"] =>
  !waves ? "drafting" : waves.every(({ state }) => state === "closed") ? "closed" : "collecting";

/** How many finished sessions are wanted over all waves; null where none says. */
function targetOf(waves: readonly WaveLine[] = []): number | null {
  const targets = waves.flatMap(({ target }) => target ?? []);
  return targets.length > 0 ? targets.reduce((sum, target) => sum + target, 0) : null;
}

/** In which designs somebody may see something is written: a short piece of it, by the study's code. */
export async function foundInDesigns(
  { db }: Store,
  accountId: string,
  sought: string,
): Promise<Record<string, string>> {
  const roles = await rolesOf(db, accountId);
  const ids = [...roles].flatMap(([id, own]) => (mayDo(own, "see-design") ? [id] : []));
  if (ids.length === 0 || sought.trim() === "") return {};
  const rows = await db.selectFrom("study").select(["code", "document"]).where("id", "in", ids).execute();
  return Object.fromEntries(
    rows.flatMap(({ code, document }) => {
      const piece = wordsIn(storedDocument(document), sought);
      return piece === null ? [] : [[code, piece]];
    }),
  );
}

/** Titles and codes of studies that are there, by title. */
export async function studiesNamed({ db }: Store, ids: readonly string[]): Promise<{ code: string; title: string }[]> {
  if (ids.length === 0) return [];
  const rows = await db
    .selectFrom("study")
    .select(["code", "document"])
    .where("id", "in", ids)
    .where("binned_at", "is", null)
    .execute();
  return rows
    .map(({ code, document }) => ({ code, title: storedDocument(document).title }))
    .toSorted((one, other) => one.title.localeCompare(other.title));
}
