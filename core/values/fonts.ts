import { mediaKind } from "../media/types";
import type { MediaFile } from "./study-values";

/** Fonts that ship with the application, and the computer's own by their kind. */
export const shippedFonts = [
  "Atkinson Hyperlegible Next",
  "Newsreader",
  "JetBrains Mono",
  "sans-serif",
  "serif",
  "monospace",
] as const;
export type ShippedFont = (typeof shippedFonts)[number];

/** Families as the style sheets that ship with the application call them; generic ones are the computer's own. */
const families: Record<ShippedFont, string> = {
  "Atkinson Hyperlegible Next": '"Atkinson Hyperlegible Next Variable", sans-serif',
  Newsreader: '"Newsreader Variable", serif',
  "JetBrains Mono": '"JetBrains Mono Variable", monospace',
  "sans-serif": "sans-serif",
  serif: "serif",
  monospace: "monospace",
};

/** What an uploaded font's family is called wherever it is loaded. */
export const familyOfFile = ({ sha256 }: Pick<MediaFile, "sha256">): string => `font-${sha256.slice(0, 20)}`;

const lower = (name: string) => name.trim().toLowerCase();
const withoutEnding = (name: string) => name.replace(/\.(woff2|ttf|otf)$/i, "");

const among = new WeakMap<readonly MediaFile[], MediaFile[]>();
/** The uploaded fonts: looked up for every text that is drawn, hence kept. */
function fontsAmong(media: readonly MediaFile[]): MediaFile[] {
  const known = among.get(media) ?? media.filter(({ mime }) => mediaKind(mime) === "font");
  among.set(media, known);
  return known;
}

/**
 * The font that a text names: one that ships, or an uploaded one by its id or its file's name, with or without its ending.
 * Null where there is none.
 */
export function fontCalled(name: string, media: readonly MediaFile[]): ShippedFont | MediaFile | null {
  const shipped = shippedFonts.find((each) => lower(each) === lower(name));
  if (shipped) return shipped;
  const fonts = fontsAmong(media);
  return (
    fonts.find(({ id }) => id === name) ??
    fonts.find((file) => [lower(file.name), lower(withoutEnding(file.name))].includes(lower(name))) ??
    null
  );
}

/** The same as a list of families for a style; the first that ships where there is none. */
export function familiesOf(name: string, media: readonly MediaFile[]): string {
  const found = fontCalled(name, media) ?? shippedFonts[0];
  return typeof found === "string" ? families[found] : `"${familyOfFile(found)}", sans-serif`;
}
