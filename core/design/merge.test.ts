import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { creatures, own } from "~/tests/support/pools";
import { countedIds, firstBlock, plainStudy } from "~/tests/support/studies";
import { newBlock } from "./block";
import { newItem } from "../items/item";
import { newPage } from "./page";
import { newScene } from "./scene";
import { patchesBetween } from "./edits/between";
import { applyEdit, patched, together, type Edit } from "./edits/edit";
import { addPart, copyPart, removePart, sameBlockAgain } from "./edits/parts";
import { bracketRound, stepNode } from "./edits/running-order";
import { addItem, addScene, moveScene, removeItems, removeScene, setAnswer, setItem, setScene } from "./edits/scenes";
import { addGroup, addGroupValue, removeGroup, setSettings, setTitle } from "./edits/study";
import { addService } from "./edits/services";
import {
  addColumn,
  addPool,
  addRows,
  removeColumn,
  removePool,
  removeRows,
  setCells,
  setCopies,
  setDraws,
} from "./edits/table";
import { merge, transplanted } from "./merge";
import { parseStudy } from "./parse";
import type { StudyDocument } from "./document";

const base = { ...plainStudy(), pools: [creatures(3)] };
const block = firstBlock(base);
const [fixation, target] = block.scenes;
const [word, key] = block.table.columns;
const [first, second] = block.table.rows;
const after = (...edits: Edit[]): StudyDocument =>
  edits.reduce((document, edit) => applyEdit(document, edit).document, base);
const cell = (row: string, column: string, value: string) => setCells(block.id, [{ row, column, value }]);

