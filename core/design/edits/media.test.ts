import { expect, it } from "vitest";
import { countedIds, firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { preflight } from "../../check/preflight";
import { newImageItem } from "../../items/image/image";
import type { MediaFile } from "../../values/study-values";
import { applyEdit } from "./edit";
import { addMedia, removeMedia } from "./media";

const file = (id: string, name: string, sha256: string): MediaFile => ({
  ...{ id, name, sha256: sha256.repeat(64), bytes: 10, mime: "image/png", width: 4, height: 4 },
});

it("a file that was taken out is told by its name, and one of that name that is added takes its place", () => {
  const document = withBlock(plainStudy(), (block, whole) => {
    whole.media.push(file("m-1", "knot.png", "a"));
    block.table.columns.push({ id: "bird", name: "bird", type: "image", factor: false });
    for (const row of block.table.rows) row.cells["bird"] = "m-1";
    block.scenes[0]!.items.push(newImageItem(countedIds(), "bird", "m-1"));
  });
  const without = applyEdit(document, removeMedia("m-1")).document;
  const told = preflight(without).map(({ message }) => message);
  expect(told).toContain("There is no picture called “knot.png”. Add it, or choose another. (and 1 more row)");
  expect(told).toContain("Its picture “knot.png” is missing. Choose another or add it again.");
  const again = applyEdit(without, addMedia(file("m-2", "knot.png", "b"))).document;
  expect(firstBlock(again).table.rows.map(({ cells }) => cells["bird"])).toEqual(["m-2", "m-2"]);
  expect(preflight(again).filter(({ level }) => level === "error")).toEqual([]);
});
