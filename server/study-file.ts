import { createHash } from "node:crypto";
import { unzipSync, zipSync, strFromU8, strToU8 } from "fflate";
import { parseStudyText } from "../core/design/parse";
import { checkMedia } from "./media/content";
import type { StudyDocument } from "../core/design/document";
import type { Store } from "./database/open";
import { readMedia, storeMedia } from "./media/study-media";
import { addStudy, type Study } from "./studies";

export type Imported = { ok: true; study: Study } | { ok: false; mistakes: string[] };
export type StudyFile = { document: StudyDocument; media: Map<string, Uint8Array> };
export type Read = { ok: true; file: StudyFile } | { ok: false; mistakes: string[] };

const megabyte = 1024 * 1024;
/** Largest file taken, and largest it may become when unpacked. */
export const mostFileBytes = 100 * megabyte;
const mostUnpackedBytes = 400 * megabyte;
const mostEntries = 5000;

const refuse = (...mistakes: string[]): { ok: false; mistakes: string[] } => ({ ok: false, mistakes });

/** Reads a `*.lapwing.json` or `*.lapwing.zip`, checking everything and writing nothing. */
export async function readStudyFile(bytes: Uint8Array): Promise<Read> {
  if (bytes.length > mostFileBytes)
    return refuse(
      `The file is larger than ${mostFileBytes / megabyte} MB. Make its pictures smaller, then export it again.`,
    );
  const isZip = bytes[0] === 0x50 && bytes[1] === 0x4b;
  if (!isZip) {
    const parsed = parseStudyText(new TextDecoder().decode(bytes));
    return parsed.ok ? withMedia(parsed.document, new Map()) : parsed;
  }
  const entries = unpack(bytes);
  if (!entries.ok) return entries;
  const text = entries.files.get("study.lapwing.json");
  if (!text) return refuse("The zip has no study.lapwing.json. Choose a file exported from Lapwing.");
  const parsed = parseStudyText(strFromU8(text));
  if (!parsed.ok) return parsed;
  const media = new Map(
    [...entries.files].flatMap(([path, content]) =>
      path.startsWith("media/") ? [[path.slice("media/".length), content] as const] : [],
    ),
  );
  return withMedia(parsed.document, media);
}

function unpack(bytes: Uint8Array): { ok: true; files: Map<string, Uint8Array> } | { ok: false; mistakes: string[] } {
  const mistakes: string[] = [];
  let [total, count] = [0, 0];
  try {
    const unpacked = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        total += originalSize;
        count++;
        if (name.startsWith("/") || name.includes("\\") || /^[a-z]:/i.test(name) || name.split("/").includes(".."))
          mistakes.push(`The zip has a path that leaves its folder (“${name.slice(0, 80)}”), so none of it is taken.`);
        return mistakes.length === 0 && total <= mostUnpackedBytes && count <= mostEntries && !name.endsWith("/");
      },
    });
    if (total > mostUnpackedBytes)
      mistakes.push(`The zip would unpack to more than ${mostUnpackedBytes / megabyte} MB.`);
    if (count > mostEntries) mistakes.push(`The zip has more than ${mostEntries} files.`);
    return mistakes.length > 0 ? { ok: false, mistakes } : { ok: true, files: new Map(Object.entries(unpacked)) };
  } catch {
    return mistakes.length > 0
      ? { ok: false, mistakes }
      : refuse("The zip is damaged and cannot be unpacked. Export the study again.");
  }
}

async function withMedia(document: StudyDocument, contents: Map<string, Uint8Array>): Promise<Read> {
  const mistakes: string[] = [];
  const media = new Map<string, Uint8Array>();
  for (const { name, sha256 } of document.media) {
    const content = contents.get(sha256);
    if (!content) {
      mistakes.push(
        `media file “${name}”: its content is not in the file. Export the study with its media (ending in .lapwing.zip).`,
      );
      continue;
    }
    const checked = await checkMedia(content);
    if (!checked.ok) mistakes.push(`media file “${name}”: ${checked.reason}`);
    else if (createHash("sha256").update(content).digest("hex") !== sha256)
      mistakes.push(`media file “${name}”: its content was changed after the export. Add the file again.`);
    else media.set(sha256, content);
  }
  return mistakes.length > 0 ? { ok: false, mistakes } : { ok: true, file: { document, media } };
}

/** Keeps a study file as a new study of this owner: all of it, or nothing. */
export async function importStudy(store: Store, ownerId: string, bytes: Uint8Array, code?: string): Promise<Imported> {
  const read = await readStudyFile(bytes);
  if (!read.ok) return read;
  const study = await addStudy(store, ownerId, read.file.document, code);
  for (const file of study.document.media) {
    const { name, sha256 } = file;
    const content = read.file.media.get(sha256);
    if (content) await storeMedia(store, study.id, name, content, file);
  }
  return { ok: true, study };
}

/** A study with its media as one `*.lapwing.zip`, easy to read for a person who unpacks it. */
export async function exportStudy(store: Store, study: Study): Promise<Uint8Array<ArrayBuffer>> {
  const files: Record<string, Uint8Array> = {
    "study.lapwing.json": strToU8(`${JSON.stringify(study.document, null, 2)}\n`),
  };
  for (const { sha256 } of study.document.media) {
    const found = await readMedia(store, study.id, sha256);
    if (found) files[`media/${sha256}`] = found.bytes;
  }
  return zipSync(files, { mtime: new Date("2026-01-01T00:00:00Z") }) as Uint8Array<ArrayBuffer>;
}
