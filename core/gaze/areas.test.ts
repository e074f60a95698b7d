import { describe, expect, it } from "vitest";
import { areaMeasures, contains, transitions, type Area, type Outline } from "./areas";
import type { Fixation } from "./events";

const fixation = (from: number, to: number, x: number, y = 0): Fixation => ({ from, to, x, y, samples: 1 });
const areas: Area[] = [
  { name: "boat", outline: { kind: "rectangle", x: 0, y: 0, w: 4, h: 4 } },
  { name: "gull", outline: { kind: "ellipse", x: 10, y: 0, w: 4, h: 2 } },
];

describe("outlines", () => {
  it.each<[string, Outline, number, number, boolean]>([
    ["a rectangle, within", { kind: "rectangle", x: 1, y: 1, w: 2, h: 2 }, 1.9, 0.1, true],
    ["a rectangle, on its edge", { kind: "rectangle", x: 1, y: 1, w: 2, h: 2 }, 2, 1, true],
    ["a rectangle, outside", { kind: "rectangle", x: 1, y: 1, w: 2, h: 2 }, 2.1, 1, false],
    ["an ellipse, at its corner", { kind: "ellipse", x: 0, y: 0, w: 4, h: 2 }, 1.9, 0.9, false],
    ["an ellipse, within", { kind: "ellipse", x: 0, y: 0, w: 4, h: 2 }, 1.3, 0.7, true],
    [
      "a triangle, within",
      {
        kind: "polygon",
        points: [
          { x: 0, y: 0 },
          { x: 4, y: 0 },
          { x: 0, y: 4 },
        ],
      },
      1,
      1,
      true,
    ],
    [
      "a triangle, outside",
      {
        kind: "polygon",
        points: [
          { x: 0, y: 0 },
          { x: 4, y: 0 },
          { x: 0, y: 4 },
        ],
      },
      3,
      3,
      false,
    ],
  ])("contain a point: %s", (_, outline, x, y, isIn) => expect(contains(outline, { x, y })).toBe(isIn));
});

describe("areas of interest", () => {
  // Elsewhere, boat, boat, gull, boat: counted by hand.
  const looked = [
    fixation(100, 200, -9),
    fixation(250, 450, 1),
    fixation(480, 580, -1, 1),
    fixation(620, 920, 10.5),
    fixation(960, 1060, 0),
  ];

  it("have first looks, dwell, fixations, visits and shares", () => {
    expect(areaMeasures(areas, looked, 50)).toEqual([
      { area: "boat", firstLook: 200, firstFixation: 200, dwell: 400, fixations: 3, visits: 2, share: 0.5 },
      { area: "gull", firstLook: 570, firstFixation: 300, dwell: 300, fixations: 1, visits: 1, share: 0.375 },
      { area: "elsewhere", firstLook: 50, firstFixation: 100, dwell: 100, fixations: 1, visits: 1, share: 0.125 },
    ]);
  });

  it("are followed by each other as often as was counted, staying not among it", () => {
    expect(transitions(areas, looked)).toEqual([
      [0, 1, 0],
      [1, 0, 0],
      [1, 0, 0],
    ]);
  });

  it("that nobody looked at have no times", () => {
    expect(areaMeasures(areas, [], 0)).toEqual(
      ["boat", "gull", "elsewhere"].map((area) => ({
        ...{ area, firstLook: null, firstFixation: null, dwell: 0, fixations: 0, visits: 0, share: 0 },
      })),
    );
  });
});
