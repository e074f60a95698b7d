import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  aligned,
  boundsOf,
  distributed,
  guidesFor,
  isCutOff,
  resized,
  snapped,
  turnTowards,
  type Box,
} from "./arrange";

const box = (x: number, y: number, w = 10, h = 6, turned = 0): Box => ({ x, y, w, h, turned });
const anyBox = fc.record({
  x: fc.integer({ min: -60, max: 60 }),
  y: fc.integer({ min: -50, max: 50 }),
  w: fc.integer({ min: 2, max: 40 }),
  h: fc.integer({ min: 2, max: 40 }),
  turned: fc.constantFrom(0, 30, 90, 200, 315),
});
/** The position of a turned box's corner. */
const corner = ({ x, y, w, h, turned }: Box, sx: number, sy: number) => {
  const angle = (turned * Math.PI) / 180;
  const [a, b] = [(sx * w) / 2, (sy * h) / 2];
  return [x + a * Math.cos(angle) + b * Math.sin(angle), y - a * Math.sin(angle) + b * Math.cos(angle)] as const;
};

describe("arranging items", () => {
  it("puts an upright rectangle around a turned box", () => {
    expect(boundsOf(box(10, 5, 20, 10, 90))).toEqual({
      left: expect.closeTo(5) as number,
      right: expect.closeTo(15) as number,
      top: expect.closeTo(15) as number,
      bottom: expect.closeTo(-5) as number,
    });
  });

  it("keeps the opposite corner where it is while a handle is dragged, however the box is turned", () => {
    fc.assert(
      fc.property(
        anyBox,
        fc.constantFrom<[-1 | 1, -1 | 1]>([1, 1], [-1, 1], [1, -1], [-1, -1]),
        fc.integer({ min: -20, max: 20 }),
        fc.integer({ min: -20, max: 20 }),
        fc.boolean(),
        (before, [x, y], dx, dy, keepShape) => {
          const after = resized(before, { x, y }, dx, dy, keepShape);
          const [was, is] = [corner(before, -x, -y), corner(after, -x, -y)];
          expect(is[0]).toBeCloseTo(was[0], 6);
          expect(is[1]).toBeCloseTo(was[1], 6);
          expect(Math.min(after.w, after.h)).toBeGreaterThanOrEqual(0.5);
        },
      ),
    );
  });

  it("lets the dragged corner follow the pointer of an upright box", () => {
    expect(resized(box(0, 0, 10, 6), { x: 1, y: 1 }, 4, 2, false)).toMatchObject({ x: 2, y: 1, w: 14, h: 8 });
    expect(resized(box(0, 0, 10, 6), { x: -1, y: 0 }, -4, 9, false)).toMatchObject({ x: -2, y: 0, w: 14, h: 6 });
  });

  it("keeps the shape when asked to", () =>
    expect(resized(box(0, 0, 10, 5), { x: 1, y: 1 }, 10, 0, true)).toMatchObject({ w: 20, h: 10 }));

  it("snaps to centre, edges and others within reach, and says to which", () => {
    const guides = guidesFor([boundsOf(box(30, 0))], 1.6);
    expect(snapped(boundsOf(box(0.8, 20)), guides, 1.2)).toEqual({
      dx: expect.closeTo(-0.8) as number,
      dy: 0,
      met: { x: [0], y: [] },
    });
    expect(snapped(boundsOf(box(19.5, 0.3)), guides, 1.2)).toMatchObject({
      dx: 0.5,
      dy: expect.closeTo(-0.3) as number,
    });
    expect(snapped(boundsOf(box(10, 15)), guides, 1.2)).toMatchObject({ dx: 0, dy: 0 });
  });

  it("turns the top towards the pointer in steps, clockwise", () => {
    expect([
      turnTowards(box(0, 0), 10, 0, 15),
      turnTowards(box(0, 0), 0, -4, 15),
      turnTowards(box(0, 0), -9, 1, 1),
    ]).toEqual([90, 180, 276]);
  });

  it("aligns edges and centres", () => {
    const boxes = [box(0, 0, 10), box(20, 9, 4), box(-5, 3, 2)];
    const after = (to: Parameters<typeof aligned>[1]) =>
      aligned(boxes, to).map(({ dx, dy }, index) =>
        boundsOf({ ...boxes[index]!, x: boxes[index]!.x + dx, y: boxes[index]!.y + dy }),
      );
    expect(new Set(after("left").map(({ left }) => left)).size).toBe(1);
    expect(new Set(after("bottom").map(({ bottom }) => bottom)).size).toBe(1);
    expect(new Set(after("centre").map(({ left, right }) => left + right)).size).toBe(1);
  });

  it("distributes with equal gaps and leaves the outermost where they are", () => {
    fc.assert(
      fc.property(fc.array(anyBox, { minLength: 3, maxLength: 6 }), (boxes) => {
        const centre = ({ left, right }: ReturnType<typeof boundsOf>) => left + right;
        const moves = distributed(boxes, "x");
        const spans = boxes
          .map((each, index) => ({ before: boundsOf(each), dx: moves[index]!.dx }))
          .sort((a, b) => centre(a.before) - centre(b.before))
          .map(({ before, dx }) => ({ left: before.left + dx, right: before.right + dx, dx }));
        expect(spans[0]!.dx).toBeCloseTo(0, 6);
        expect(spans.at(-1)!.dx).toBeCloseTo(0, 6);
        const gaps = spans.slice(1).map(({ left }, index) => left - spans[index]!.right);
        for (const gap of gaps) expect(gap).toBeCloseTo(gaps[0]!, 6);
      }),
    );
    const even = distributed([box(0, 0, 2), box(3, 0, 2), box(20, 0, 2)], "x");
    expect(even).toEqual([
      { dx: 0, dy: 0 },
      { dx: 7, dy: 0 },
      { dx: 0, dy: 0 },
    ]);
  });

  it("knows what a narrower display would cut off", () => {
    expect([isCutOff(box(63, 0), 16 / 9), isCutOff(box(63, 0), 4 / 3), isCutOff(box(0, 60), 9 / 19.5)]).toEqual([
      false,
      true,
      false,
    ]);
  });
});
