import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { countedIds, firstBlock, plainStudy } from "~/tests/support/studies";
import { newItem } from "../../items/item";
import { newPage } from "../page";
import { newScene } from "../scene";
import { listedParts } from "../lookup";
import { parseStudy } from "../parse";
import type { StudyDocument } from "../document";
import { usesIn } from "../../values/uses";
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
const [word, key] = block.table.columns;
const [row] = block.table.rows;
let count = 0;
const id = (prefix: string) => `${prefix}-new-${++count}`;

/** One of every kind of edit, on the plain study. */
const first = listedParts(plainStudy().runningOrder)[0];
const edits: [string, () => Edit][] = [
  ["title", () => setTitle("Other")],
  ["about", () => setAbout({ description: "Which light is seen sooner?", language: "de-CH" })],
  ["settings", () => setSettings({ seed: "ZZ" })],
  ["group", () => addGroup({ id: id("group"), name: `Group ${count}` })],
  ["group removed", () => removeGroup("group-new-1")],
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
  ["block on its own", () => unshareBlock("block-2")],
  ["share", () => setShare(plainStudy().groups[0]!.id, 2)],
  ["allocation", () => setAllocation({ method: "least-filled" })],
  ["order", () => setOrder(block.id, { passes: 3 })],
  ["scene", () => addScene(block.id, newScene(id, `scene ${count}`), fixation!.id)],
  ["scene copied", () => copyScene(block.id, target!.id, id)],
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
  ["column type", () => setColumnType(block.id, word!.id, "number")],
  ["column changed", () => setColumn(block.id, word!.id, { factor: false })],
];

describe("edits", () => {
  it("leave a valid study, leave the one before as it was, and go back exactly, in any order", () => {
    fc.assert(
      fc.property(fc.array(fc.nat(edits.length - 1), { minLength: 1, maxLength: 12 }), (picks) => {
        let document = applyEdit(
          plainStudy(),
          together(bracketRound([first!, block.id], "bracket-1", "shuffled"), sameBlockAgain(block.id, "block-2")),
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

  it("rename a column and every use follows, since uses are by id", () => {
    const { document } = applyEdit(plainStudy(), setColumn(block.id, key!.id, { name: "wanted" }));
    const uses = usesIn(firstBlock(document)).filter(({ ref }) => "column" in ref && ref.column === key!.id);
    expect(uses).toHaveLength(1);
    expect(parseStudy(document).ok).toBe(true);
  });

  it("rename a group value and text with its name follows", () => {
    const value = { id: "v", name: "left_key", type: "key" as const, perGroup: { [plainStudy().groups[0]!.id]: "f" } };
    const page = {
      ...newPage(countedIds(), "How"),
      id: "how",
      body: [{ as: "paragraph" as const, runs: [{ text: "Press " }, { ref: { groupValue: "v" } }] }],
    };
    const { document } = applyEdit(
      plainStudy(),
      together(addGroupValue(value), addPart(page, null), renameGroupValue("v", "port_key")),
    );
    expect(document.parts["how"]).toEqual(page);
    expect(document.groupValues[0]?.name).toBe("port_key");
  });

  it("give a new group the first group's values, and take them away with it", () => {
    const first = plainStudy().groups[0]!.id;
    const value = { id: "v", name: "left_key", type: "key" as const, perGroup: { [first]: "f" } };
    const two = applyEdit(
      plainStudy(),
      together(addGroupValue(value), addGroup({ id: "g2", name: "Two" }), setGroupValue("v", "g2", "k")),
    ).document;
    expect(two.groupValues[0]?.perGroup).toEqual({ [first]: "f", g2: "k" });
    expect(applyEdit(two, removeGroup("g2")).document.groupValues[0]?.perGroup).toEqual({ [first]: "f" });
  });

  it("move the answer window off a scene that is removed", () => {
    const { document } = applyEdit(plainStudy(), removeScene(block.id, target!.id));
    expect(firstBlock(document).answers[0]).toMatchObject({ opensWith: fixation!.id, closesWith: fixation!.id });
  });

  it("keep the last group and the last scene", () => {
    const document: StudyDocument = plainStudy();
    expect(applyEdit(document, removeGroup(document.groups[0]!.id)).document).toEqual(document);
    const one = applyEdit(document, removeScene(block.id, fixation!.id)).document;
    expect(applyEdit(one, removeScene(block.id, target!.id)).document).toEqual(one);
  });

  it("read cells anew when a column's type changes, and keep what does not fit", () => {
    const numbers = applyEdit(
      plainStudy(),
      together(
        setCells(block.id, [{ row: row!.id, column: word!.id, value: "2,5" }]),
        setColumnType(block.id, word!.id, "number"),
      ),
    ).document;
    expect(firstBlock(numbers).table.rows.map(({ cells }) => cells[word!.id])).toEqual([2.5, "ferry"]);
  });

  it("remove a column with its cells", () => {
    const { document } = applyEdit(plainStudy(), removeColumn(block.id, word!.id));
    expect(firstBlock(document).table.rows.every(({ cells }) => !(word!.id in cells))).toBe(true);
  });

  it("copy and remove parts in the running order", () => {
    const { document } = applyEdit(plainStudy(), copyPart(block.id, "copy"));
    expect(listedParts(document.runningOrder)[2]).toBe("copy");
    expect(document.parts["copy"]?.name).toBe("Block 1 copy");
    expect(applyEdit(document, removePart("copy")).document).toEqual(plainStudy());
  });
});
