/** Dots an inch of a picture for print; a page's own dots are ninety-six an inch. */
const [dotsAnInch, ofPage] = [300, 96];

/** A drawing as a picture of 300 dots an inch, on white. */
export async function pngOf({ svg, width, height }: { svg: string; width: number; height: number }): Promise<Blob> {
  const address = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
  try {
    const image = new Image();
    image.src = address;
    await image.decode();
    const canvas = document.createElement("canvas");
    const scale = dotsAnInch / ofPage;
    [canvas.width, canvas.height] = [Math.round(width * scale), Math.round(height * scale)];
    const context = canvas.getContext("2d");
    if (!context) throw new Error("The browser draws no pictures.");
    context.fillStyle = "#ffffff";
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.drawImage(image, 0, 0, canvas.width, canvas.height);
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/png"));
    if (!blob) throw new Error("The browser makes no such picture.");
    return new Blob([withDensity(new Uint8Array(await blob.arrayBuffer()))], { type: "image/png" });
  } finally {
    URL.revokeObjectURL(address);
  }
}

/** Where the first chunk of a picture ends: after the eight bytes it begins with and the header's twenty-five. */
const afterHeader = 33;

/** The same picture, which says how many dots it has a metre: a chunk `pHYs` after its header (PNG, third edition, 11.3.4.3). */
export function withDensity(png: Uint8Array, dots = dotsAnInch): Uint8Array<ArrayBuffer> {
  const chunk = new Uint8Array(21);
  const view = new DataView(chunk.buffer);
  const aMetre = Math.round(dots / 0.0254);
  view.setUint32(0, 9);
  chunk.set(new TextEncoder().encode("pHYs"), 4);
  view.setUint32(8, aMetre);
  view.setUint32(12, aMetre);
  chunk[16] = 1;
  view.setUint32(17, crc(chunk.subarray(4, 17)));
  const whole = new Uint8Array(png.length + chunk.length);
  whole.set(png.subarray(0, afterHeader));
  whole.set(chunk, afterHeader);
  whole.set(png.subarray(afterHeader), afterHeader + chunk.length);
  return whole;
}

/** The check sum of a chunk (ISO 3309). */
function crc(bytes: Uint8Array): number {
  let sum = 0xffffffff;
  for (const byte of bytes) {
    sum ^= byte;
    for (let bit = 0; bit < 8; bit++) sum = sum & 1 ? (sum >>> 1) ^ 0xedb88320 : sum >>> 1;
  }
  return (sum ^ 0xffffffff) >>> 0;
}
