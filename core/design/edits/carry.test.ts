import { describe, expect, it } from "vitest";
import { countedIds, firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { preflight } from "../../check/preflight";
import { newBlock } from "../block";
import { newImageItem } from "../../items/image/image";
import { newStudy } from "../new-study";
import { parseStudy } from "../parse";
import type { StudyDocument } from "../document";
import { carriedFrom, copySceneTo, packed, unpacked } from "./carry";
import { applyEdit } from "./edit";
import type { MediaFile } from "../../values/study-values";

const tern: MediaFile = {
  id: "m-tern",
  name: "tern.svg",
  sha256: "a".repeat(64),
  mime: "image/svg+xml",
  bytes: 10,
  width: 4,
  height: 3,
};
/** A study whose target scene also shows a picture from a column and needs a group value. */
const source = (): StudyDocument =>
  withBlock(plainStudy(), (block, document) => {
    document.media.push(tern);
    document.groupValues.push({ id: "side", name: "side", type: "number", perGroup: { [document.groups[0]!.id]: 12 } });
    block.table.columns.push({ id: "bird", name: "bird", type: "image", factor: false });
    block.table.rows.forEach((row) => (row.cells["bird"] = "m-tern"));
    block.scenes[1]!.items.push({
      ...newImageItem((prefix) => `${prefix}-bird`, "bird", ""),
      picture: { from: { column: "bird" } },
      at: { x: { from: { groupValue: "side" } }, y: 0 },
    });
  });
const other = (): StudyDocument => newStudy(countedIds2(), "Market stalls", "CD34");
function countedIds2() {
  let count = 0;
  return (prefix: string) => `${prefix}-b${++count}`;
}

describe("carrying items and scenes", () => {
  it("brings what they refer to into another study: columns with values, group values, media", () => {
    const from = source();
    const [, target] = firstBlock(from).scenes;
    const text = JSON.stringify(packed(from, "amber-quay", firstBlock(from), target!.items, null));
    const carried = carriedFrom(text);
    if (!carried) throw new Error("not read");
    const into = other();
    const block = firstBlock(into);
    const { edit, items } = unpacked(into, block, block.scenes[0]!.id, carried, countedIds());
    const after = applyEdit(into, edit).document;
    expect(parseStudy(after).ok).toBe(true);
    expect(preflight(after).filter(({ level }) => level === "error")).toEqual([]);
    const put = firstBlock(after).scenes[0]!.items;
    expect(put.slice(-2).map(({ id }) => id)).toEqual(items);
    const bird = firstBlock(after).table.columns.find(({ name }) => name === "bird");
    expect(put.at(-1)).toMatchObject({ picture: { from: { column: bird?.id } } });
    expect(firstBlock(after).table.rows.map(({ cells }) => cells[bird!.id])).toEqual(["m-tern", "m-tern"]);
    expect(after.groupValues[0]).toMatchObject({ name: "side", perGroup: { [after.groups[0]!.id]: 12 } });
    expect(after.media).toEqual([tern]);
    // A name that is there already is taken and not added again.
    expect(firstBlock(after).table.columns.filter(({ name }) => name === "word")).toHaveLength(1);
  });

  it("pastes into the same scene with names and places of their own", () => {
    const document = plainStudy();
    const block = firstBlock(document);
    const [scene] = block.scenes;
    const carried = packed(document, "amber-quay", block, scene!.items, null);
    const { edit } = unpacked(document, block, scene!.id, carried, (prefix) => `${prefix}-new`);
    const items = firstBlock(applyEdit(document, edit).document).scenes[0]!.items;
    expect(items.map(({ name }) => name)).toEqual(["cross", "cross 2"]);
    expect(items[1]).toMatchObject({ at: { x: 3, y: -3 } });
  });

  it("copies a scene to another block, and the study stays sound", () => {
    const document = source();
    const newId = countedIds2();
    const block = newBlock(newId, "Evening");
    document.parts[block.id] = block;
    document.runningOrder.push({ kind: "part", part: block.id });
    const from = firstBlock(document);
    const copied = copySceneTo(document, from.id, from.scenes[1]!.id, block.id, newId);
    const after = applyEdit(document, copied!.edit).document;
    const scenes = (after.parts[block.id] as typeof block).scenes;
    expect(scenes.map(({ name }) => name)).toEqual(["fixation", "target", "target 2"]);
    expect(preflight(after).filter(({ message }) => /removed|gone/.test(message))).toEqual([]);
    expect(parseStudy(after)).toMatchObject({ ok: true });
  });

  it("takes no other text for something carried", () =>
    expect([carriedFrom("gull\tferry"), carriedFrom('{"lapwing":"items"'), carriedFrom('{"lapwing":"x"}')]).toEqual([
      null,
      null,
      null,
    ]));
});
