import { createHash } from "node:crypto";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { strToU8, zipSync } from "fflate";
import { checkSvg } from "../server/media/svg";
import type { MediaFile } from "../core/values/study-values";
import type { StudyDocument } from "../core/design/document";
import { waders } from "./waders/study";

/** The demo study as its source says it, with the pictures' contents by their hash. */
export function wadersFromSource(folder: string): { document: StudyDocument; contents: Record<string, Uint8Array> } {
  const contents: Record<string, Uint8Array> = {};
  const media = ["dunlin", "knot"].map((id): MediaFile => {
    const name = `wader-${id}.svg`;
    const bytes = readFileSync(join(folder, "waders", "pictures", name));
    const size = checkSvg(bytes.toString("utf8"));
    if (size === null || typeof size === "string") throw new Error(`${name}: ${size ?? "is no SVG"}`);
    const sha256 = createHash("sha256").update(bytes).digest("hex");
    contents[sha256] = new Uint8Array(bytes);
    return { id, name, sha256, bytes: bytes.length, mime: "image/svg+xml", ...size };
  });
  return { document: waders(media), contents };
}

/** Writes `waders.lapwing.zip` anew from the source; run by `npm run demo:files` after the source was changed. */
export function writeDemoFiles(folder: string): void {
  const { document, contents } = wadersFromSource(folder);
  const media = Object.fromEntries(Object.entries(contents).map(([sha256, bytes]) => [`media/${sha256}`, bytes]));
  writeFileSync(
    join(folder, "waders.lapwing.zip"),
    zipSync(
      { "study.lapwing.json": strToU8(`${JSON.stringify(document, null, 2)}\n`), ...media },
      { mtime: new Date("2026-01-01T00:00:00Z") },
    ),
  );
}

if (process.argv.includes("--write")) writeDemoFiles("demo");
