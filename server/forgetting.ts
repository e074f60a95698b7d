import { hasPlace } from "../core/order/place";
import type { Transaction } from "kysely";
import { codesOfAll } from "./codes";
import { lockStudy } from "./database/locked";
import type { Store } from "./database/open";
import { forgetInNorms } from "./forgotten-norms";
import { nameless } from "./link-names";
import { waveIds } from "./waves";
import type { Tables } from "./database/tables";
import type { Study } from "./studies";
import { noteDeed } from "./study-log";

const dataOfSessions = [
  "record",
  "refused_record",
  "session_log",
  "gaze_piece",
  "earlier_token",
  "session_codes",
  "session_note",
] as const;

/** “1 sitting”, “3 sittings”. */
export const counted = (count: number, what: string): string => `${count} ${what}${count === 1 ? "" : "s"}`;

/** Of somebody who left and wanted nothing kept a line remains: that a session was begun and left, and its place. */
export async function emptySession(trx: Transaction<Tables>, id: string, at: string): Promise<void> {
  for (const table of dataOfSessions) await trx.deleteFrom(table).where("session_id", "=", id).execute();
  const own = await trx.selectFrom("session").select("study_id").where("id", "=", id).executeTakeFirst();
  if (own) await forgetInNorms(trx, own.study_id, [id]);
  await trx
    .updateTable("session")
    .set({
      removed_at: at,
      asked: null,
      given: null,
      device: null,
      link_token: null,
      browser: "",
      display: null,
      part: null,
      stored_characters: 0,
    })
    .where("id", "=", id)
    .execute();
}

/** Removes sessions of a study, with all that hangs on them. */
export async function removeSessions(trx: Transaction<Tables>, studyId: string, ids: readonly string[]): Promise<void> {
  for (let from = 0; from < ids.length; from += 500) {
    const some = ids.slice(from, from + 500);
    for (const table of dataOfSessions) await trx.deleteFrom(table).where("session_id", "in", some).execute();
    await trx.deleteFrom("session").where("id", "in", some).where("study_id", "=", studyId).execute();
  }
  await forgetInNorms(trx, studyId, ids);
}

/** The number of no participant who was deleted is given to another. */
export async function keepNumbers(trx: Transaction<Tables>, studyId: string, upTo: number): Promise<void> {
  await trx
    .updateTable("study")
    .set((eb) => ({
      numbered_to: eb.case().when("numbered_to", "<", upTo).then(upTo).else(eb.ref("numbered_to")).end(),
    }))
    .where("id", "=", studyId)
    .execute();
}

type By = { by: string };

/** Deletes one session for good; false where the study has none such. */
export async function deleteSession(store: Store, study: Study, id: string, { by }: By): Promise<boolean> {
  const isDone = await store.db.transaction().execute(async (trx) => {
    await lockStudy(trx, study.id);
    const there = await trx
      .selectFrom("session")
      .select(["participant", "sitting", "pilot"])
      .where("id", "=", id)
      .where("study_id", "=", study.id)
      .executeTakeFirst();
    if (!there) return false;
    if (there.pilot === 0) await keepNumbers(trx, study.id, there.participant);
    await store.tombstones.add([{ kind: "deleted", id }]);
    await removeSessions(trx, study.id, [id]);
    const which =
      there.pilot === 1
        ? "A rehearsal"
        : hasPlace(there)
          ? `Sitting ${there.sitting} of participant ${there.participant}`
          : "A session of somebody without a number";
    await noteDeed(trx, { code: study.code, by, what: `${which} was deleted.` });
    return true;
  });
  if (isDone) await store.settle();
  return isDone;
}

/** Deletes all sittings of a participant for good; how many there were. */
export async function deleteParticipant(store: Store, study: Study, participant: number, { by }: By): Promise<number> {
  const count = await store.db.transaction().execute(async (trx) => {
    await lockStudy(trx, study.id);
    const sittings = await trx
      .selectFrom("session")
      .select("id")
      .where("study_id", "=", study.id)
      .where("pilot", "=", 0)
      .where("participant", "=", participant)
      .execute();
    if (sittings.length === 0) return 0;
    await keepNumbers(trx, study.id, participant);
    await store.tombstones.add(sittings.map(({ id }) => ({ kind: "deleted", id })));
    await removeSessions(
      trx,
      study.id,
      sittings.map(({ id }) => id),
    );
    await noteDeed(trx, {
      code: study.code,
      by,
      what: `All of participant ${participant} was deleted: ${counted(sittings.length, "sitting")}.`,
    });
    return sittings.length;
  });
  if (count > 0) await store.settle();
  return count;
}

/** Deletes a study that is in the bin for good, with its sessions, releases, links and history, and media no other study has. */
export async function deleteStudy(
  store: Store,
  study: Study,
  { by }: By,
): Promise<{ ok: true } | { ok: false; reason: string }> {
  const isBinned = await store.db
    .selectFrom("study")
    .select("id")
    .where("id", "=", study.id)
    .where("binned_at", "is not", null)
    .executeTakeFirst();
  if (!isBinned) return { ok: false, reason: "Only a study in the bin can be deleted. Move it there first." };
  await store.tombstones.add([{ kind: "study", id: study.id }]);
  await removeStudy(store, study, by);
  return { ok: true };
}

