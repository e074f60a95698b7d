import fc from "fast-check";
import type { Patch } from "immer";
import { describe, expect, it } from "vitest";
import { anyStudy, firstBlock, plainStudy } from "~/tests/support/studies";
import { applyEdit } from "./edit";
import { safelyPatched } from "./patch-problem";
import { setOrder, setPart } from "./parts";
import { addRows, removeRows } from "./table";

const study = plainStudy();
const patch = (path: unknown[], value: unknown = 1, op: Patch["op"] = "replace"): Patch => ({
  op,
  path: path as Patch["path"],
  value,
});

/** `[[[…]]]` */
const nested = (depth: number): unknown => {
  let value: unknown = [];
  for (let level = 0; level < depth; level++) value = [value];
  return value;
};

describe("patches from outside", () => {
  it("are carried out where they are what an edit makes, to the same study, and back", () => {
    fc.assert(
      fc.property(anyStudy, (document) => {
        const { id, table } = firstBlock(document);
        const edits = [
          setPart(id, { name: "Other" }),
          setOrder(id, { passes: 3 }),
          addRows(id, [{ id: "new", copies: 1, cells: {} }], 1),
          removeRows(id, [table.rows[0]!.id]),
        ];
        for (const edit of edits) {
          const applied = applyEdit(document, edit);
          expect(safelyPatched(document, applied.patches)).toEqual({ ok: true, result: applied.document });
          expect(safelyPatched(applied.document, applied.inverse)).toEqual({ ok: true, result: document });
        }
      }),
      { numRuns: 60 },
    );
  });

  it.each<[string, Patch]>([
    ["an entry far beyond a list", patch(["groups", 10_000_000], {}, "add")],
    ["a list made long", patch(["groups", "length"], 10_000_000)],
    ["a list made longer by a fraction", patch(["groups", "length"], 0.5)],
    ["an entry before a list", patch(["groups", -1])],
    ["an entry by a word", patch(["groups", "first"])],
    ["a field of all objects", patch(["__proto__", "polluted"])],
    ["a field of all objects, deeper", patch(["settings", "constructor"])],
    ["something within nothing", patch(["parts", "gone", "name"])],
    ["something within a text", patch(["title", "length"])],
    ["a value nested without end", patch(["title"], nested(20_000))],
    ["nothing", patch([])],
    ["a path without end", patch(new Array(500).fill("parts"))],
    ["a name without end", patch(["a".repeat(100_000)])],
  ])("are refused before anything is built: %s", (_, wrong) => {
    expect(safelyPatched(study, [wrong])).toMatchObject({ ok: false, problem: expect.any(String) as string });
    expect(({} as Record<string, unknown>)["polluted"]).toBeUndefined();
  });

  it("are refused whole, also where only the last of them is wrong", () => {
    const made = safelyPatched(study, [patch(["title"], "Other"), patch(["groups", 99])]);
    expect(made.ok).toBe(false);
    expect(study.title).toBe(plainStudy().title);
  });
});
