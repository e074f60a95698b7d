import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { applyEdit } from "./edit";
import { editProblem } from "./edit-problem";
import { setPart } from "./parts";
import { setTitle } from "./study";

describe("what an edit has made", () => {
  const before = plainStudy();
  const block = firstBlock(before);
  const after = (...edits: Parameters<typeof applyEdit>[1][]) =>
    edits.reduce((document, edit) => applyEdit(document, edit).document, before);

  it("is taken where it has the shape of a study", () => {
    expect(editProblem(before, before)).toBeNull();
    expect(editProblem(before, after(setPart(block.id, { name: "a".repeat(120) })))).toBeNull();
  });

  it.each([
    ["a long title", setTitle("a".repeat(201)), /must have at most 200 characters/],
    ["an empty title", setTitle(""), /is missing: type a name/],
    ["a long name", setPart(block.id, { name: "a".repeat(121) }), /must have at most 120 characters/],
  ])("is told about: %s", (_, edit, message) => expect(editProblem(before, after(edit))?.message).toMatch(message));

  it("is told about in a cell and in the number of rows, with where it is", () => {
    const long = after((draft) => {
      const part = draft.parts[block.id];
      if (part?.kind === "block") part.table.rows[1]!.copies = 20_000;
    });
    expect(editProblem(before, long)).toEqual({
      where: expect.stringMatching(/Block 1.*row 2/) as string,
      message: "must be at most 10000",
    });
    const many = after((draft) => {
      const part = draft.parts[block.id];
      if (part?.kind === "block")
        part.table.rows.push(
          ...Array.from({ length: 20_000 }, (_, index) => ({ id: `r-${index}`, copies: 1, cells: {} })),
        );
    });
    expect(editProblem(before, many)?.message).toBe("must have at most 20000 rows");
  });

  it("is not held against what was wrong before it", () => {
    const wrong = { ...before, parts: { ...before.parts, [block.id]: { ...block, name: "a".repeat(300) } } };
    expect(editProblem(wrong, { ...wrong, title: "New" })).toBeNull();
  });
});
