import { describe, expect, it } from "vitest";
import { countedIds, firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { applyEdit } from "./edits/edit";
import { replacedText, sortRows } from "./edits/table";
import { parseStudy } from "./parse";
import { tableAsSheet, tableImport } from "./table-import";
import type { StudyDocument } from "./document";

const fresh = () => {
  const ids = countedIds();
  return (prefix: string) => `${ids(prefix)}-new`;
};
const bring = (sheet: string[][], mode: "replace" | "append" = "replace", document: StudyDocument = plainStudy()) => {
  const made = tableImport(document, firstBlock(document), sheet, mode, fresh());
  const after = applyEdit(document, made.edit).document;
  expect(parseStudy(after).ok).toBe(true);
  return { ...made, after, block: firstBlock(after) };
};

describe("bringing a sheet into the table", () => {
  it("matches columns by name, adds new ones with the type of their values, and counts what changes", () => {
    const { block, ...told } = bring([
      ["Word", "gap", "seen", "copies"],
      ["gull", "4,5", "yes", "2"],
      ["tern", "6", "no", "1"],
      ["knot", "", "yes", ""],
    ]);
    expect(told).toMatchObject({
      rowsAdded: 1,
      rowsRemoved: 0,
      cellsChanged: 1,
      newColumns: [
        { name: "gap", type: "number" },
        { name: "seen", type: "yes-no" },
      ],
      untouched: ["key"],
    });
    const [word, key, gap, seen] = block.table.columns.map(({ id }) => id) as [string, string, string, string];
    expect(
      block.table.rows.map(({ copies, cells }) => [copies, cells[word], cells[key], cells[gap], cells[seen]]),
    ).toEqual([
      [2, "gull", "f", 4.5, true],
      [1, "tern", "j", 6, false],
      [1, "knot", undefined, undefined, true],
    ]);
  });

  it("appends without touching what is there", () => {
    const { block, rowsAdded } = bring([["word"], ["tern"]], "append");
    expect(rowsAdded).toBe(1);
    expect(tableAsSheet(plainStudy(), block).map(([, word]) => word)).toEqual(["word", "gull", "ferry", "tern"]);
  });

  it("makes names of headers that are none, and says so", () => {
    const { renamed, block } = bring([
      ["2nd letter", "rt_ms", "word"],
      ["a", "1", "x"],
    ]);
    expect(renamed).toEqual([
      { from: "2nd letter", to: "c2nd_letter" },
      { from: "rt_ms", to: "my_rt_ms" },
    ]);
    expect(block.table.columns.map(({ name }) => name)).toEqual(["word", "key", "c2nd_letter", "my_rt_ms"]);
  });

  it("keeps what does not fit as it was typed", () => {
    const document = withBlock(plainStudy(), (block) => (block.table.columns[0]!.type = "number"));
    const { block } = bring([["word"], ["12"], ["twelve"]], "replace", document);
    expect(block.table.rows.map(({ cells }) => cells[block.table.columns[0]!.id])).toEqual([12, "twelve"]);
  });

  it("gives back what it was given, through a sheet and back", () => {
    const document = plainStudy();
    const sheet = tableAsSheet(document, firstBlock(document));
    const { block, cellsChanged, newColumns } = bring(sheet);
    expect([block.table, cellsChanged, newColumns]).toEqual([firstBlock(document).table, 0, []]);
  });

  it("sorts numbers by size, texts by the alphabet and leaves empty cells last", () => {
    const { after, block } = bring([
      ["word", "n"],
      ["b", "10"],
      ["a", "9"],
      ["c", ""],
      ["d", "x"],
    ]);
    const column = block.table.columns[2]!.id;
    const order = (direction: "up" | "down") =>
      firstBlock(applyEdit(after, sortRows(block.id, column, direction)).document).table.rows.map(
        ({ cells }) => cells[block.table.columns[0]!.id],
      );
    expect([order("up"), order("down")]).toEqual([
      ["a", "b", "d", "c"],
      ["d", "b", "a", "c"],
    ]);
  });

  it.each([
    ["gull and gull", "gull", "tern", false, false, "tern and tern"],
    ["Gull", "gull", "tern", false, false, "tern"],
    ["Gull", "gull", "tern", true, false, null],
    ["gulls", "gull", "tern", false, true, null],
    ["a.b", ".", "$&", false, false, "a$&b"],
  ])("in %s replaces %s by %s (case %s, whole %s): %s", (text, find, by, matchCase, wholeCell, result) =>
    expect(replacedText(text, { find, matchCase, wholeCell }, by)).toBe(result),
  );
});
