import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { distinctHeaders, headerName } from "./header-names";

describe("names of exported columns", () => {
  it.each([
    ["word", "word"],
    ["Größe", "Größe"],
    ["condition", "condition"],
    ["2nd_onset_ms", "x_2nd_onset_ms"],
    ["_hidden", "x__hidden"],
    ["by", "x_by"],
    ["Select", "x_Select"],
    ["TRUE", "x_TRUE"],
    ["far bird", "far_bird"],
  ])("%s is called %s", (name, called) => expect(headerName(name)).toBe(called));

  it("have at most 64 bytes, keep their beginning and their end, begin with a letter, and differ without regard to case", () => {
    const name = fc.oneof(
      fc.string({ unit: "binary" }),
      fc.string({ unit: fc.constantFrom("ä", "鴎", "a", "_", "9", " "), minLength: 50, maxLength: 90 }),
      fc.constantFrom("group", "right", "a", "A", "order"),
    );
    fc.assert(
      fc.property(fc.array(name, { maxLength: 12 }), (names) => {
        const headers = distinctHeaders(names, ["study"]);
        expect(new Set([...headers, "study"].map((each) => each.toLowerCase())).size).toBe(names.length + 1);
        for (const header of headers) {
          expect(new TextEncoder().encode(header).length).toBeLessThanOrEqual(64);
          expect(header).toMatch(/^\p{L}[\p{L}\p{N}_]*$/u);
        }
      }),
    );
    const long = headerName(`${"far_".repeat(30)}bird_onset_ms`);
    expect(long).toMatch(/^far_far_.*bird_onset_ms$/);
  });
});
