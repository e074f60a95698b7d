import { readFileSync } from "node:fs";
import fc from "fast-check";
import * as fontkit from "fontkit";
import { describe, expect, it } from "vitest";
import { checkMedia } from "./content";

const bytes = (...pieces: (string | number[])[]): Uint8Array =>
  new Uint8Array(pieces.flatMap((piece) => (typeof piece === "string" ? [...new TextEncoder().encode(piece)] : piece)));
/** So many bytes of nothing. */
const empty = (count: number) => Array.from({ length: count }, () => 0);
const big = (value: number) => [value >>> 24, (value >> 16) & 255, (value >> 8) & 255, value & 255];
/** A box of ISO/IEC 14496-12: its length, its name, what is in it. */
const box = (name: string, ...inside: (string | number[])[]): number[] => {
  const content = bytes(...inside);
  return [...bytes(big(content.length + 8), name), ...content];
};
const little = (value: number) => [value & 255, (value >> 8) & 255, (value >> 16) & 255, value >>> 24];
const mimeOf = async (file: Uint8Array) => {
  const checked = await checkMedia(file);
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
  it("is a font only where its letters can be read: in WOFF2, and in TrueType only with its characters", async () => {
    const file = "node_modules/@fontsource-variable/jetbrains-mono/files/jetbrains-mono-greek-wght-normal.woff2";
    const woff2 = new Uint8Array(readFileSync(file));
    expect(await mimeOf(woff2)).toBe("font/woff2");
    const read = fontkit.create(Buffer.from(woff2));
    if (!("createSubset" in read)) throw new Error("no single font");
    const subset = read.createSubset();
    subset.includeGlyph(read.glyphForCodePoint(0x3b1));
    const ttf = subset.encode();
    ttf.set([0, 1, 0, 0]);
    // A subset has no table of characters: it draws no text.
    expect(await mimeOf(ttf)).toMatch(/no letters|cannot be read/);
    expect(await mimeOf(woff2.slice(0, 900))).toBe("The font is cut off or damaged: its letters cannot be read.");
    expect(await mimeOf(bytes("OTTO", [0, 3, 0, 32, 0, 1, 0, 16], empty(60)))).toMatch(/cannot be read|not a file/);
  });

  it("is found from its content", async () => {
    expect(await mimeOf(wav(80))).toBe("audio/wav");
    expect(await mimeOf(bytes("OggS", empty(24), "OpusHead", empty(20)))).toBe("audio/ogg");
    expect(await mimeOf(bytes("fLaC", [0, 0, 0, 34], empty(40)))).toBe("audio/flac");
    expect(await mimeOf(bytes("ID3", [4, 0, 0, 0, 0, 0, 4], empty(4), [0xff, 0xfb, 0x90, 0], empty(400)))).toBe(
      "audio/mpeg",
    );
    expect(await mimeOf(bytes([0xff, 0xfb, 0x90, 0x00], empty(400)))).toBe("audio/mpeg");
    expect(await mimeOf(bytes([0, 0, 0, 24], "ftypisom", little(512), "isomiso2"))).toBe("video/mp4");
    expect(await mimeOf(bytes([0, 0, 0, 24], "ftypM4A ", little(512), "M4A isom"))).toBe("audio/mp4");
    expect(await mimeOf(bytes([0x1a, 0x45, 0xdf, 0xa3, 0x87, 0x42, 0x82, 0x84], "webm", empty(20)))).toBe("video/webm");
    expect(await mimeOf(bytes("<!DOCTYPE html><title>Tide table</title>"))).toBe("text/html");
    expect(await mimeOf(bytes('<svg xmlns="x" viewBox="0 0 4 3"></svg>'))).toBe("image/svg+xml");
  });

  it("tells a WAV file's length in milliseconds", async () => {
    const checked = await checkMedia(wav(4000));
    expect(checked.ok && checked.content.ms).toBe(500);
  });

  it("tells an AVIF picture's size", async () => {
    const ispe = box("ispe", empty(4), big(320), big(200));
    const file = bytes(
      box("ftyp", "avif", empty(4), "avifmif1"),
      box("meta", empty(4), box("iprp", box("ipco", ispe))),
    );
    expect(await checkMedia(file)).toEqual({ ok: true, content: { mime: "image/avif", width: 320, height: 200 } });
  });

  it("says what to use instead of a file that cannot be shown or played", async () => {
    expect(await mimeOf(bytes("PK", [3, 4]))).toMatch(/Use PNG, JPEG.*WAV.*MP4/);
    expect(await mimeOf(bytes([]))).toBe("The file is empty.");
    expect(await mimeOf(bytes([0x1a, 0x45, 0xdf, 0xa3, 0x8b, 0x42, 0x82, 0x88], "matroska", empty(20)))).toMatch(
      /Save it as WebM or MP4/,
    );
    expect(await mimeOf(wav(10).subarray(0, 30))).toMatch(/cut off/);
  });

  it("never throws, whatever it is given", async () => {
    const starts = ["RIFF....WAVE", "....ftypavif", "OggS", "<html", "<svg", "\u0089PNG\r\n\u001a\n"];
    await fc.assert(
      fc.asyncProperty(fc.constantFrom("", ...starts), fc.uint8Array({ maxLength: 200 }), async (start, rest) => {
        const checked = await checkMedia(bytes(start, [...rest]));
        expect(checked.ok || checked.reason.length > 5).toBe(true);
      }),
    );
  });
});
