import { createHash } from "node:crypto";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { strToU8, zipSync } from "fflate";
import { checkSvg } from "../server/media/svg";
import type { MediaFile } from "../core/values/study-values";
import type { StudyDocument } from "../core/design/document";
import { pictures } from "./recipes/recipes";
import { recipesAtTheStove } from "./recipes/study";
import { waders } from "./waders/study";

/** A demo study as its source says it, with its pictures' contents by their hash. */
export type FromSource = { document: StudyDocument; contents: Record<string, Uint8Array> };

function fromSource(
  folder: string,
  pictures: readonly { id: string; file: string }[],
  make: (media: MediaFile[]) => StudyDocument,
): FromSource {
  const contents: Record<string, Uint8Array> = {};
  const media = pictures.map(({ id, file }): MediaFile => {
    const bytes = readFileSync(join(folder, "pictures", file));
    const size = checkSvg(bytes.toString("utf8"));
    if (size === null || typeof size === "string") throw new Error(`${file}: ${size ?? "is no SVG"}`);
    const sha256 = createHash("sha256").update(bytes).digest("hex");
    contents[sha256] = new Uint8Array(bytes);
    return { id, name: file, sha256, bytes: bytes.length, mime: "image/svg+xml", ...size };
  });
  return { document: make(media), contents };
}

export const wadersFromSource = (folder: string): FromSource =>
  fromSource(
    join(folder, "waders"),
    ["dunlin", "knot"].map((id) => ({ id, file: `wader-${id}.svg` })),
    waders,
  );
export const recipesFromSource = (folder: string): FromSource =>
  fromSource(
    join(folder, "recipes"),
    pictures.map((id) => ({ id, file: `${id}.svg` })),
    recipesAtTheStove,
  );

/** Writes the demo studies' files anew from their sources; run by `npm run demo:files` after a source was changed. */
export function writeDemoFiles(folder: string): void {
  for (const [name, { document, contents }] of [
    ["waders", wadersFromSource(folder)],
    ["recipes", recipesFromSource(folder)],
  ] as const) {
    const media = Object.fromEntries(Object.entries(contents).map(([sha256, bytes]) => [`media/${sha256}`, bytes]));
    writeFileSync(
      join(folder, `${name}.lapwing.zip`),
      zipSync(
        { "study.lapwing.json": strToU8(`${JSON.stringify(document, null, 2)}\n`), ...media },
        { mtime: new Date("2026-01-01T00:00:00Z") },
      ),
    );
  }
}

if (process.argv.includes("--write")) writeDemoFiles("demo");
