import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { question } from "~/tests/support/forms";
import type { Piece } from "~/core/design/page";
import { plainText, type FormattedText } from "~/core/values/formatted-text";
import { flowFromEditor, flowKey, flowToEditor } from "./flow-document";

const nameOf = () => "upriver";
const back = (content: ReturnType<typeof flowToEditor>, before: readonly Piece[], elsewhere: string[] = []) => {
  let count = 0;
  return flowFromEditor(content, {
    find: () => null,
    before,
    isElsewhere: (id) => elsewhere.includes(id),
    copied: (piece) => ({ ...piece, id: `${piece.id}-copy` }),
    newTextId: () => `new-${++count}`,
  });
};
const text = (id: string, says: string): Piece => ({ kind: "text", id, text: plainText(says) });
const heron = { ...question("scale", "heron"), text: plainText("How many herons?") };

const words: fc.Arbitrary<FormattedText> = fc
  .array(
    fc.record({
      as: fc.constantFrom("paragraph" as const, "heading" as const, "bullet" as const, "numbered" as const),
      runs: fc
        .array(
          fc.oneof(
            fc.stringMatching(/^[a-z ]{1,8}$/).map((each) => ({ text: each })),
            fc.stringMatching(/^[a-z]{1,8}$/).map((each) => ({ text: each, link: "https://tides.example/" })),
            fc.constant({ ref: { groupValue: "upriver" } }),
          ),
          { minLength: 1, maxLength: 3 },
        )
        // Stretches of one style are one.
        .map((runs) => runs.filter((run, index) => !("text" in run) || !("text" in (runs[index - 1] ?? {})))),
    }),
    { minLength: 1, maxLength: 4 },
  )
  .filter((all) => all.every(({ runs }) => runs.some((run) => !("text" in run) || run.text.trim() !== "")));

describe("a page in the editor", () => {
  it("is what it was when nothing was written", () => {
    const piece = fc.oneof(
      words.map((each): Piece => ({ ...heron, text: each })),
      fc.constant<Piece>({ kind: "rule", id: "r" }),
      words.map((each): Piece => ({ kind: "text", id: "t", text: each })),
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 6 }), (pieces) => {
        // Two texts after each other are one.
        const flow = pieces
          .filter(({ kind }, index) => kind !== "text" || pieces[index - 1]?.kind !== "text")
          .map((each, index): Piece => ({ ...each, id: `${each.kind}-${index}` }));
        expect(back(flowToEditor(flow, nameOf), flow)).toEqual(flow);
      }),
    );
  });

  it("keeps a text's id when questions come before and behind it", () => {
    const flow = [text("a", "One"), heron, text("b", "Two")];
    const content = flowToEditor(flow, nameOf);
    const twice = {
      ...content,
      content: [...(content.content ?? []), ...(flowToEditor([heron], nameOf).content ?? [])],
    };
    const made = back(twice, flow);
    expect(made.map(({ id }) => id)).toEqual(["a", heron.id, "b", `${heron.id}-copy`]);
  });

  it("takes a piece that came from another page with what it brought, and a copy where it stands elsewhere too", () => {
    const carried = (id: string) => ({
      type: "question",
      attrs: { piece: id, carried: JSON.stringify({ ...heron, id }) },
      content: [{ type: "paragraph", content: [{ type: "text", text: "Asked anew?" }] }],
    });
    const made = back({ type: "doc", content: [carried("q-far"), carried("q-near")] }, [], ["q-near"]);
    expect(made).toMatchObject([
      { id: "q-far", kind: "scale", text: plainText("Asked anew?") },
      { id: "q-near-copy", kind: "scale" },
    ]);
    expect(back({ type: "doc", content: [{ type: "piece", attrs: { piece: "gone", carried: "{" } }] }, [])).toEqual([]);
  });

  it("looks the same whatever is set in the margin", () => {
    const key = flowKey([heron], nameOf);
    expect(flowKey([{ ...heron, need: "must", points: 5 }], nameOf)).toBe(key);
    expect(flowKey([{ ...heron, text: plainText("How few?") }], nameOf)).not.toBe(key);
  });
});
