/** What a drawing must not contain, because a browser opening it on its own would run or fetch it. */
const forbidden: [RegExp, string][] = [
  [/<\s*(?:\w+:)?script\b/i, "it holds a script"],
  [/\son\w+\s*=/i, "it holds an event handler that would run code"],
  [/javascript\s*:/i, "it holds a link that would run code"],
  [/<\s*(?:\w+:)?(?:foreignObject|iframe|object|embed|audio|video)\b/i, "it holds foreign content"],
  [/<!ENTITY/i, "it defines entities"],
  [
    /(?:href|src)\s*=\s*["']\s*(?!#|data:image\/(?:png|jpeg|webp);base64,)[^"']/i,
    "it refers to something outside itself",
  ],
  [/url\(\s*["']?\s*(?!#)[^)\s]/i, "its styles refer to something outside itself"],
  [/@import/i, "its styles refer to something outside itself"],
];

/** The size of an SVG from its view box, or why it cannot be taken; null where the text is no SVG. */
export function checkSvg(text: string): { width: number; height: number } | string | null {
  const start = text.replace(
    /^\uFEFF?\s*(?:<\?xml[^>]*\?>\s*)?(?:<!--[\s\S]*?-->\s*)*(?:<!DOCTYPE[^>[]*(?:\[[^\]]*\])?\s*>\s*)?(?:<!--[\s\S]*?-->\s*)*/i,
    "",
  );
  const root = /^<svg\b([^>]*)>/i.exec(start);
  if (!root) return null;
  const plain = text.replace(
    /&#(?:x([0-9a-f]+)|(\d+));/gi,
    (_, hex: string | undefined, decimal: string | undefined) => {
      const code = hex ? parseInt(hex, 16) : Number(decimal);
      return code <= 0x10ffff ? String.fromCodePoint(code) : "";
    },
  );
  for (const [pattern, what] of forbidden)
    if (pattern.test(plain)) return `The SVG is refused because ${what}. Save it as a plain drawing and try again.`;
  if (!/<\/svg>\s*(?:<!--[\s\S]*?-->\s*)*$/i.test(text) && !/\/>\s*$/.test(text)) return "The SVG is cut off.";
  const attributes = root[1] ?? "";
  const box = /viewBox\s*=\s*["']\s*[-\d.e]+[\s,]+[-\d.e]+[\s,]+([\d.e]+)[\s,]+([\d.e]+)/i.exec(attributes);
  const [width, height] = box
    ? [Number(box[1]), Number(box[2])]
    : ["width", "height"].map((name) =>
        Number(new RegExp(`\\b${name}\\s*=\\s*["']([\\d.]+)`, "i").exec(attributes)?.[1]),
      );
  if (!width || !height) return "The SVG has neither a view box nor a size in pixels. Add a viewBox.";
  return { width, height };
}
