import { describe, expect, it } from "vitest";
import { columnStem, freeName, nameProblem } from "./names";

describe("names", () => {
  it.each(["gap", "Größe", "bird_2", "x"])("takes %s", (name) => expect(nameProblem(name, [])).toBeNull());
  it.each([
    ["", /needed/],
    ["2nd", /starts with a letter/],
    ["left key", /letters, digits and underscores/],
    ["a".repeat(41), /40 characters/],
    ["participant", /family/],
    ["last", /family/],
    ["rt_ms", /every record has/],
    ["flock_onset_ms", /every record has/],
  ])("refuses “%s” and says why", (name, why) => expect(nameProblem(name, [])).toMatch(why));
  it("are unique without regard to case", () => expect(nameProblem("Gap", ["gap"])).toMatch(/“gap” is taken/));
  it("are found free by counting on", () => expect(freeName("column", ["column", "Column_2"])).toBe("column_3"));
  it("make column names of scenes", () => expect(columnStem(" Left–Bird 2! ")).toBe("left_bird_2"));
});
