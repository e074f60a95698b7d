import { strToU8 } from "fflate";
import type { StudyDocument } from "../core/design/document";
import type { Store } from "./database/open";
import { zipped, type FileInZip } from "./export/zip";
import { studyHasMedia } from "./media/study-media";
import { readStudyFile } from "./study-file-reading";
import { addStudy, type Study } from "./studies";
import type { KeptMedia } from "./workshop/workshop";

export type Imported = { ok: true; study: Study } | { ok: false; mistakes: string[] };

/** Keeps a study file as a new study of this owner: all of it, or nothing. */
export async function importStudy(store: Store, ownerId: string, bytes: Uint8Array, code?: string): Promise<Imported> {
  const read = await readStudyFile(bytes);
  if (!read.ok) return read;
  const kept: KeptMedia[] = [];
  for (const {
    sha256,
    bytes: content,
    content: { mime },
  } of read.file.media.values()) {
    await store.media.keep(sha256, content);
    kept.push({ sha256, mime, bytes: content.length });
  }
  return { ok: true, study: await addOpened(store, ownerId, read.file.document, kept, code) };
}

/** The same with the file at a path, read in the workshop. */
export async function importStudyFile(store: Store, ownerId: string, path: string): Promise<Imported> {
  const opened = await store.workshop.openStudyFile(path);
  return opened.ok ? { ok: true, study: await addOpened(store, ownerId, opened.document, opened.kept) } : opened;
}

async function addOpened(
  store: Store,
  ownerId: string,
  document: StudyDocument,
  kept: readonly KeptMedia[],
  code?: string,
): Promise<Study> {
  const study = await addStudy(store, ownerId, document, code);
  for (const media of kept) await studyHasMedia(store, study.id, media);
  return study;
}

/** A study with its media as one `*.lapwing.zip`, easy to read for a person who unpacks it; made while it is read. */
export const exportStudy = (store: Store, study: Study): AsyncGenerator<Uint8Array> => zipped(filesOf(store, study));

/** The same study makes the same file. */
const changed = "2026-01-01T00:00:00Z";

async function* filesOf(store: Store, { document }: Study): AsyncGenerator<FileInZip> {
  yield { name: "study.lapwing.json", pieces: [strToU8(`${JSON.stringify(document, null, 2)}\n`)], changed };
  for (const { sha256 } of document.media)
    yield {
      name: `media/${sha256}`,
      pieces: (await store.media.stream(sha256)).content as AsyncIterable<Uint8Array>,
      isPacked: true,
      changed,
    };
}