/** Removes a study and all that is its own. */
async function removeStudy(store: Store, study: Pick<Study, "id" | "code">, by: string): Promise<void> {
  const unused = await store.db.transaction().execute(async (trx) => {
    await lockStudy(trx, study.id);
    const sessions = await trx.selectFrom("session").select("id").where("study_id", "=", study.id).execute();
    await removeSessions(
      trx,
      study.id,
      sessions.map(({ id }) => id),
    );
    for (const table of ["entry_link", "link_set"] as const)
      await trx.deleteFrom(table).where("wave_id", "in", waveIds(trx, study.id)).execute();
    const media = await trx.selectFrom("study_media").select("sha256").where("study_id", "=", study.id).execute();
    for (const table of [
      ...([
        "study_share",
        "study_label",
        "study_comment",
        "script_key",
        "exclusion_set",
        "recipe",
        "trial_score",
        "norm_sample",
        "paper_piece",
        "lab_computer_study",
        "end_code",
        "unsuited",
        "wave",
        "release",
        "study_version",
        "study_revision",
        "study_media",
        "intake",
      ] as const),
    ])
      await trx.deleteFrom(table).where("study_id", "=", study.id).execute();
    await trx.deleteFrom("study").where("id", "=", study.id).execute();
    await noteDeed(trx, {
      code: study.code,
      by,
      what: `The study was deleted, with ${counted(sessions.length, "session")} and ${counted(media.length, "media file")}.`,
    });
    const hashes = media.map(({ sha256 }) => sha256);
    const used = new Set<string>();
    for (let from = 0; from < hashes.length; from += 500) {
      const rows = await trx
        .selectFrom("study_media")
        .select("sha256")
        .where("sha256", "in", hashes.slice(from, from + 500))
        .execute();
      for (const { sha256 } of rows) used.add(sha256);
    }
    return hashes.filter((sha256) => !used.has(sha256));
  });
  for (const sha256 of unused) await store.media.remove(sha256);
  await store.settle();
}

/**
 * Removes again what was removed before and is there again, as after a copy of the database was put back. Gives how much
 * that was.
 */
export async function honourTombstones(store: Store): Promise<number> {
  const { db } = store;
  const stones = await store.tombstones.all();
  let count = 0;
  for (const { kind, id } of stones) {
    if (kind === "study") {
      const there = await db.selectFrom("study").select(["id", "code"]).where("id", "=", id).executeTakeFirst();
      if (there) await removeStudy(store, there, "the server, after a copy was put back");
      count += there ? 1 : 0;
      continue;
    }
    const there = await db
      .selectFrom("session")
      .select(["id", "study_id", "removed_at"])
      .where("id", "=", id)
      .executeTakeFirst();
    if (!there || (kind === "emptied" && there.removed_at !== null)) continue;
    const at = new Date().toISOString();
    await db.transaction().execute(async (trx) => {
      if (kind === "deleted") return removeSessions(trx, there.study_id, [id]);
      await emptySession(trx, id, at);
      await trx.updateTable("session").set({ state: "withdrawn", finished_at: at }).where("id", "=", id).execute();
    });
    count++;
  }
  if (count > 0) await store.settle();
  return count;
}

export type FoundParticipant = {
  /** Null for somebody who has no number. */
  participant: number | null;
  code: string | null;
  sittings: {
    id: string;
    sitting: number;
    state: string;
    startedAt: string;
    seenAt: string;
    finishedAt: string | null;
    trials: number;
    records: number;
    browser: string;
    counts: boolean;
  }[];
};

/**
 * The participant with this number or code: one of their own, or one that Lapwing gave them (their completion code, the
 * code for going on, or a session's name); null where there is none.
 */
export async function findParticipant({ db }: Store, studyId: string, said: string): Promise<FoundParticipant | null> {
  const sought = said.trim().slice(0, 100);
  const number = /^\d{1,7}$/.test(sought) ? Number(sought) : -1;
  const first = await db
    .selectFrom("session")
    .leftJoin("session_codes", "session_codes.session_id", "session.id")
    .select(["session.id", "participant"])
    .where("session.study_id", "=", studyId)
    .where("pilot", "=", 0)
    .where((eb) =>
      eb.or([
        eb("participant_code", "=", sought),
        eb("participant", "=", number > 0 ? number : -1),
        eb("session.id", "=", sought.toLowerCase()),
        eb("go_on_code", "=", sought.toUpperCase()),
        eb.and([
          eb("completion_code", "in", [sought, sought.toUpperCase()]),
          eb("state", "in", ["finished", "screened-out"]),
        ]),
        eb(
          "link_token",
          "in",
          eb
            .selectFrom("entry_link")
            .select("token")
            .where("set_id", "is not", null)
            .where("label", "=", sought)
            .where("label", "!=", nameless),
        ),
      ]),
    )
    // A number that is also somebody's code means that code.
    .orderBy((eb) => eb.case().when("participant_code", "=", sought).then(0).else(1).end())
    .executeTakeFirst();
  if (!first || sought === "") return null;
  const rows = await db
    .selectFrom("session")
    .selectAll()
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .where((eb) => (hasPlace(first) ? eb("participant", "=", first.participant) : eb("id", "=", first.id)))
    .orderBy("sitting")
    .execute();
  const codes = [
    ...(
      await codesOfAll(
        db,
        rows.map(({ id }) => id),
      )
    ).values(),
  ];
  return {
    participant: hasPlace(first) ? first.participant : null,
    code: codes.find(({ participant }) => participant !== null)?.participant ?? null,
    sittings: rows.map((row) => ({
      id: row.id,
      sitting: row.sitting,
      state: row.state,
      startedAt: row.started_at,
      seenAt: row.seen_at,
      finishedAt: row.finished_at,
      trials: row.trials,
      records: row.records,
      browser: row.browser,
      counts: row.excluded_at === null,
    })),
  };
}
