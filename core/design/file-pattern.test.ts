import { describe, expect, it } from "vitest";
import { filePattern, guessedPattern } from "./file-pattern";

const match = (pattern: string, name: string) => {
  const read = filePattern(pattern);
  return read.ok ? read.pattern.match(name) : read.reason;
};

describe("file name patterns", () => {
  it("take the named pieces out of a file name", () => {
    expect(match("{direction}-{gap}-{n}.svg", "left-12-3.svg")).toEqual({ direction: "left", gap: "12", n: "3" });
    expect(match("wader_{bird}.*", "wader_dunlin.PNG")).toEqual({ bird: "dunlin" });
    expect(match("{bird} ({place}).jpg", "Ringed plover (quay).jpg")).toEqual({ bird: "Ringed plover", place: "quay" });
  });
  it("say which names do not fit", () => expect(match("{direction}-{gap}.svg", "cross.svg")).toBe(null));
  it("are refused with a reason when a piece cannot be a column", () => {
    expect(match("photo.svg", "a")).toMatch(/names no piece/);
    expect(match("{2nd}.svg", "a")).toMatch(/starts with a letter/);
    expect(match("{a}-{A}.svg", "a")).toMatch(/is taken/);
  });
  it("are guessed from what the names have in common", () => {
    expect(guessedPattern(["left-4-1.svg", "right-8-2.svg"])).toBe("{piece1}-{piece2}-{piece3}.svg");
    expect(guessedPattern(["wader-dunlin.svg", "wader-knot.svg"])).toBe("wader-{piece1}.svg");
    expect(guessedPattern(["dunlin.svg", "red knot.png"])).toBe("{name}.*");
    expect(guessedPattern([])).toBe("");
  });
  it("guessed from any names fit all of them", () => {
    for (const names of [["a-1.svg", "b-2.svg"], ["x.png"], ["p q.jpg", "r s.jpg"], ["one_two.a.svg", "one_six.a.svg"]])
      for (const name of names) expect(match(guessedPattern(names), name)).not.toBe(null);
  });
});
