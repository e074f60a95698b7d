import { createHash } from "node:crypto";
import { checkMedia, type MediaContent } from "./content";
import { isZip, unzippedPage } from "./zipped-page";

/** A media file as it is kept: what it is, and its content under its hash. */
export type CheckedMedia = { bytes: Uint8Array; sha256: string; content: MediaContent };

/** Checks a file by its content; a zip is taken for a page, and becomes one self-contained file. */
export async function checkedMedia(
  given: Uint8Array,
): Promise<{ ok: true; media: CheckedMedia } | { ok: false; reason: string }> {
  const page = isZip(given) ? unzippedPage(given) : null;
  if (page && !page.ok) return page;
  const bytes = page ? page.html : given;
  const checked = await checkMedia(bytes);
  if (!checked.ok) return checked;
  const sha256 = createHash("sha256").update(bytes).digest("hex");
  return { ok: true, media: { bytes, sha256, content: checked.content } };
}
