import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { checkMedia } from "./content";

const bytes = (...pieces: (string | number[])[]): Uint8Array =>
  new Uint8Array(pieces.flatMap((piece) => (typeof piece === "string" ? [...new TextEncoder().encode(piece)] : piece)));
const little = (value: number) => [value & 255, (value >> 8) & 255, (value >> 16) & 255, value >>> 24];
const mimeOf = (file: Uint8Array) => {
  const checked = checkMedia(file);
  return checked.ok ? checked.content.mime : checked.reason;
};
/** A WAV file of silence: 16 bits, one channel. */
const wav = (samples: number, rate = 8000) =>
  bytes(
    "RIFF",
    little(36 + samples * 2),
    "WAVEfmt ",
    little(16),
    [1, 0, 1, 0],
    little(rate),
    little(rate * 2),
    [2, 0, 16, 0],
    "data",
    little(samples * 2),
    Array.from({ length: samples * 2 }, () => 0),
  );

describe("what a media file is", () => {
  it("is found from its content", () => {
    expect(mimeOf(wav(80))).toBe("audio/wav");
    expect(mimeOf(bytes("OggS", [0, 2, 0, 0]))).toBe("audio/ogg");
    expect(mimeOf(bytes("fLaC", [0, 0, 0, 34]))).toBe("audio/flac");
    expect(mimeOf(bytes("ID3", [4, 0, 0, 0]))).toBe("audio/mpeg");
    expect(mimeOf(bytes([0xff, 0xfb, 0x90, 0x00]))).toBe("audio/mpeg");
    expect(mimeOf(bytes([0, 0, 0, 24], "ftypisom", little(512), "isomiso2"))).toBe("video/mp4");
    expect(mimeOf(bytes([0, 0, 0, 24], "ftypM4A ", little(512), "M4A isom"))).toBe("audio/mp4");
    expect(mimeOf(bytes([0x1a, 0x45, 0xdf, 0xa3, 0x9f], "B\u0082\u0084webm"))).toBe("video/webm");
    expect(mimeOf(bytes("<!DOCTYPE html><title>Tide table</title>"))).toBe("text/html");
    expect(mimeOf(bytes('<svg xmlns="x" viewBox="0 0 4 3"></svg>'))).toBe("image/svg+xml");
  });

  it("tells a WAV file's length in milliseconds", () => {
    const checked = checkMedia(wav(4000));
    expect(checked.ok && checked.content.ms).toBe(500);
  });

  it("tells an AVIF picture's size", () => {
    const file = bytes(
      [0, 0, 0, 24],
      "ftypavif",
      little(0),
      "avifmif1",
      [0, 0, 0, 20],
      "ispe",
      [0, 0, 0, 0],
      [0, 0, 1, 64],
      [0, 0, 0, 200],
    );
    expect(checkMedia(file)).toEqual({ ok: true, content: { mime: "image/avif", width: 320, height: 200 } });
  });

  it("says what to use instead of a file that cannot be shown or played", () => {
    expect(mimeOf(bytes("PK", [3, 4]))).toMatch(/Use PNG, JPEG.*WAV.*MP4/);
    expect(mimeOf(bytes([]))).toBe("The file is empty.");
    expect(mimeOf(bytes([0x1a, 0x45, 0xdf, 0xa3], "matroska"))).toMatch(/Save it as WebM or MP4/);
    expect(mimeOf(wav(10).subarray(0, 30))).toMatch(/cut off/);
  });

  it("never throws, whatever it is given", () => {
    const starts = ["RIFF....WAVE", "....ftypavif", "OggS", "<html", "<svg", "\u0089PNG\r\n\u001a\n"];
    fc.assert(
      fc.property(fc.constantFrom("", ...starts), fc.uint8Array({ maxLength: 200 }), (start, rest) => {
        const checked = checkMedia(bytes(start, [...rest]));
        expect(checked.ok || checked.reason.length > 5).toBe(true);
      }),
    );
  });
});
