import { createHash } from "node:crypto";
import type { Page } from "playwright-core";
import type { MediaFile } from "~/core/values/study-values";

/** A quarter of a second of a tone, 16 bits, 8 kHz. */
export const wav = () => {
  const samples = 2000;
  const bytes = Buffer.alloc(44 + samples * 2);
  bytes.write("RIFF", 0);
  bytes.writeUInt32LE(36 + samples * 2, 4);
  bytes.write("WAVEfmt ", 8);
  bytes.writeUInt32LE(16, 16);
  bytes.writeUInt16LE(1, 20);
  bytes.writeUInt16LE(1, 22);
  bytes.writeUInt32LE(8000, 24);
  bytes.writeUInt32LE(16000, 28);
  bytes.writeUInt16LE(2, 32);
  bytes.writeUInt16LE(16, 34);
  bytes.write("data", 36);
  bytes.writeUInt32LE(samples * 2, 40);
  for (let index = 0; index < samples; index++)
    bytes.writeInt16LE(Math.round(9000 * Math.sin(index / 3)), 44 + index * 2);
  return { name: "bell.wav", mimeType: "audio/wav", buffer: bytes };
};

/** A file of a study with its bytes, by an id of its own. */
export const mediaOf = (
  id: string,
  { name, mimeType, buffer }: { name: string; mimeType: string; buffer: Buffer },
  more: Partial<MediaFile> = {},
): { file: MediaFile; buffer: Buffer } => ({
  buffer,
  file: {
    ...{ id, name, mime: mimeType as MediaFile["mime"], bytes: buffer.length },
    sha256: createHash("sha256").update(buffer).digest("hex"),
    ...more,
  },
});

/** Half a second of moving colour, made by the browser itself. */
export async function webm(page: Page) {
  const bytes = await page.evaluate(
    () =>
      new Promise<number[]>((resolve) => {
        const canvas = document.createElement("canvas");
        canvas.width = 64;
        canvas.height = 48;
        const surface = canvas.getContext("2d");
        const recorder = new MediaRecorder(canvas.captureStream(25), { mimeType: "video/webm;codecs=vp8" });
        const pieces: Blob[] = [];
        recorder.ondataavailable = ({ data }) => pieces.push(data);
        recorder.onstop = () =>
          void new Blob(pieces).arrayBuffer().then((buffer) => resolve([...new Uint8Array(buffer)]));
        let count = 0;
        const timer = setInterval(() => {
          if (surface) {
            surface.fillStyle = `rgb(${(count * 20) % 255} 90 80)`;
            surface.fillRect(0, 0, 64, 48);
          }
          if (++count > 15) {
            clearInterval(timer);
            recorder.stop();
          }
        }, 40);
        recorder.start();
      }),
  );
  return { name: "tide.webm", mimeType: "video/webm", buffer: Buffer.from(bytes) };
}
