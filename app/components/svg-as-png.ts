/** Dots an inch of the bitmap, and CSS pixels an inch. */
const [dpi, cssDpi] = [300, 96];
export const scale = dpi / cssDpi;

/** An SVG as PNG at 300 dpi, which the file says. */
export async function svgAsPng(svg: string): Promise<Blob> {
  const picture = await decoded(svg);
  const canvas = window.document.createElement("canvas");
  canvas.width = Math.round(picture.width * scale);
  canvas.height = Math.round(picture.height * scale);
  canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/png"));
  if (!blob) throw new Error("The browser could not make a PNG of this figure.");
  return new Blob([withDpi(new Uint8Array(await blob.arrayBuffer()))], { type: "image/png" });
}

/** A drawing as a picture that can be drawn. */
export async function decoded(svg: string): Promise<HTMLImageElement> {
  const picture = new Image();
  // As data, not as a blob: only then may the canvas be read again.
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await picture.decode();
  return picture;
}

/** Writes the resolution into a PNG: its pHYs chunk, in dots a metre, behind the header (PNG specification, 11.3.4.3). */
export function withDpi(png: Uint8Array<ArrayBuffer>): Uint8Array<ArrayBuffer> {
  const perMetre = Math.round(dpi / 0.0254);
  const chunk = new Uint8Array(21);
  const view = new DataView(chunk.buffer);
  view.setUint32(0, 9);
  chunk.set(new TextEncoder().encode("pHYs"), 4);
  view.setUint32(8, perMetre);
  view.setUint32(12, perMetre);
  chunk[16] = 1;
  view.setUint32(17, crc32(chunk.subarray(4, 17)));
  const header = 8 + 25;
  const made = new Uint8Array(png.length + chunk.length);
  made.set(png.subarray(0, header));
  made.set(chunk, header);
  made.set(png.subarray(header), header + chunk.length);
  return made;
}

/** Cyclic redundancy check of PNG chunks (ISO 3309, polynomial 0xEDB88320). */
function crc32(bytes: Uint8Array): number {
  let crc = 0xffffffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  return (crc ^ 0xffffffff) >>> 0;
}
