import { createHash } from "node:crypto";
import { open, readFile, rename, stat } from "node:fs/promises";
import { join } from "node:path";
import { checkPicture } from "../core/design/pictures";
import type { MediaFile } from "../core/design/types";
import { newId, newSecret } from "./chance";
import type { Store } from "./database/open";

export type StoredMedia = { ok: true; file: MediaFile } | { ok: false; reason: string };

const pathOf = ({ mediaFolder }: Store, sha256: string) => join(mediaFolder, sha256);

/** Checks a picture by its content and keeps it under its hash, on disk before it is known to the database. */
export async function storePicture(
  store: Store,
  studyId: string,
  name: string,
  bytes: Uint8Array,
): Promise<StoredMedia> {
  const checked = checkPicture(bytes);
  if (!checked.ok) return { ok: false, reason: `${name}: ${checked.reason}` };
  const { mime, width, height } = checked.picture;
  const sha256 = createHash("sha256").update(bytes).digest("hex");
  await keepFile(store, sha256, bytes);
  await store.db
    .insertInto("study_media")
    .values({ study_id: studyId, sha256, mime, bytes: bytes.length, added_at: new Date().toISOString() })
    .onConflict((conflict) => conflict.columns(["study_id", "sha256"]).doNothing())
    .execute();
  return { ok: true, file: { id: newId("media"), name, sha256, mime, bytes: bytes.length, width, height } };
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
