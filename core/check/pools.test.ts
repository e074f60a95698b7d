import { describe, expect, it } from "vitest";
import { drawing, drawn, own, second } from "../../tests/support/pools";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import type { OwnRow } from "../values/draws";
import { poolProblems } from "./pools";
import { preflight } from "./preflight";

const sameKind = { column: "kind", to: { from: { column: "kind" } } };
const seen = (change: Partial<OwnRow>) => (block: Block) => void block.table.columns.push(drawn("seen", own(change)));
const cases: [string, Parameters<typeof drawing>, RegExp][] = [
  [
    "too few rows for the trials of a kind",
    [{ each: 8, inPool: 5 }, seen({ where: [sameKind] })],
    /8 trials need a row of “Pool creatures” with kind fish, and only 5 are free\. Add rows/,
  ],
  [
    "a pool used up by two blocks of a session",
    [
      { each: 4, inPool: 6 },
      (block, document) => {
        seen({ where: [sameKind], once: "session" })(block);
        second(document, block, () => undefined);
      },
    ],
    /8 trials need a row of “Pool creatures” with kind fish, and only 6 are free/,
  ],
  [
    "what depends on another draw and was not found, which proves nothing",
    [
      { each: 6, inPool: 6 },
      (block) => {
        block.table.columns.push(
          drawn("first", own({ where: [sameKind] })),
          drawn("long", { with: "first", takes: { is: "value", column: "length" } }, "number"),
          drawn("other", own({ where: [{ column: "length", within: 0, to: { from: { column: "long" } } }] })),
        );
      },
    ],
    /No draw was found.*does not prove/,
  ],
  ["a pool that is gone", [{}, seen({ pool: "gone" })], /pool it draws from has been removed/],
  [
    "a column that is gone",
    [{}, seen({ takes: { is: "value", column: "gone" } })],
    /column it takes from “Pool creatures” has been removed/,
  ],
  [
    "a condition on a column that is gone",
    [{}, seen({ where: [{ column: "gone", to: "fish" }] })],
    /condition looks at a column/,
  ],
  [
    "a block before that comes later",
    [{}, seen({ before: { block: "boats", shown: true } })],
    /comes later, so nothing has been shown/,
  ],
  [
    "a position of rows that were not shown before",
    [{}, seen({ takes: { is: "position" } })],
    /need not have been shown/,
  ],
  [
    "columns that wait for each other",
    [
      {},
      (block) => {
        const by = (column: string): OwnRow => own({ where: [{ column: "length", to: { from: { column } } }] });
        block.table.columns.push(drawn("one", by("two")), drawn("two", by("one")));
      },
    ],
    /neither can be drawn first/,
  ],
  [
    "lists over levels with different numbers of trials",
    [
      { levels: ["x", "y"], inPool: 12 },
      (block) => {
        seen({ balanced: "level" })(block);
        block.table.rows[0]!.copies = 3;
      },
    ],
    /levels of level have 10, 8 trials/,
  ],
  [
    "an order that goes by what is drawn after it",
    [
      {},
      (block) => {
        seen({})(block);
        block.order.limits = [{ kind: "longest-run", columns: ["seen"], most: 1 }];
      },
    ],
    /orders are drawn before values are/,
  ],
];

describe("preflight of pools", () => {
  it.each(cases)("finds %s", (_, [form, change], message) => {
    const found = preflight(drawing(form, change)).map(({ message: said }) => said);
    expect(found.join("\n")).toMatch(message);
  });

  it("has nothing to say of a design whose draws can be made", () => {
    const study: StudyDocument = drawing({ each: 4, inPool: 4, levels: ["only"] }, (block) =>
      seen({ where: [sameKind], balanced: "level" })(block),
    );
    expect(poolProblems(study)).toEqual([]);
    expect(preflight(study).filter(({ level }) => level === "error")).toEqual([]);
  });
});
