import { fileTypeFromBuffer } from "file-type";
import * as fontkit from "fontkit";
import { imageSize } from "image-size";
import { mostMediaBytes, type MediaType } from "../../core/media/types";
import { checkSvg } from "./svg";
import { wavMs } from "./wav";

/** What a media file is, by its content and not its name. Lengths in ms, sizes in pixels. */
export type MediaContent = { mime: MediaType; width?: number; height?: number; ms?: number };
export type MediaCheck = { ok: true; content: MediaContent } | { ok: false; reason: string };

const megabyte = 1024 * 1024;
const [mostPictureBytes, mostPageBytes, mostPixels] = [10 * megabyte, 5 * megabyte, 40_000_000];
const mostFontBytes = 20 * megabyte;
const no = (reason: string): MediaCheck => ({ ok: false, reason });

/** Containers by other names that browsers play as the type we know them by. */
const alike: Record<string, MediaType> = {
  "audio/ogg; codecs=opus": "audio/ogg",
  "audio/x-m4a": "audio/mp4",
  "video/quicktime": "video/mp4",
  "video/x-m4v": "video/mp4",
};
type Check = (bytes: Uint8Array, mime: MediaType) => MediaCheck;
const checks: Record<Exclude<MediaType, "image/svg+xml" | "text/html">, Check> = {
  "image/png": picture,
  "image/jpeg": picture,
  "image/webp": picture,
  "image/avif": picture,
  "audio/wav": wav,
  // The browser finds out how long these are.
  "audio/mpeg": played,
  "audio/ogg": played,
  "audio/flac": played,
  "audio/mp4": played,
  "video/mp4": played,
  "video/webm": played,
  "font/woff2": font,
  "font/ttf": font,
  "font/otf": font,
};

/** Finds a media file's kind, size and length, or says why it cannot be taken. */
export async function checkMedia(bytes: Uint8Array): Promise<MediaCheck> {
  if (bytes.length === 0) return no("The file is empty.");
  if (bytes.length > mostMediaBytes)
    return no(`The file is larger than ${mostMediaBytes / megabyte} MB. Make it smaller.`);
  // A file that only pretends to be of a type may end anywhere.
  const found = await fileTypeFromBuffer(bytes).catch(() => undefined);
  const mime = found && (alike[found.mime] ?? found.mime);
  if (mime && Object.hasOwn(checks, mime)) return checks[mime as keyof typeof checks](bytes, mime as MediaType);
  if (mime === "video/matroska") return no("This video is Matroska but not WebM. Save it as WebM or MP4.");
  return (
    written(bytes) ??
    no(
      "This is not a file Lapwing can show or play. Use PNG, JPEG, WebP, AVIF or SVG for pictures, WAV, MP3, OGG, FLAC or M4A for sounds, MP4 or WebM for videos, WOFF2, TTF or OTF for fonts, HTML for pages.",
    )
  );
}

function played(_: Uint8Array, mime: MediaType): MediaCheck {
  return { ok: true, content: { mime } };
}

/** A font is read as far as its letters can be counted; what browsers refuse besides is found where it is loaded. */
function font(bytes: Uint8Array, mime: MediaType): MediaCheck {
  if (bytes.length > mostFontBytes)
    return no(
      `The font is larger than ${mostFontBytes / megabyte} MB. Leave out letters that the study does not need.`,
    );
  try {
    const read = fontkit.create(Buffer.from(bytes));
    if (!("numGlyphs" in read)) return no("The file holds several fonts. Save the one that is needed by itself.");
    return read.numGlyphs > 0 && read.characterSet.length > 0
      ? { ok: true, content: { mime } }
      : no("The font has no letters.");
  } catch {
    return no("The font is cut off or damaged: its letters cannot be read.");
  }
}

function wav(bytes: Uint8Array, mime: MediaType): MediaCheck {
  const ms = wavMs(bytes);
  return typeof ms === "string" ? no(ms) : { ok: true, content: { mime, ms } };
}

function picture(bytes: Uint8Array, mime: MediaType): MediaCheck {
  if (bytes.length > mostPictureBytes)
    return no(`The picture is larger than ${mostPictureBytes / megabyte} MB. Make it smaller.`);
  const size = sizeOf(bytes);
  if (!size) return no("The picture is cut off or damaged: its size cannot be read.");
  const { width, height } = size;
  if (!(width > 0 && height > 0)) return no("The picture has no size: it is damaged.");
  return width * height > mostPixels
    ? no(`The picture has ${width} × ${height} pixels; at most 40 million are possible.`)
    : { ok: true, content: { mime, width, height } };
}

function sizeOf(bytes: Uint8Array): { width: number; height: number } | null {
  try {
    const { width, height } = imageSize(bytes);
    return { width, height };
  } catch {
    return null;
  }
}

/** Whether a text begins as a web page does, comments and white space before it left out. */
function isPage(text: string): boolean {
  let at = text.startsWith("\uFEFF") ? 1 : 0;
  for (;;) {
    while (/\s/.test(text.charAt(at))) at++;
    if (!text.startsWith("<!--", at)) break;
    const end = text.indexOf("-->", at + 4);
    if (end < 0) return false;
    at = end + 3;
  }
  return /^<(?:!doctype\s+html|html)\b/i.test(text.slice(at, at + 100));
}

/** What is written as text: drawings, and pages of one's own, which play in a frame that can reach nothing else. */
function written(bytes: Uint8Array): MediaCheck | null {
  let text: string;
  try {
    const start = bytes.subarray(0, mostPictureBytes);
    text = new TextDecoder("utf-8", { fatal: true }).decode(start, { stream: true });
  } catch {
    return null;
  }
  if (isPage(text))
    return bytes.length > mostPageBytes
      ? no(`The page is larger than ${mostPageBytes / megabyte} MB. Make it smaller.`)
      : { ok: true, content: { mime: "text/html" } };
  if (bytes.length > mostPictureBytes) return null;
  const drawing = checkSvg(text);
  if (drawing === null) return null;
  return typeof drawing === "string" ? no(drawing) : { ok: true, content: { mime: "image/svg+xml", ...drawing } };
}
