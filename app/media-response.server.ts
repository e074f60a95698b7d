/** A media file as an answer. An SVG may draw but not run anything, even when it is opened on its own. */
export const mediaResponse = ({ mime, bytes }: { mime: string; bytes: Uint8Array<ArrayBuffer> }): Response =>
  new Response(bytes, {
    headers: {
      "Content-Type": mime,
      "Content-Length": String(bytes.length),
      "Cache-Control": "private, max-age=31536000, immutable",
      "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; sandbox",
    },
  });
