import { describe, expect, it } from "vitest";
import { flawed, linesOf, type Flaw } from "~/tests/support/findings";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { newImageItem } from "../items/image/image";
import { preflight } from "./preflight";

describe("preflight", () => {
  it.each<Flaw>([
    [
      "no parts",
      (_, d) => {
        d.runningOrder = [];
        d.parts = {};
      },
      /no parts/,
    ],
  ])("finds %s", (_, change, message) => expect(linesOf(flawed(change)).join("\n")).toMatch(message));

  it("finds nothing to mend in a new study", () =>
    expect(preflight(plainStudy()).filter(({ level }) => level !== "note")).toEqual([]));

  it("tells what one cell does wrong once, however many items use it", () => {
    const document = withBlock(plainStudy(), (block) => {
      block.table.columns.push({ id: "c", name: "bird", type: "image", factor: false });
      block.table.rows.forEach((row) => (row.cells["c"] = "gone"));
      for (const id of ["i", "j", "k"])
        block.scenes[1]!.items.push({ ...newImageItem(() => id, id, ""), picture: { from: { column: "c" } } });
    });
    expect(linesOf(document)).toEqual([
      "block “Block 1”, row 1, column “bird”: There is no picture called “gone”. Add it, or choose another. (and 1 more row)",
    ]);
  });

  it("says where to go", () => {
    const document = withBlock(
      plainStudy(),
      (block) => void block.scenes[1]!.items.push(newImageItem(() => "i", "bird", "gone")),
    );
    expect(preflight(document)[0]?.target).toMatchObject({
      part: firstBlock(document).id,
      scene: firstBlock(document).scenes[1]!.id,
      item: "i",
    });
  });
});
