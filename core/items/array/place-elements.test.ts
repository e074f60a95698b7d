import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { newItem } from "../item";
import type { ArrayItem } from "./array";
import { streamFor } from "../../random/stream";
import { placeElements } from "./place-elements";
import { compile } from "../../compile/compile";

const array = (change: Partial<ArrayItem> = {}) =>
  ({ ...newItem(() => "a", "array", "boats"), ...change }) as ArrayItem;
const field = { count: 8, w: 70, h: 70, element: 6, present: true };

describe("elements of an array", () => {
  it("lie on a ring at equal angles, one of them the target", () => {
    const placed = placeElements(array(), field, streamFor("r"));
    expect(placed.filter(({ isTarget }) => isTarget)).toHaveLength(1);
    for (const { x, y } of placed) expect(Math.hypot(x, y)).toBeCloseTo(32, 1);
    expect(placeElements(array(), { ...field, present: false }, streamFor("r")).some(({ isTarget }) => isTarget)).toBe(
      false,
    );
  });

  it("fill different cells of a grid", () => {
    const placed = placeElements(
      array({ arrangement: "grid", across: 4, upright: 3 }),
      { ...field, count: 12 },
      streamFor("g"),
    );
    expect(new Set(placed.map(({ x, y }) => `${x} ${y}`)).size).toBe(12);
    expect(placeElements(array({ arrangement: "grid", across: 2, upright: 2 }), field, streamFor("g"))).toHaveLength(4);
  });

  it("keep their distance and stay within the field when scattered, whatever the seed", () => {
    fc.assert(
      fc.property(fc.nat(), fc.integer({ min: 1, max: 15 }), (seed, count) => {
        const placed = placeElements(
          array({ arrangement: "scattered", distance: 9 }),
          { ...field, count },
          streamFor(seed),
        );
        expect(placed).toHaveLength(count);
        placed.forEach((a, index) => {
          expect(Math.max(Math.abs(a.x), Math.abs(a.y))).toBeLessThanOrEqual(32.01);
          for (const b of placed.slice(index + 1)) expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeGreaterThan(8.97);
        });
      }),
    );
  });

  it("give fewer where no place is left, and never hang", () => {
    const placed = placeElements(
      array({ arrangement: "scattered", distance: 40 }),
      { ...field, count: 50 },
      streamFor("f"),
    );
    expect(placed.length).toBeLessThan(8);
  });

  it("put the target on the side asked for, and on each place there equally often", () => {
    const counts = new Map<string, number>();
    for (let seed = 0; seed < 2000; seed++) {
      const placed = placeElements(
        array({ arrangement: "grid", across: 4, upright: 1, targetIn: "left" }),
        { ...field, count: 4 },
        streamFor("side", seed),
      );
      const target = placed.find(({ isTarget }) => isTarget);
      expect(target?.x).toBeLessThan(0);
      counts.set(String(target?.x), (counts.get(String(target?.x)) ?? 0) + 1);
    }
    expect([...counts.values()].length).toBe(2);
    for (const count of counts.values()) expect(Math.abs(count - 1000)).toBeLessThan(120);
  });

  it("are drawn for each trial from the session's seed and go with the row's values", () => {
    const document = withBlock(plainStudy(), (block) => {
      const [word] = block.table.columns;
      word!.type = "number";
      block.order.passes = 3;
      block.table.rows.forEach((row, index) => (row.cells[word!.id] = 4 + index));
      block.scenes[1]!.items.push(array({ count: { from: { column: word!.id } } }));
    });
    const trials = (seed: string) =>
      compile(document, 1, seed, document.groups[0]!.id).parts.flatMap((part) =>
        part.kind === "block" ? part.trials : [],
      );
    const [word] = firstBlock(document).table.columns;
    for (const { placed, values } of trials("s")) expect(placed["a"]).toHaveLength(Number(values[word!.id]));
    expect(trials("s")).toEqual(trials("s"));
    expect(new Set(trials("s").map(({ placed }) => JSON.stringify(placed))).size).toBe(6);
  });
});
