/** What a picture file turned out to be, found from its content and not from its name. */
export type Picture = {
  mime: "image/png" | "image/jpeg" | "image/webp" | "image/svg+xml";
  width: number;
  height: number;
};
export type PictureCheck = { ok: true; picture: Picture } | { ok: false; reason: string };

export const mostPictureBytes = 10 * 1024 * 1024;
const mostPixels = 40_000_000;

const no = (reason: string): PictureCheck => ({ ok: false, reason });

/** Finds a picture's kind and size in pixels (an SVG's from its view box), or says why it cannot be taken. */
export function checkPicture(bytes: Uint8Array): PictureCheck {
  if (bytes.length === 0) return no("The file is empty.");
  if (bytes.length > mostPictureBytes)
    return no(`The picture is larger than ${mostPictureBytes / 1024 / 1024} MB. Make it smaller.`);
  const found = png(bytes) ?? jpeg(bytes) ?? webp(bytes) ?? svg(bytes);
  if (!found) return no("This is not a picture Lapwing can show. Use PNG, JPEG, WebP or SVG.");
  if (!found.ok) return found;
  const { width, height } = found.picture;
  if (!(width > 0 && height > 0)) return no("The picture has no size: it is damaged.");
  return width * height > mostPixels
    ? no(`The picture has ${width} × ${height} pixels; at most 40 million are possible.`)
    : found;
}

const view = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const ascii = (bytes: Uint8Array, at: number, text: string) =>
  [...text].every((letter, index) => bytes[at + index] === letter.charCodeAt(0));

function png(bytes: Uint8Array): PictureCheck | null {
  if (!ascii(bytes, 1, "PNG\r\n\x1a\n") || bytes[0] !== 0x89) return null;
  if (bytes.length < 33) return no("The picture is cut off.");
  return {
    ok: true,
    picture: { mime: "image/png", width: view(bytes).getUint32(16), height: view(bytes).getUint32(20) },
  };
}

function jpeg(bytes: Uint8Array): PictureCheck | null {
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) return null;
  const data = view(bytes);
  for (let at = 2; at + 9 < bytes.length;) {
    if (bytes[at] !== 0xff) return no("The picture is damaged.");
    const marker = bytes[at + 1] as number;
    const isFrame = marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);
    if (isFrame)
      return {
        ok: true,
        picture: { mime: "image/jpeg", width: data.getUint16(at + 7), height: data.getUint16(at + 5) },
      };
    at += marker === 0xff ? 1 : 2 + data.getUint16(at + 2);
  }
  return no("The picture is cut off.");
}

function webp(bytes: Uint8Array): PictureCheck | null {
  if (!ascii(bytes, 0, "RIFF") || !ascii(bytes, 8, "WEBP")) return null;
  if (bytes.length < 30) return no("The picture is cut off.");
  const data = view(bytes);
  const size = (width: number, height: number): PictureCheck => ({
    ok: true,
    picture: { mime: "image/webp", width, height },
  });
  if (ascii(bytes, 12, "VP8X"))
    return size(1 + (data.getUint32(24, true) & 0xffffff), 1 + (data.getUint32(26, true) >>> 8));
  if (ascii(bytes, 12, "VP8L")) {
    const bits = data.getUint32(21, true);
    return size(1 + (bits & 0x3fff), 1 + ((bits >>> 14) & 0x3fff));
  }
  return size(data.getUint16(26, true) & 0x3fff, data.getUint16(28, true) & 0x3fff);
}

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

function svg(bytes: Uint8Array): PictureCheck | null {
  let text: string;
  try {
    text = new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return null;
  }
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
    if (pattern.test(plain)) return no(`The SVG is refused because ${what}. Save it as a plain drawing and try again.`);
  if (!/<\/svg>\s*(?:<!--[\s\S]*?-->\s*)*$/i.test(text) && !/\/>\s*$/.test(text)) return no("The SVG is cut off.");
  const attributes = root[1] ?? "";
  const box = /viewBox\s*=\s*["']\s*[-\d.e]+[\s,]+[-\d.e]+[\s,]+([\d.e]+)[\s,]+([\d.e]+)/i.exec(attributes);
  const [width, height] = box
    ? [Number(box[1]), Number(box[2])]
    : ["width", "height"].map((name) =>
        Number(new RegExp(`\\b${name}\\s*=\\s*["']([\\d.]+)`, "i").exec(attributes)?.[1]),
      );
  if (!width || !height) return no("The SVG has neither a view box nor a size in pixels. Add a viewBox.");
  return { ok: true, picture: { mime: "image/svg+xml", width, height } };
}
