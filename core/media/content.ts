import { checkPicture } from "./pictures";
import type { MediaType } from "./types";

/** What a media file turned out to be, found from its content and not from its name. Lengths in ms, sizes in pixels. */
export type MediaContent = { mime: MediaType; width?: number; height?: number; ms?: number };
export type MediaCheck = { ok: true; content: MediaContent } | { ok: false; reason: string };

const megabyte = 1024 * 1024;
export const mostMediaBytes = 100 * megabyte;
const mostPageBytes = 5 * megabyte;
const no = (reason: string): MediaCheck => ({ ok: false, reason });

/** Finds a media file's kind, size and length, or says why it cannot be taken. */
export function checkMedia(bytes: Uint8Array): MediaCheck {
  if (bytes.length === 0) return no("The file is empty.");
  if (bytes.length > mostMediaBytes)
    return no(`The file is larger than ${mostMediaBytes / megabyte} MB. Make it smaller.`);
  const found = avif(bytes) ?? wav(bytes) ?? container(bytes) ?? page(bytes);
  if (found) return found;
  const picture = checkPicture(bytes);
  if (picture.ok) return { ok: true, content: picture.picture };
  return no(
    picture.reason.startsWith("This is not a picture")
      ? "This is not a file Lapwing can show or play. Use PNG, JPEG, WebP, AVIF or SVG for pictures, WAV, MP3, OGG, FLAC or M4A for sounds, MP4 or WebM for videos, HTML for pages."
      : picture.reason,
  );
}

const view = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const ascii = (bytes: Uint8Array, at: number, text: string) =>
  [...text].every((letter, index) => bytes[at + index] === letter.charCodeAt(0));
const textAt = (bytes: Uint8Array, at: number, length: number) =>
  String.fromCharCode(...bytes.subarray(at, at + length));

/** ISO base media brand, as in `ftypavif` (ISO/IEC 14496-12). */
const brand = (bytes: Uint8Array) => (ascii(bytes, 4, "ftyp") && bytes.length > 16 ? textAt(bytes, 8, 4) : null);

/** Size of an AVIF picture from its `ispe` property, that of the primary item coming first. */
function avif(bytes: Uint8Array): MediaCheck | null {
  const found = brand(bytes);
  if (found !== "avif" && found !== "avis") return null;
  for (let at = 16; at + 16 <= Math.min(bytes.length, 65_536); at++)
    if (ascii(bytes, at, "ispe")) {
      const [width, height] = [view(bytes).getUint32(at + 8), view(bytes).getUint32(at + 12)];
      if (width > 0 && height > 0 && width * height <= 40_000_000)
        return { ok: true, content: { mime: "image/avif", width, height } };
    }
  return no("The AVIF picture is damaged: its size cannot be read.");
}

/** Length of a WAV file from its format and data chunks (RIFF, Microsoft and IBM 1991). */
function wav(bytes: Uint8Array): MediaCheck | null {
  if (!ascii(bytes, 0, "RIFF") || !ascii(bytes, 8, "WAVE")) return null;
  const data = view(bytes);
  let perSecond = 0;
  for (let at = 12; at + 8 <= bytes.length;) {
    const size = data.getUint32(at + 4, true);
    if (ascii(bytes, at, "fmt ") && at + 20 <= bytes.length) perSecond = data.getUint32(at + 16, true);
    if (ascii(bytes, at, "data")) {
      if (perSecond === 0) return no("The WAV file is damaged: it does not say how it was recorded.");
      const there = Math.min(size, bytes.length - at - 8);
      return { ok: true, content: { mime: "audio/wav", ms: Math.round((there / perSecond) * 1000) } };
    }
    at += 8 + size + (size % 2);
  }
  return no("The WAV file is cut off.");
}

/** Sounds and videos whose length the browser finds out. */
function container(bytes: Uint8Array): MediaCheck | null {
  const as = (mime: MediaType): MediaCheck => ({ ok: true, content: { mime } });
  if (ascii(bytes, 0, "OggS")) return as("audio/ogg");
  if (ascii(bytes, 0, "fLaC")) return as("audio/flac");
  if (ascii(bytes, 0, "ID3") || (bytes[0] === 0xff && ((bytes[1] ?? 0) & 0xe6) === 0xe2)) return as("audio/mpeg");
  const found = brand(bytes);
  if (found === "M4A " || found === "M4B ") return as("audio/mp4");
  if (found !== null && /^(isom|iso[2-9]|mp4[12]|avc1|M4V |dash|qt {2})$/.test(found)) return as("video/mp4");
  const isEbml = bytes[0] === 0x1a && bytes[1] === 0x45 && bytes[2] === 0xdf && bytes[3] === 0xa3;
  if (isEbml)
    return textAt(bytes, 0, Math.min(64, bytes.length)).includes("webm")
      ? as("video/webm")
      : no("This video is Matroska but not WebM. Save it as WebM or MP4.");
  return null;
}

/** A page of its own: HTML that begins as such. It plays in a frame that can reach nothing else. */
function page(bytes: Uint8Array): MediaCheck | null {
  let start: string;
  try {
    start = new TextDecoder("utf-8", { fatal: true }).decode(bytes.subarray(0, Math.min(bytes.length, mostPageBytes)));
  } catch {
    return null;
  }
  if (!/^\uFEFF?\s*(?:<!--[\s\S]*?-->\s*)*<(?:!doctype\s+html|html)\b/i.test(start)) return null;
  return bytes.length > mostPageBytes
    ? no(`The page is larger than ${mostPageBytes / megabyte} MB. Make it smaller.`)
    : { ok: true, content: { mime: "text/html" } };
}
