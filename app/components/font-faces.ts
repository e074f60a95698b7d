const fonts = [
  ["Newsreader Variable", "italic 400 15px"],
  ["Newsreader Variable", "400 15px"],
  ["Atkinson Hyperlegible Next Variable", "400 13px"],
  ["JetBrains Mono Variable", "400 12px"],
] as const;

/** The faces that a figure needs with their files in them: of the shipped fonts those of the Latin letters that the page itself uses, and all uploaded ones. */
export async function fontFaces(): Promise<string> {
  await Promise.all(fonts.map(([family, style]) => window.document.fonts.load(`${style} "${family}"`)));
  const families: Set<string> = new Set(fonts.map(([family]) => family));
  const rules = [...window.document.styleSheets].flatMap((sheet) =>
    [...sheet.cssRules].flatMap((rule) => (rule instanceof CSSFontFaceRule ? [rule] : [])),
  );
  const wanted = rules.filter(({ style }) => {
    const family = style.getPropertyValue("font-family").replaceAll('"', "").replaceAll("'", "");
    const range = style.getPropertyValue("unicode-range");
    return family.startsWith("font-") || (families.has(family) && (range === "" || /U\+0+-0*FF/i.test(range)));
  });
  return (await Promise.all(wanted.map(faceWithFile))).join("\n");
}

const filesKnown = new Map<string, Promise<string>>();
function faceWithFile({ style, parentStyleSheet }: CSSFontFaceRule): Promise<string> {
  const address = /url\("?([^")]+)"?\)/.exec(style.getPropertyValue("src"))?.[1] ?? "";
  const url = new URL(address, parentStyleSheet?.href ?? location.href).href;
  const made =
    filesKnown.get(url) ??
    (async () => {
      const file = await fetch(url).catch(() => null);
      if (!file?.ok) return "";
      const data = await asData(await file.blob());
      return `@font-face { font-family: ${style.getPropertyValue("font-family")}; font-style: ${style.getPropertyValue("font-style") || "normal"}; font-weight: ${style.getPropertyValue("font-weight") || "400"}; src: url(${data}); }`;
    })();
  filesKnown.set(url, made);
  return made;
}

/** A file as an address that holds it. */
export const asData = (blob: Blob): Promise<string> =>
  new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.readAsDataURL(blob);
  });
