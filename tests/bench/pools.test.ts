import { writeSync } from "node:fs";
import { expect, it } from "vitest";
import { compilePlanned } from "~/core/compile/planned";
import type { StudyDocument } from "~/core/design/document";
import type { OwnRow } from "~/core/values/draws";
import { drawing, drawn, own } from "../support/pools";

const at = (sorted: readonly number[], share: number) => sorted[Math.floor(share * (sorted.length - 1))] ?? 0;
const sameKind = { column: "kind", to: { from: { column: "kind" } } };
const near: OwnRow["where"][number] = { column: "length", within: 1, to: { from: { column: "first_length" } } };

/** 400 trials of two kinds and two levels, from a pool of 2,000 rows. */
const study = (change: Parameters<typeof drawing>[1]): StudyDocument =>
  drawing({ each: 100, inPool: 1000, levels: ["early", "late"] }, change);

const cases: [string, StudyDocument][] = [
  ["without pools", study(() => undefined)],
  [
    "a row for each trial, of its kind",
    study((block) => block.table.columns.push(drawn("first", own({ where: [sameKind] })))),
  ],
  [
    "the same, equally often with each level",
    study((block) => block.table.columns.push(drawn("first", own({ where: [sameKind], balanced: "level" })))),
  ],
  [
    "and another whose length is near",
    study((block) =>
      block.table.columns.push(
        drawn("first", own({ where: [sameKind], once: "session" })),
        drawn("first_length", { with: "first", takes: { is: "value", column: "length" } }, "number"),
        drawn("other", own({ where: [sameKind, near], once: "session" })),
      ),
    ),
  ],
];

it("draws a session from pools", () => {
  writeSync(1, "| a session's plan | median | 95 % | most |\n|---|---|---|---|\n");
  for (const [name, document] of cases) {
    const took: number[] = [];
    for (let participant = 1; participant <= 60; participant++) {
      const before = performance.now();
      compilePlanned(document, participant);
      took.push(performance.now() - before);
    }
    took.sort((a, b) => a - b);
    writeSync(1, `| ${name} | ${[0.5, 0.95, 1].map((share) => `${at(took, share).toFixed(1)} ms`).join(" | ")} |\n`);
    // Before a session begins, nothing is shown yet: less than is noticed.
    expect(at(took, 0.5)).toBeLessThan(100);
  }
});
