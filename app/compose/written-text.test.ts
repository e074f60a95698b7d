import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { FormattedText, Mark, Run } from "~/core/values/formatted-text";
import type { Ref } from "~/core/values/ref";
import { fromEditor, textKey, toEditor, type FindRef } from "./written-text";

const names: Record<string, Ref> = {
  upriver: { groupValue: "v1" },
  word: { column: "c1" },
  "last.rt_ms": { builtIn: "last.rt_ms" },
};
const find: FindRef = (name) => names[name] ?? null;
const nameOf = (ref: Ref) =>
  Object.keys(names).find((name) => JSON.stringify(names[name]) === JSON.stringify(ref)) ?? null;

const marks = fc.constantFrom<(Mark[] | undefined)[]>(undefined, ["bold"], ["italic"]);
const run: fc.Arbitrary<Run> = fc.oneof(
  fc.record({
    text: fc.stringMatching(/^[a-z ,.:]{1,12}$/),
    marks,
  }),
  fc.record({ ref: fc.constantFrom<Ref[]>(...Object.values(names)), marks }),
);
const text: fc.Arbitrary<FormattedText> = fc.array(
  fc.record({
    as: fc.constantFrom("paragraph" as const, "heading" as const, "bullet" as const, "numbered" as const),
    runs: fc.array(run, { maxLength: 4 }),
  }),
  { minLength: 1, maxLength: 6 },
);

describe("written text", () => {
  it("comes back from the editor as it went in", () => {
    fc.assert(
      fc.property(text, (written) => {
        const again = fromEditor(toEditor(written, nameOf), find);
        expect(JSON.parse(JSON.stringify(again))).toEqual(JSON.parse(JSON.stringify(written)));
      }),
    );
  });

  it("turns names in double braces, as when pasted, into references", () => {
    const pasted = {
      type: "doc",
      content: [
        { type: "paragraph", content: [{ type: "text", text: "Press {{upriver}}, took {{ last.rt_ms }} ms" }] },
      ],
    };
    expect(fromEditor(pasted, find)).toEqual([
      {
        as: "paragraph",
        runs: [
          { text: "Press " },
          { ref: names["upriver"] },
          { text: ", took " },
          { ref: names["last.rt_ms"] },
          { text: " ms" },
        ],
      },
    ]);
  });

  it("leaves names that do not exist as they are written", () => {
    const pasted = {
      type: "doc",
      content: [{ type: "paragraph", content: [{ type: "text", text: "a {{nobody}} b {{word}}" }] }],
    };
    expect(fromEditor(pasted, find)).toEqual([
      { as: "paragraph", runs: [{ text: "a {{nobody}}" }, { text: " b " }, { ref: names["word"] }] },
    ]);
  });

  it("is another when a name in it is renamed, so that what is shown follows", () => {
    const written: FormattedText = [{ as: "paragraph", runs: [{ ref: { column: "c1" } }] }];
    expect(textKey(written, nameOf)).not.toBe(textKey(written, () => "renamed"));
  });

  it("shows an empty text as an empty line to write in", () =>
    expect(toEditor([], nameOf).content).toEqual([{ type: "paragraph" }]));
});
