import { createHash } from "node:crypto";
import type { MediaFile } from "../../core/values/study-values";
import { newId } from "../chance";
import type { Store } from "../database/open";
import { checkMedia } from "./content";
import { isZip, unzippedPage } from "./zipped-page";

export type StoredMedia = { ok: true; file: MediaFile } | { ok: false; reason: string };

/** What a browser found out by playing a file: length in ms, size in pixels. */
export type Measured = { ms?: number | undefined; width?: number | undefined; height?: number | undefined };

/** Checks a file by its content (a zip is taken for a page, and kept as one self-contained file) and keeps it under its hash, on disk before it is known to the database. */
export async function storeMedia(
  store: Store,
  studyId: string,
  name: string,
  given: Uint8Array,
  measured: Measured = {},
): Promise<StoredMedia> {
  const page = isZip(given) ? unzippedPage(given) : null;
  if (page && !page.ok) return { ok: false, reason: `${name}: ${page.reason}` };
  const bytes = page ? page.html : given;
  const checked = await checkMedia(bytes);
  if (!checked.ok) return { ok: false, reason: `${name}: ${checked.reason}` };
  const { mime } = checked.content;
  const sha256 = createHash("sha256").update(bytes).digest("hex");
  await store.media.keep(sha256, bytes);
  await store.db
    .insertInto("study_media")
    .values({ study_id: studyId, sha256, mime, bytes: bytes.length, added_at: new Date().toISOString() })
    .onConflict((conflict) => conflict.columns(["study_id", "sha256"]).doNothing())
    .execute();
  const known = Object.entries({ ...measured, ...checked.content }).filter(
    ([, value]) => typeof value === "string" || (typeof value === "number" && Number.isFinite(value) && value > 0),
  );
  const file = { id: newId("media"), name: name.slice(0, 200), sha256, bytes: bytes.length };
  return { ok: true, file: { ...file, ...Object.fromEntries(known), mime } };
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

/** A page kept as media of any study, by its hash, which only those know who have the study or take part in it; null when there is none. */
export async function readPage(store: Store, sha256: string): Promise<Buffer<ArrayBuffer> | null> {
  const found = await store.db
    .selectFrom("study_media")
    .select("sha256")
    .where("sha256", "=", sha256)
    .where("mime", "=", "text/html")
    .executeTakeFirst();
  return found ? store.media.read(sha256) : null;
}
