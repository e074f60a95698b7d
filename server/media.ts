import { createHash } from "node:crypto";
import { open, readFile, rename, stat } from "node:fs/promises";
import { join, resolve } from "node:path";
import { checkMedia } from "../core/media/content";
import type { MediaFile } from "../core/values/study-values";
import { newId, newSecret } from "./chance";
import { isZip, unzippedPage } from "./zipped-page";
import type { Store } from "./database/open";

export type StoredMedia = { ok: true; file: MediaFile } | { ok: false; reason: string };

const pathOf = ({ mediaFolder }: Store, sha256: string) => join(mediaFolder, sha256);

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
  const checked = checkMedia(bytes);
  if (!checked.ok) return { ok: false, reason: `${name}: ${checked.reason}` };
  const { mime } = checked.content;
  const sha256 = createHash("sha256").update(bytes).digest("hex");
  await keepFile(store, sha256, bytes);
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

async function keepFile(store: Store, sha256: string, bytes: Uint8Array) {
  const path = pathOf(store, sha256);
  if (
    await stat(path).then(
      ({ size }) => size === bytes.length,
      () => false,
    )
  )
    return;
  const partial = `${path}.${newSecret()}`;
  const file = await open(partial, "wx");
  try {
    await file.writeFile(bytes);
    await file.sync();
  } finally {
    await file.close();
  }
  await rename(partial, path);
}

/** A study's media file by its hash; null when the study has none such. */
export async function readMedia(
  store: Store,
  studyId: string,
  sha256: string,
): Promise<{ mime: string; bytes: Buffer<ArrayBuffer> } | null> {
  const found = await store.db
    .selectFrom("study_media")
    .select("mime")
    .where("study_id", "=", studyId)
    .where("sha256", "=", sha256)
    .executeTakeFirst();
  if (!found) return null;
  return { mime: found.mime, bytes: (await readFile(pathOf(store, sha256))) as Buffer<ArrayBuffer> };
}

/** Where a study's media file lies and what it is; null when the study has none such. */
export async function mediaFileOf(
  store: Store,
  studyId: string,
  sha256: string,
): Promise<{ mime: string; path: string } | null> {
  const found = await store.db
    .selectFrom("study_media")
    .select("mime")
    .where("study_id", "=", studyId)
    .where("sha256", "=", sha256)
    .executeTakeFirst();
  return found ? { mime: found.mime, path: resolve(pathOf(store, sha256)) } : null;
}

/** A page kept as media of any study, by its hash, which only those know who have the study or take part in it; null when there is none. */
export async function readPage(store: Store, sha256: string): Promise<Buffer<ArrayBuffer> | null> {
  const found = await store.db
    .selectFrom("study_media")
    .select("sha256")
    .where("sha256", "=", sha256)
    .where("mime", "=", "text/html")
    .executeTakeFirst();
  return found ? ((await readFile(pathOf(store, sha256))) as Buffer<ArrayBuffer>) : null;
}
