import { describe, expect, it } from "vitest";
import { plainStudy, withBlock } from "~/tests/support/studies";
import { newItem } from "../items/item";
import type { ShapeItem } from "../items/shape/shape";
import type { Lasts } from "../design/scene";
import { flashes } from "./flashes";

/** What is said of trials whose scenes last so long, a shape of that size on every second one. */
const said = (all: Lasts[], side = 40) =>
  flashes(
    withBlock(plainStudy(), (block) => {
      block.answers = [];
      block.scenes = all.map((lasts, index) => ({
        id: `scene-${index}`,
        name: `scene ${index}`,
        lasts,
        items: index % 2 === 0 ? [{ ...shape(index), size: { w: side, h: side } }] : [],
      }));
    }),
  ).map(({ message }) => message.replace(/;.*/, ""));
const shape = (index: number) => newItem((prefix) => `${prefix}-${index}`, "shape", "light") as ShapeItem;
const ms = (...all: number[]): Lasts[] => all.map((each) => ({ kind: "ms", ms: each }));

describe("flashes", () => {
  it("are warned of from the fourth within a second on, also over trials that follow each other at once", () => {
    const ten = said(ms(100, 100, 100, 100, 100, 100, 100, 100, 100, 100));
    expect(ten).toEqual(["Large parts of its stage change up to 10 times within a second, which can make 5 flashes"]);
    expect(said(ms(120, 120))).toEqual([
      "Large parts of its stage change up to 9 times within a second, which can make 4 flashes",
    ]);
  });

  it("are none where three at most come within a second, what changes is small, or the participant is waited for", () => {
    expect(said(ms(150, 150))).toEqual([]);
    expect(said(ms(100, 100), 12)).toEqual([]);
    expect(said(ms(500, 30, 50, 30, 600))).toEqual([]);
    expect(said([...ms(50, 50, 50), { kind: "until-answer" }, ...ms(50, 50, 50)])).toEqual([]);
  });
});
