import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import type { Marked, Marker } from "../markers/marker";
import { markerProblems, markerValues } from "./markers";

const marker = (name: string, at: Marked, value: Marker["value"]): Marker => ({ id: `m-${name}`, name, at, value });
const study = (markers: (block: Block) => Marker[]): StudyDocument =>
  withBlock(plainStudy(), (block) => void (block.markers = markers(block)));
const problems = (markers: (block: Block) => Marker[]) =>
  markerProblems(study(markers)).map(({ level, where, message }) => `${level} ${where}: ${message}`);
const scene = (block: Block, index: number): Marked => ({ on: "scene-begins", scene: block.scenes[index]?.id ?? "" });

describe("markers", () => {
  it("with values of their own at moments of their own are in order", () => {
    expect(
      problems((block) => [
        marker("a", scene(block, 0), 1),
        marker("b", scene(block, 1), 2),
        marker("c", { on: "trial-ends" }, 3),
      ]),
    ).toEqual([]);
  });

  it.each<[string, (block: Block) => Marker[], RegExp]>([
    [
      "two of the same value",
      (block) => [marker("a", scene(block, 0), 7), marker("b", scene(block, 1), "7")],
      /^warning marker “b” of block “.+”: Its value 7 is also that of marker “a”/,
    ],
    ["a reserved value", (block) => [marker("a", scene(block, 0), 0)], /^error .+ 0, which is the line at rest/],
    [
      "a value that is no byte",
      (block) => [marker("a", scene(block, 0), 300)],
      /^warning .+ 300 is no whole number from 1 to 255/,
    ],
    ["no value", (block) => [marker("a", scene(block, 0), "")], /^warning .+ no value in some trials/],
    [
      "something that is gone",
      () => [marker("a", { on: "scene-begins", scene: "none" }, 1)],
      /^error .+ marks something that is gone/,
    ],
    [
      "two in one frame",
      (block) => [marker("a", { on: "trial-begins" }, 1), marker("b", scene(block, 0), 2)],
      /^warning marker “b” .+ same frame as marker “a” .+a trial begins/,
    ],
  ])("with %s are found", (_, markers, expected) => {
    const told = problems(markers);
    expect(told).toHaveLength(1);
    expect(told[0]).toMatch(expected);
  });

  it("are listed with each value they have", () => {
    const document = study((block) => [
      marker("word", scene(block, 0), { from: { column: block.table.columns[0]?.id ?? "" } }),
    ]);
    const block = firstBlock(document);
    const words = block.table.rows.map(({ cells }) => cells[block.table.columns[0]?.id ?? ""]);
    expect(markerValues(document).map(({ values }) => values)).toEqual([[...new Set(words)]]);
  });
});
