import { familyOfFile } from "~/core/values/fonts";
import type { MediaFile } from "~/core/values/study-values";

/** Loads an uploaded font, from its bytes or an address; rejects where this browser cannot read it. Once is enough. */
export async function addFont(file: MediaFile, source: BufferSource | string): Promise<void> {
  const family = familyOfFile(file);
  if ([...document.fonts].some((face) => face.family.replaceAll('"', "") === family)) return;
  const face = new FontFace(family, source);
  await face.load();
  document.fonts.add(face);
}
