import { readFile } from "node:fs/promises";
import type { Finding } from "../../core/check/finding";
import { preflight } from "../../core/check/preflight";
import { storedDocument } from "../../core/design/parse";
import type { StudyDocument } from "../../core/design/document";
import { checkedMedia, type CheckedMedia } from "../media/checked";
import type { MediaKeeper } from "../media/keeper";
import { readStudyFile } from "../study-file-reading";

/** A media file of a study file that is kept now. */
export type KeptMedia = { sha256: string; mime: string; bytes: number };
export type OpenedStudy = { ok: true; document: StudyDocument; kept: KeptMedia[] } | { ok: false; mistakes: string[] };
/** A media file that is kept now, as it is and not as it came: a zip is a page. */
export type LookedAt =
  { ok: true; content: CheckedMedia["content"]; sha256: string; bytes: number } | { ok: false; reason: string };

/**
 * What takes its time with what came from outside: files are opened, checked, hashed and kept, designs are judged. It takes
 * paths and texts and gives what is known of them, so that it can be done in another thread.
 */
export type Workshop = {
  /** Looks at the file at a path, and keeps it among the media if it can be shown or played. */
  keepMedia: (path: string) => Promise<LookedAt>;
  /** Reads the study file at a path, and keeps its media where all of it is as it should be. */
  openStudyFile: (path: string) => Promise<OpenedStudy>;
  /** What preflight finds in a document, given as JSON. */
  judge: (document: string) => Promise<Finding[]>;
};
export type Task = keyof Workshop;

/** Checks a media file by its content, and keeps it under its hash. */
export async function keepMedia(media: MediaKeeper, given: Uint8Array): Promise<LookedAt> {
  const checked = await checkedMedia(given);
  if (!checked.ok) return checked;
  const { bytes, sha256, content } = checked.media;
  await media.keep(sha256, bytes);
  return { ok: true, content, sha256, bytes: bytes.length };
}

/** Reads a study file, and keeps its media where all of it is as it should be. */
export async function openStudyFile(media: MediaKeeper, given: Uint8Array): Promise<OpenedStudy> {
  const read = await readStudyFile(given);
  if (!read.ok) return read;
  const kept: KeptMedia[] = [];
  for (const { sha256, bytes, content } of read.file.media.values()) {
    await media.keep(sha256, bytes);
    kept.push({ sha256, mime: content.mime, bytes: bytes.length });
  }
  return { ok: true, document: read.file.document, kept };
}

/** The work done here, in this thread. */
export const workshopHere = (media: MediaKeeper): Workshop => ({
  keepMedia: async (path) => keepMedia(media, await readFile(path)),
  openStudyFile: async (path) => openStudyFile(media, await readFile(path)),
  judge: (document) => Promise.resolve(preflight(storedDocument(document))),
});
