import { creatures, drawn, own } from "../../tests/support/pools";
import { describe, expect, it } from "vitest";
import { plainStudy, withBlock } from "~/tests/support/studies";
import { compilePlanned } from "../compile/planned";
import { compile, compileBlock, outline } from "../compile/compile";
import { ribbonFor } from "../compile/ribbon";
import { preflight } from "../check/preflight";
import { blocksInOrder } from "../design/lookup";
import { itemKind } from "../items/registry";
import type { StudyDocument } from "../design/document";
import { allocate } from "./allocate";
import { TooLarge } from "./bounds";

type Change = Parameters<typeof withBlock>[1];
const cases: [string, Change, RegExp][] = [
  [
    "two rows with ten thousand copies in a thousand passes",
    (block) => {
      for (const row of block.table.rows) row.copies = 10_000;
      block.order.passes = 1000;
    },
    /“Block 1”: It has 20,000,000 trials in one session; at most 20,000 are possible\. Use fewer passes, copies or rows\./,
  ],
  [
    "a few trials taken of millions of copies",
    (block) => {
      block.table.rows = Array.from({ length: 2000 }, (_, index) => ({ id: `r${index}`, copies: 10_000, cells: {} }));
      block.order.take = 4;
    },
    /20,000,000 copies of rows; at most 100,000/,
  ],
  [
    "twenty thousand rows for sixty groups",
    (block, document) => {
      block.table.rows = Array.from({ length: 20_000 }, (_, index) => ({ id: `r${index}`, copies: 1, cells: {} }));
      document.groups = Array.from({ length: 60 }, (_, index) => ({ id: `g${index}`, name: `Group ${index}` }));
    },
    /1,200,000 rows, counted for each group; at most 500,000/,
  ],
  [
    "a field of arrays in thousands of trials",
    (block) => {
      block.table.rows[0]!.copies = 10_000;
      block.scenes[0]!.items = Array.from({ length: 40 }, (_, index) => ({
        ...itemKind("array").make(
          (prefix) => `${prefix}-${index}`,
          `array ${index}`,
          () => "",
        ),
        count: 400,
      }));
    },
    /160,016,000 elements of arrays to be placed in one session; at most 2,000,000/,
  ],
  [
    "thousands of trials that draw from a pool of thousands",
    (block, document) => {
      document.pools = [creatures(2000)];
      block.table.columns.push(drawn("seen", own()));
      block.table.rows[0]!.copies = 2000;
    },
    /8,004,000 rows of pools to be looked at for its trials; at most 5,000,000/,
  ],
  [
    "given sequences without end",
    (block) => {
      block.order.method = "given";
      const rows = Array.from({ length: 30_000 }, () => block.table.rows[0]!.id);
      block.order.given = {
        file: "given.csv",
        sequences: [
          { participant: 1, rows: [] },
          { participant: 2, rows },
        ],
      };
    },
    /30,000 trials in one session/,
  ],
  [
    "a bracket of every order of two hundred parts",
    (_, document) => {
      const pages = Array.from({ length: 200 }, (_, index) => ({
        ...structuredClone(Object.values(document.parts).find(({ kind }) => kind === "page")!),
        id: `p${index}`,
        name: `Page ${index}`,
      }));
      for (const page of pages) document.parts[page.id] = page as StudyDocument["parts"][string];
      document.runningOrder.push({
        kind: "bracket",
        id: "b",
        arrange: "every-order",
        nodes: pages.map(({ id }) => ({ kind: "part", part: id })),
      });
    },
    /group “Everyone”: It has more orders to be spread over than can be counted; at most 5,040/,
  ],
];

describe("a study that asks for too much", () => {
  it.each(cases)("is found and refused before anything is built: %s", (_, change, message) => {
    const document = withBlock(plainStudy(), change);
    const group = document.groups[0]!.id;
    const found = preflight(document);
    expect(found.map(({ level }) => level)).toEqual(["error"]);
    expect(`${found[0]?.where}: ${found[0]?.message}`).toMatch(message);
    const block = blocksInOrder(document)[0]!;
    for (const made of [
      () => compilePlanned(document, 1),
      () => compile(document, 1, "AB12", group),
      () => compileBlock(document, block, 1, "AB12", group),
      () => outline(document, { participant: 1, group, orders: {}, sitting: 1 }),
      () => ribbonFor(document, 1, null, null),
      () => allocate(document, { participant: 1, stratum: "", counts: new Map() }),
    ])
      expect(made).toThrow(TooLarge);
  });

  it("is not one of twenty thousand trials", () => {
    const document = withBlock(plainStudy(), (block) => {
      for (const row of block.table.rows) row.copies = 10_000;
    });
    expect(compilePlanned(document, 1).trialCount).toBe(20_000);
  });
});
