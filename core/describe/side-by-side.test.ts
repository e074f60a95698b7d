import { expect, it } from "vitest";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { applyEdit, type Edit } from "../design/edits/edit";
import { moveNode } from "../design/edits/running-order";
import { setOrder, setPart } from "../design/edits/parts";
import { addVariable } from "../design/edits/rules";
import { removeItems, setScene } from "../design/edits/scenes";
import { removeRows, setCells } from "../design/edits/table";
import { addGroup, setTitle } from "../design/edits/study";
import { listedParts } from "../design/lookup";
import { sideBySide } from "./side-by-side";

const block = firstBlock(plainStudy());
const [fixation] = block.scenes;
const [word] = block.table.columns;
const [first] = block.table.rows;
const pages = listedParts(plainStudy().runningOrder);

it.each<[string, Edit, [string, string | null, string | null][]]>([
  ["nothing", () => undefined, []],
  ["the title", setTitle("Lights"), [["title", plainStudy().title, "Lights"]]],
  ["passes", setOrder(block.id, { passes: 2 }), [["block “Block 1”: order, passes", "1", "2"]]],
  [
    "a duration",
    setScene(block.id, fixation!.id, { lasts: { kind: "ms", ms: 750 } }),
    [["block “Block 1”, scene 1: duration, milliseconds", "500", "750"]],
  ],
  [
    "a cell",
    setCells(block.id, [{ row: first!.id, column: word!.id, value: "tern" }]),
    [["block “Block 1”, row 1: cells, word", "gull", "tern"]],
  ],
  ["a name", setPart(block.id, { name: "Boats" }), [["block “Boats”: name", "Block 1", "Boats"]]],
  [
    "something new",
    addVariable({ id: "v", name: "shells", type: "number", start: 0 }),
    [["variable “shells”", null, "shells"]],
  ],
  ["a row gone", removeRows(block.id, [first!.id]), [["block “Block 1”, row 1", "1 gull f", null]]],
  [
    "an item gone",
    removeItems(block.id, fixation!.id, [fixation!.items[0]!.id]),
    [["block “Block 1”, scene 1, item “cross”", "cross", null]],
  ],
  ["a group", addGroup({ id: "late", name: "Late" }), [["group “Late”", null, "Late"]]],
])("shows %s", (_, edit, rows) => {
  const { document } = applyEdit(plainStudy(), edit);
  expect(sideBySide(plainStudy(), document).map(({ where, one, other }) => [where, one, other])).toEqual(rows);
});

it("shows another order of the same parts as one difference", () => {
  const { document } = applyEdit(plainStudy(), moveNode(block.id, pages[0] ?? "", null));
  const [row, ...more] = sideBySide(plainStudy(), document);
  expect(more).toEqual([]);
  expect(row?.where).toBe("running order, order");
  expect(row?.one?.split(", ").sort()).toEqual(row?.other?.split(", ").sort());
  expect(row?.one).not.toBe(row?.other);
});
