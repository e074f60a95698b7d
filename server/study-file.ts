import { strToU8 } from "fflate";
import type { Store } from "./database/open";
import { zipped, type FileInZip } from "./export/zip";
import { frozenDocument, frozenText, textInFile } from "./frozen-documents";
import { studyHasMedia } from "./media/study-media";
import { addStudy, type Study } from "./studies";
import { openStudyFile, type OpenedStudy } from "./workshop/workshop";

export type Imported = { ok: true; study: Study } | { ok: false; mistakes: string[] };

/** Keeps a study file as a new study of this owner: all of it, or nothing. */
export const importStudy = async (store: Store, ownerId: string, bytes: Uint8Array, code?: string): Promise<Imported> =>
  added(store, ownerId, await openStudyFile(store.media, bytes), code);

/** The same with the file at a path, read in the workshop. */
export const importStudyFile = async (store: Store, ownerId: string, path: string): Promise<Imported> =>
  added(store, ownerId, await store.workshop.openStudyFile(path));

async function added(store: Store, ownerId: string, opened: OpenedStudy, code?: string): Promise<Imported> {
  if (!opened.ok) return opened;
  const study = await addStudy(store, ownerId, opened.document, code);
  for (const media of opened.kept) await studyHasMedia(store, study.id, media);
  return { ok: true, study };
}

/** A study with its media as one `*.lapwing.zip`, easy to read for a person who unpacks it; made while it is read. */
export const exportStudy = (store: Store, { document }: Study): AsyncGenerator<Uint8Array> =>
  zipped(filesOf(store, textInFile(document), document.media));

/** The same of a release: its document stands there as it was frozen. */
export async function* exportRelease(store: Store, releaseId: string): AsyncGenerator<Uint8Array> {
  const { media } = await frozenDocument(store.db, releaseId);
  yield* zipped(filesOf(store, await frozenText(store.db, releaseId), media));
}

/** The same study makes the same file. */
const changed = "2026-01-01T00:00:00Z";

async function* filesOf(store: Store, text: string, media: readonly { sha256: string }[]): AsyncGenerator<FileInZip> {
  yield { name: "study.lapwing.json", pieces: [strToU8(text)], changed };
  for (const { sha256 } of media)
    yield {
      name: `media/${sha256}`,
      pieces: (await store.media.stream(sha256)).content as AsyncIterable<Uint8Array>,
      isPacked: true,
      changed,
    };
}
