import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { list, object, record, variant } from "./compound";
import { number, oneOf, text, whole, yesNo } from "./plain";
import { hasShape, lazily, mistakesIn, optional, refined, type Of, type Shape } from "./shape";

type Branch = { name: string; twigs: Branch[] };
const branch: Shape<Branch> = lazily(() => object({ name: text({ missing: "is missing" }), twigs: list(branch) }));
const span = refined(object({ from: whole(0, 99), to: number({ least: 0, most: 99 }) }), ({ from, to }) =>
  to < from ? { field: "to", message: "must not be before its start" } : null,
);
const bird = variant("kind", {
  wader: object({ kind: oneOf("wader"), legs: optional(number({ above: 0 })) }),
  gull: object({ kind: oneOf("gull"), ringed: yesNo }),
});
const shape = object({ tree: branch, span, birds: record(list(bird, 0, 3), 10) });

const sound: Of<typeof shape> = {
  tree: { name: "ash", twigs: [{ name: "tip", twigs: [] }] },
  span: { from: 2, to: 4.5 },
  birds: { quay: [{ kind: "wader", legs: 2 }, { kind: "wader" }], pier: [{ kind: "gull", ringed: true }] },
};

describe("a shape", () => {
  it("fits what follows it, and finds no mistake there", () => {
    expect(hasShape(shape, sound)).toBe(true);
    expect(mistakesIn(shape, sound)).toEqual([]);
  });

  it.each<[string, (copy: Record<string, object>) => void, string, RegExp]>([
    ["a field that is unknown", (copy) => void Object.assign(copy, { roots: 1 }), "", /does not know: roots/],
    ["a text that is empty", (copy) => void Object.assign(copy["tree"]!, { name: "" }), "tree.name", /is missing/],
    ["a number out of bounds", (copy) => void Object.assign(copy["span"]!, { to: 100 }), "span.to", /at most 99/],
    ["a condition that fails", (copy) => void Object.assign(copy["span"]!, { to: 1 }), "span.to", /before its start/],
    [
      "a kind that there is not",
      (copy) => void Object.assign(copy["birds"]!, { pier: [{ kind: "tern" }] }),
      "birds.pier[0]",
      /one of wader, gull/,
    ],
  ])("says what is wrong and where with %s", (_, change, path, message) => {
    const copy = structuredClone(sound) as unknown as Record<string, object>;
    change(copy);
    expect(mistakesIn(shape, copy)).toEqual([
      expect.objectContaining({ path, message: expect.stringMatching(message) as string }),
    ]);
  });

  it("is judged alike by the quick check and by the one that explains, whatever the value", () => {
    const near = fc
      .tuple(fc.constantFrom("tree", "span", "birds"), fc.jsonValue())
      .map(([field, value]) => ({ ...sound, [field]: value }));
    const deep = fc
      .tuple(fc.constantFrom("from", "to"), fc.oneof(fc.double(), fc.string(), fc.integer(), fc.constant(null)))
      .map(([field, value]) => ({ ...sound, span: { ...sound.span, [field]: value } }));
    const birds = fc
      .array(
        fc.record(
          { kind: fc.constantFrom("wader", "gull", "tern"), legs: fc.integer(), ringed: fc.boolean() },
          { requiredKeys: [] },
        ),
        { maxLength: 5 },
      )
      .map((all) => ({ ...sound, birds: { quay: all } }));
    fc.assert(
      fc.property(fc.oneof(fc.jsonValue(), near, deep, birds), (value) => {
        let explained = true;
        try {
          shape.schema.validateSync(value, { strict: true });
        } catch {
          explained = false;
        }
        expect(shape.fits(value)).toBe(explained);
      }),
      { numRuns: 500 },
    );
  });
});
