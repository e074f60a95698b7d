import { strFromU8 } from "fflate";
import { parseStudyText } from "../core/design/parse";
import { checkedMedia, type CheckedMedia } from "./media/checked";
import type { StudyDocument } from "../core/design/document";
import { unzipped } from "./media/unzip";

export type StudyFile = { document: StudyDocument; media: Map<string, CheckedMedia> };
export type Read = { ok: true; file: StudyFile } | { ok: false; mistakes: string[] };

const megabyte = 1024 * 1024;
/** Largest file taken, and largest it may become when unpacked. */
export const mostFileBytes = 100 * megabyte;
const mostUnpackedBytes = 200 * megabyte;
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
  const unpacked = unzipped(bytes, { mostBytes: mostUnpackedBytes, mostFiles: mostEntries });
  if (unpacked.ok) return unpacked;
  return refuse(
    {
      damaged: "The zip is damaged and cannot be unpacked. Export the study again.",
      large: `The zip would unpack to more than ${unpacked.about}.`,
      many: `The zip has more than ${unpacked.about}.`,
      path: `The zip has a path that leaves its folder (“${unpacked.about}”), so none of it is taken.`,
    }[unpacked.kind],
  );
}

async function withMedia(document: StudyDocument, contents: Map<string, Uint8Array>): Promise<Read> {
  const mistakes: string[] = [];
  const media = new Map<string, CheckedMedia>();
  for (const { name, sha256 } of document.media) {
    const content = contents.get(sha256);
    if (!content) {
      mistakes.push(
        `media file “${name}”: its content is not in the file. Export the study with its media (ending in .lapwing.zip).`,
      );
      continue;
    }
    const checked = await checkedMedia(content);
    if (!checked.ok) mistakes.push(`media file “${name}”: ${checked.reason}`);
    else if (checked.media.sha256 !== sha256)
      mistakes.push(`media file “${name}”: its content was changed after the export. Add the file again.`);
    else media.set(sha256, checked.media);
  }
  return mistakes.length > 0 ? { ok: false, mistakes } : { ok: true, file: { document, media } };
}
