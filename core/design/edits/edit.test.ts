import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { newItem } from "../../items/item";
import { newPage } from "../page";
import { newScene } from "../scene";
import { listedParts } from "../lookup";
import { parseStudy } from "../parse";
import { applyEdit, patched, together, type Edit } from "./edit";
import { addPart, copyPart, removePart, setOrder, setPart, unshareBlock, sameBlockAgain } from "./parts";
import { bracketRound, moveNode, removeBracket, setBracket, setPlacing, stepNode } from "./running-order";
import {
  addItem,
  addScene,
  copyScene,
  layerItems,
  moveScene,
  removeItems,
  removeScene,
  setAnswer,
  setItem,
  setScene,
} from "./scenes";
import {
  addGroup,
  setAllocation,
  setShare,
  addGroupValue,
  removeGroup,
  renameGroupValue,
  setAbout,
  setGroupValue,
  setSettings,
  setTitle,
} from "./study";
import { addColumn, addRows, removeColumn, removeRows, setCells, setColumn, setColumnType, setCopies } from "./table";

const block = firstBlock(plainStudy());
const [fixation, target] = block.scenes;
const [word] = block.table.columns;
const [row] = block.table.rows;
let count = 0;
const id = (prefix: string) => `${prefix}-new-${++count}`;

const groupValue = { type: "key" as const, perGroup: { [plainStudy().groups[0]!.id]: "f" } };
const first = listedParts(plainStudy().runningOrder)[0];
/** One of every kind of edit. */
const edits: [string, () => Edit][] = [
  ["title", () => setTitle("Other")],
  ["about", () => setAbout({ description: "Which light is seen sooner?", language: "de-CH" })],
  ["settings", () => setSettings({ seed: "ZZ" })],
  ["group", () => addGroup({ id: id("group"), name: `Group ${count}` })],
  ["group removed", () => removeGroup("group-new-1")],
  ["group value", () => addGroupValue({ ...groupValue, id: id("value"), name: `value_${count}` })],
  ["group value changed", () => setGroupValue("value-1", plainStudy().groups[0]!.id, "k")],
  ["group value renamed", () => renameGroupValue("value-1", `other_${++count}`)],
  ["part", () => addPart(newPage(id, `Page ${count}`), block.id)],
  ["part copied", () => copyPart(block.id, id("block"))],
  ["part renamed", () => setPart(block.id, { name: "Lights" })],
  ["part moved", () => moveNode(block.id, first!, null)],
  ["part moved into a bracket", () => moveNode(first!, null, "bracket-1")],
  ["step up", () => stepNode(block.id, -1)],
  ["step down", () => stepNode(block.id, 1)],
  ["bracket", () => bracketRound([first!, block.id], id("bracket"), "latin-square")],
  ["bracket changed", () => setBracket("bracket-1", { arrange: "shuffled", take: 1 })],
  ["bracket removed", () => removeBracket("bracket-1")],
  ["only for a group", () => setPlacing(block.id, { onlyGroups: [plainStudy().groups[0]!.id] })],
  ["block used again", () => sameBlockAgain(block.id, id("block"))],
  ["part removed", () => removePart("block-2")],
  ["block on its own", () => unshareBlock("block-2")],
  ["share", () => setShare(plainStudy().groups[0]!.id, 2)],
  ["allocation", () => setAllocation({ method: "least-filled" })],
  ["order", () => setOrder(block.id, { passes: 3 })],
  ["scene", () => addScene(block.id, newScene(id, `scene ${count}`), fixation!.id)],
  ["scene copied", () => copyScene(block.id, target!.id, id("scene"), id)],
  ["scene removed", () => removeScene(block.id, fixation!.id)],
  ["scene moved", () => moveScene(block.id, target!.id, 0)],
  ["scene changed", () => setScene(block.id, target!.id, { lasts: { kind: "ms", ms: 120 } })],
  ["item", () => addItem(block.id, target!.id, newItem(id, "shape", "spot"))],
  ["item changed", () => setItem(block.id, target!.id, target!.items[0]!.id, { fontSize: 12 })],
  ["item to the front", () => layerItems(block.id, target!.id, [target!.items[0]!.id], "front")],
  ["item removed", () => removeItems(block.id, target!.id, [target!.items[0]!.id])],
  ["answer", () => setAnswer(block.id, block.answers[0]!.id, { right: undefined, onAnswer: "stay" })],
  ["cells", () => setCells(block.id, [{ row: row!.id, column: word!.id, value: "buoy" }])],
  ["copies", () => setCopies(block.id, [{ row: row!.id, copies: 4 }])],
  ["rows", () => addRows(block.id, [{ id: id("row"), copies: 1, cells: {} }], 1)],
  ["rows removed", () => removeRows(block.id, [row!.id])],
  ["column", () => addColumn(block.id, { id: id("column"), name: `extra_${count}`, type: "number", factor: false })],
  ["column removed", () => removeColumn(block.id, "column-9")],
  ["column type", () => setColumnType(block.id, word!.id, "number")],
  ["column changed", () => setColumn(block.id, word!.id, { factor: false })],
];

describe("edits", () => {
  it("leave a valid study, leave the one before as it was, and go back exactly, in any order", () => {
    fc.assert(
      fc.property(fc.array(fc.nat(edits.length - 1), { minLength: 1, maxLength: 12 }), (picks) => {
        let document = applyEdit(
          plainStudy(),
          together(
            bracketRound([first!, block.id], "bracket-1", "shuffled"),
            sameBlockAgain(block.id, "block-2"),
            addGroupValue({ ...groupValue, id: "value-1", name: "near_key" }),
            addColumn(block.id, { id: "column-9", name: "side", type: "text", factor: false }),
          ),
        ).document;
        for (const pick of picks) {
          const before = structuredClone(document);
          const applied = applyEdit(document, edits[pick]![1]());
          expect(document).toEqual(before);
          const parsed = parseStudy(applied.document);
          expect(parsed.ok ? [] : parsed.mistakes).toEqual([]);
          expect(patched(applied.document, applied.inverse)).toEqual(before);
          // What the server makes of the patches after they went through JSON is what this window shows.
          expect(patched(before, JSON.parse(JSON.stringify(applied.patches)) as typeof applied.patches)).toEqual(
            JSON.parse(JSON.stringify(applied.document)),
          );
          document = applied.document;
        }
      }),
      { numRuns: 120 },
    );
  });
});
