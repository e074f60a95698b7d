import { mediaKind } from "~/core/media/types";
import { familyOfFile } from "~/core/values/fonts";
import { mediaUrlIn, useStudy } from "./use-study";

/** Faces of the study's uploaded fonts, for whatever shows its items. */
export function StudyFonts() {
  const { code, document } = useStudy();
  const url = mediaUrlIn(code, document);
  const faces = document.media
    .filter(({ mime }) => mediaKind(mime) === "font")
    .map((file) => `@font-face { font-family: "${familyOfFile(file)}"; src: url("${url(file.id)}"); }`);
  return faces.length > 0 ? <style>{faces.join("\n")}</style> : null;
}
