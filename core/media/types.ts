/** What the media of a study can be, found from the content. */
export const mediaTypes = [
  "image/png",
  "image/jpeg",
  "image/webp",
  "image/avif",
  "image/svg+xml",
  "audio/wav",
  "audio/mpeg",
  "audio/ogg",
  "audio/flac",
  "audio/mp4",
  "video/mp4",
  "video/webm",
  "text/html",
  "font/woff2",
  "font/ttf",
  "font/otf",
] as const;
export type MediaType = (typeof mediaTypes)[number];

/** Largest media file taken. */
export const mostMediaBytes = 100 * 1024 * 1024;

export type MediaKind = "picture" | "sound" | "video" | "page" | "font";

/** The kind of a media type, as people call it. */
export function mediaKind(mime: string): MediaKind {
  if (mime.startsWith("image/")) return "picture";
  if (mime.startsWith("audio/")) return "sound";
  if (mime.startsWith("font/")) return "font";
  return mime.startsWith("video/") ? "video" : "page";
}
