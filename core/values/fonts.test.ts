import { describe, expect, it } from "vitest";
import { familiesOf, fontCalled } from "./fonts";
import type { MediaFile } from "./study-values";

const file = (id: string, name: string, mime: MediaFile["mime"]): MediaFile => ({
  id,
  name,
  mime,
  sha256: id.padEnd(64, "0"),
  bytes: 1,
});
const media = [
  file("m1", "Harbour Script.woff2", "font/woff2"),
  file("m2", "harbour script", "image/png"),
  file("m3", "tide.otf", "font/otf"),
];

describe("a font that is named", () => {
  it("ships, or is an uploaded file by its id or name, with its ending or without, in any case", () => {
    expect(fontCalled(" newsreader", media)).toBe("Newsreader");
    for (const name of ["m1", "Harbour Script.woff2", "harbour script", " HARBOUR SCRIPT "])
      expect(fontCalled(name, media)).toBe(media[0]);
    expect(fontCalled("tide", media)).toBe(media[2]);
    for (const name of ["", "m2", "anchor"]) expect(fontCalled(name, media)).toBeNull();
  });

  it("that is not there is the first that ships", () => {
    expect(familiesOf("anchor", media)).toBe(familiesOf("Atkinson Hyperlegible Next", media));
    expect(familiesOf("tide", media)).toMatch(/^"font-m30+", sans-serif$/);
  });
});
