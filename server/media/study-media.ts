import type { MediaFile } from "../../core/values/study-values";
import { newId } from "../chance";
import type { Store } from "../database/open";
import { keepMedia, type LookedAt } from "../workshop/workshop";

export type StoredMedia = { ok: true; file: MediaFile } | { ok: false; reason: string };

/** What a browser found out by playing a file: length in ms, size in pixels. */
export type Measured = { ms?: number | undefined; width?: number | undefined; height?: number | undefined };

/** Checks a file by its content and keeps it under its hash, on disk before it is known to the database. */
export const storeMedia = async (
  store: Store,
  studyId: string,
  name: string,
  given: Uint8Array,
  measured: Measured = {},
): Promise<StoredMedia> => added(store, studyId, name, await keepMedia(store.media, given), measured);

/** The same with the file at a path, looked at in the workshop. */
export const storeMediaFile = async (
  store: Store,
  studyId: string,
  name: string,
  path: string,
  measured: Measured,
): Promise<StoredMedia> => added(store, studyId, name, await store.workshop.keepMedia(path), measured);

async function added(
  store: Store,
  studyId: string,
  name: string,
  looked: LookedAt,
  measured: Measured,
): Promise<StoredMedia> {
  if (!looked.ok) return { ok: false, reason: `${name}: ${looked.reason}` };
  const { content, sha256, bytes } = looked;
  const { mime } = content;
  await studyHasMedia(store, studyId, { sha256, mime, bytes });
  const known = Object.entries({ ...measured, ...content }).filter(
    ([, value]) => typeof value === "string" || (typeof value === "number" && Number.isFinite(value) && value > 0),
  );
  const file = { id: newId("media"), name: name.slice(0, 200), sha256, bytes };
  return { ok: true, file: { ...file, ...Object.fromEntries(known), mime } };
}

/** A file that is kept belongs to a study from now on. */
export async function studyHasMedia(
  { db }: Store,
  studyId: string,
  { sha256, mime, bytes }: { sha256: string; mime: string; bytes: number },
): Promise<void> {
  await db
    .insertInto("study_media")
    .values({ study_id: studyId, sha256, mime, bytes, added_at: new Date().toISOString() })
    .onConflict((conflict) => conflict.columns(["study_id", "sha256"]).doNothing())
    .execute();
}

/** The type of a study's media file by its hash; null when the study has none such. */
export async function mediaTypeOf({ db }: Store, studyId: string, sha256: string): Promise<string | null> {
  const found = await db
    .selectFrom("study_media")
    .select("mime")
    .where("study_id", "=", studyId)
    .where("sha256", "=", sha256)
    .executeTakeFirst();
  return found?.mime ?? null;
}

/** A study's media file by its hash; null when the study has none such. */
export async function readMedia(
  store: Store,
  studyId: string,
  sha256: string,
): Promise<{ mime: string; bytes: Buffer<ArrayBuffer> } | null> {
  const mime = await mediaTypeOf(store, studyId, sha256);
  return mime === null ? null : { mime, bytes: await store.media.read(sha256) };
}

/** A page kept as media of a study, by its hash; null when it has none such. */
export async function readPage(store: Store, studyId: string, sha256: string): Promise<Buffer<ArrayBuffer> | null> {
  const mime = await mediaTypeOf(store, studyId, sha256);
  return mime === "text/html" ? store.media.read(sha256) : null;
}