describe("merging two versions", () => {
  it("takes both where they touch different things, also in the same row and item", () => {
    const mine = after(
      cell(first!.id, word!.id, "tern"),
      setItem(block.id, fixation!.id, fixation!.items[0]!.id, { fill: "#ff0000" }),
    );
    const theirs = after(
      cell(first!.id, key!.id, "x"),
      setItem(block.id, fixation!.id, fixation!.items[0]!.id, { lineWidth: 3 }),
      setTitle("Lights at dusk"),
    );
    const { document, conflicts } = merge(base, mine, theirs);
    expect(conflicts).toEqual([]);
    expect(document.title).toBe("Lights at dusk");
    expect(firstBlock(document).table.rows[0]?.cells).toEqual({ [word!.id]: "tern", [key!.id]: "x" });
    expect(firstBlock(document).scenes[0]?.items[0]).toMatchObject({ fill: "#ff0000", lineWidth: 3 });
  });

  it("keeps mine where both changed the same value, and tells what the other is", () => {
    const { document, conflicts } = merge(base, after(setTitle("Mine")), after(setTitle("Theirs")));
    expect([document.title, conflicts]).toEqual(["Mine", [{ path: ["title"], mine: "Mine", theirs: "Theirs" }]]);
  });

  it("has no conflict where both made the same change", () =>
    expect(merge(base, after(setTitle("Same")), after(setTitle("Same"))).conflicts).toEqual([]));

  it("puts rows of both in, each where it was added", () => {
    const row = (id: string) => ({ id, copies: 1, cells: {} });
    const mine = after(addRows(block.id, [row("mine")], 1));
    const theirs = after(addRows(block.id, [row("theirs")], 2), removeRows(block.id, [first!.id]));
    expect(firstBlock(merge(base, mine, theirs).document).table.rows.map(({ id }) => id)).toEqual([
      "mine",
      second!.id,
      "theirs",
    ]);
  });

  it("keeps what one removed and the other changed, and says so", () => {
    const mine = after(setCopies(block.id, [{ row: first!.id, copies: 9 }]));
    const theirs = after(removeRows(block.id, [first!.id]));
    for (const [a, b] of [
      [mine, theirs],
      [theirs, mine],
    ] as const) {
      const { document, conflicts } = merge(base, a, b);
      expect(firstBlock(document).table.rows.find(({ id }) => id === first!.id)?.copies).toBe(9);
      expect(conflicts).toHaveLength(1);
    }
  });

  it("takes a new order from the side that made it, with what the other added", () => {
    const mine = after(moveScene(block.id, target!.id, 0));
    const theirs = after(addScene(block.id, { ...newScene(countedIds(), "mud"), id: "mud" }, target!.id));
    expect(firstBlock(merge(base, mine, theirs).document).scenes.map(({ name }) => name)).toEqual([
      "target",
      "mud",
      "fixation",
    ]);
  });

  const editFor = ([which, number]: [number, number]): Edit => {
    const id = (prefix: string) => `${prefix}-${number}-${which}`;
    const edits: Edit[] = [
      setTitle(`Title ${number}`),
      setSettings({ seed: `S${number}` }),
      addPart(newPage(id, `Page ${number}`), block.id),
      addPart(newBlock(counted(`${number}`), `Block ${number}`), null),
      copyPart(block.id, id("block")),
      removePart(block.id),
      stepNode(block.id, number % 2 === 0 ? 1 : -1),
      bracketRound(Object.keys(base.parts).slice(0, 2), id("bracket"), "shuffled"),
      sameBlockAgain(block.id, id("block")),
      addGroup({ id: id("group"), name: `Group ${number}` }),
      removeGroup(base.groups[0]!.id),
      addGroupValue({ id: id("value"), name: `v${number}`, type: "text", perGroup: { [base.groups[0]!.id]: "a" } }),
      addScene(block.id, newScene(id, `Scene ${number}`), fixation!.id),
      removeScene(block.id, number % 2 ? fixation!.id : target!.id),
      moveScene(block.id, fixation!.id, number % 2),
      setScene(block.id, target!.id, { name: `target ${number}` }),
      addItem(block.id, target!.id, newItem(id, "shape", `Shape ${number}`)),
      removeItems(block.id, fixation!.id, [fixation!.items[0]!.id]),
      addRows(block.id, [{ id: id("row"), copies: 1, cells: { [word!.id]: "x" } }], number % 3),
      removeRows(block.id, [first!.id]),
      addColumn(block.id, { id: id("column"), name: `c${number}`, type: "text", factor: false }),
      removeColumn(block.id, word!.id),
      setAnswer(block.id, block.answers[0]!.id, { opensWith: fixation!.id }),
      setDraws(block.id, word!.id, own({ where: [{ column: "kind", to: `k${number}` }] })),
      setDraws(
        block.id,
        word!.id,
        own({ takes: { is: "position" }, before: { block: block.id, shown: number % 2 === 0 } }),
      ),
      // Of two columns, each a row of its own, or one with the other.
      together(
        setDraws(block.id, word!.id, own()),
        setDraws(block.id, key!.id, { with: word!.id, takes: { is: "value", column: "length" } }),
      ),
      together(
        setDraws(block.id, key!.id, own()),
        setDraws(block.id, word!.id, { with: key!.id, takes: { is: "value", column: "kind" } }),
      ),
      setDraws(block.id, word!.id, undefined),
      addColumn("creatures", { id: id("column"), name: `p${number % 3}`, type: "text", factor: false }),
      removeColumn("creatures", "kind"),
      setCells("creatures", [{ row: "creatures-1", column: "kind", value: `k${number}` }]),
      removePool("creatures"),
      addPool({ ...creatures(1), id: id("pool"), name: `Pool ${number % 3}` }),
      addService({ id: id("service"), name: "Scores", address: `https://s${number}.example/` }),
    ];
    return edits[which] as Edit;
  };
  /** Ids that are the same for the same number, and differ within it. */
  const counted = (number: string) => {
    let count = 0;
    return (prefix: string) => `${prefix}-${number}-${++count}`;
  };
  // No edit twice: ids that are made anew are never the same.
  const some = fc
    .uniqueArray(fc.tuple(fc.nat(32), fc.nat(1000)), { maxLength: 5, selector: (each) => each.join() })
    .map((all) => all.map(editFor));
  const isSound = (document: StudyDocument) => parseStudy(JSON.parse(JSON.stringify(document))).ok;

  it("always gives a sound study, whatever both did", () => {
    fc.assert(
      fc.property(some, some, (one, two) => {
        fc.pre(isSound(after(...one)) && isSound(after(...two)));
        const { document } = merge(base, after(...one), after(...two));
        const parsed = parseStudy(JSON.parse(JSON.stringify(document)));
        expect(parsed.ok ? [] : parsed.mistakes).toEqual([]);
      }),
      { numRuns: 300 },
    );
  });

  it("changes nothing when one side did nothing", () => {
    fc.assert(
      fc.property(some, (edits) => {
        const changed = after(...edits);
        fc.pre(isSound(changed));
        expect(merge(base, changed, base).document).toEqual(changed);
        expect(merge(base, base, changed)).toEqual({ document: changed, conflicts: [] });
      }),
    );
  });

  it("takes a change back on a version that others have changed since", () => {
    const mine = after(setTitle("Mine"));
    const both = applyEdit(mine, setSettings({ seed: "THEIRS" })).document;
    const undone = transplanted(mine, base, both);
    expect([undone.title, undone.settings.seed]).toEqual([base.title, "THEIRS"]);
  });

  it("finds patches that lead from any version to any other", () => {
    fc.assert(
      fc.property(some, some, (one, two) => {
        const [from, to] = [after(...one), after(...two)];
        expect(patched(from, patchesBetween(from, to))).toEqual(to);
      }),
    );
  });
});
