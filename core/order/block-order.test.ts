import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Limit } from "../limits/registry";
import type { Row } from "../values/table";
import type { TrialOrder } from "../design/trial-order";
import { blockOrder, type Draw, type Orderable } from "./block-order";

const table = (copies: number[]): Row[] =>
  copies.map((count, index) => ({
    id: `r${index}`,
    copies: count,
    cells: { side: ["left", "right"][index % 2] ?? "", gap: String(index % 3) },
  }));
const block = (rows: Row[], order: Partial<TrialOrder>): Orderable => ({
  rows,
  order: { method: "shuffled", passes: 1, limits: [], ...order },
  valueOf: (row, column) => row.cells[column] ?? null,
  nameOf: (column) => column,
});
const draw = (participant = 1, seed = "s"): Draw => ({ seed, participant, block: "b" });
const rowsOf = (asked: Orderable, who: Draw, square = 0) => blockOrder(asked, who, square).trials;
const copies = fc
  .array(fc.integer({ min: 0, max: 3 }), { minLength: 2, maxLength: 7 })
  .filter((all) => all.some((each) => each > 0));
const limits: fc.Arbitrary<Limit[]> = fc.constantFrom<Limit[]>(
  [],
  [{ kind: "longest-run", columns: ["side"], most: 3 }],
  [
    { kind: "longest-run", columns: ["side"], most: 3 },
    { kind: "smallest-gap", columns: [], atLeast: 1 },
  ],
);

describe("the order of a block", () => {
  it("plays in every pass each row as often as its copies say, whatever the limits", () => {
    fc.assert(
      fc.property(copies, fc.integer({ min: 1, max: 4 }), limits, fc.nat(50), (all, passes, limits, participant) => {
        const trials = rowsOf(block(table(all), { passes, limits }), draw(participant + 1));
        for (let pass = 1; pass <= passes; pass++)
          for (const [index, count] of all.entries())
            expect(trials.filter((trial) => trial.pass === pass && trial.row.id === `r${index}`)).toHaveLength(count);
        expect(trials.map(({ pass }) => pass)).toEqual(trials.map(({ pass }) => pass).toSorted((a, b) => a - b));
      }),
      { numRuns: 200 },
    );
  });

  it("keeps its limits across the seams of passes", () => {
    const asked = block(table([1, 1, 1, 1]), {
      passes: 6,
      limits: [{ kind: "smallest-gap", columns: [], atLeast: 1 }],
    });
    for (let participant = 1; participant <= 60; participant++) {
      const trials = rowsOf(asked, draw(participant));
      for (const [at, { row }] of trials.entries()) if (at > 0) expect(row.id).not.toBe(trials[at - 1]?.row.id);
    }
  });

  it("keeps rows with the same value together, and puts sub-blocks in their arrangement", () => {
    fc.assert(
      fc.property(
        copies,
        fc.constantFrom("listed" as const, "shuffled" as const, "latin-square" as const),
        fc.nat(9),
        fc.nat(30),
        (all, subBlocks, square, participant) => {
          const rows = table(all);
          const trials = rowsOf(block(rows, { within: "gap", subBlocks }), draw(participant + 1), square);
          const order = trials.map(({ subBlock }) => subBlock).filter((each, at, list) => each !== list[at - 1]);
          expect(new Set(order).size).toBe(order.length);
          for (const { row, subBlock } of trials) expect(String(row.cells["gap"])).toBe(subBlock);
          const listed = [...new Set(rows.flatMap((row) => (row.copies > 0 ? [String(row.cells["gap"])] : [])))];
          if (subBlocks === "listed") expect(order).toEqual(listed);
          if (subBlocks === "latin-square") expect(order[0]).toBe(listed[square % listed.length]);
        },
      ),
      { numRuns: 200 },
    );
  });

  it("takes fewer rows than there are, each equally often over participants and passes, three of each side", () => {
    const rows = table(new Array<number>(20).fill(1));
    const asked = block(rows, { take: 6, takeEach: ["side"] });
    const uses = new Map<string, number>();
    for (let participant = 1; participant <= 40; participant++) {
      const trials = rowsOf(asked, draw(participant));
      expect(trials).toHaveLength(6);
      expect(trials.filter(({ row }) => row.cells["side"] === "left")).toHaveLength(3);
      for (const { row } of trials) uses.set(row.id, (uses.get(row.id) ?? 0) + 1);
    }
    expect([...uses.values()]).toEqual(new Array(20).fill(12));
  });

  it("repeats evenly where more trials are asked for than there are", () => {
    for (let participant = 1; participant <= 20; participant++) {
      const counts = new Map<string, number>();
      for (const { row } of rowsOf(block(table([1, 1, 1]), { take: 8 }), draw(participant)))
        counts.set(row.id, (counts.get(row.id) ?? 0) + 1);
      expect([...counts.values()].toSorted()).toEqual([2, 3, 3]);
    }
  });

  it("draws with replacement as the copies weigh, also under limits", () => {
    const asked = block(table([3, 1]), { method: "with-replacement", take: 400 });
    const often = rowsOf(asked, draw()).filter(({ row }) => row.id === "r0").length;
    expect(Math.abs(often - 300)).toBeLessThan(4 * Math.sqrt(400 * 0.75 * 0.25));
    const alternating = rowsOf(
      block(table([3, 1]), {
        method: "with-replacement",
        take: 30,
        limits: [{ kind: "longest-run", columns: ["side"], most: 1 }],
      }),
      draw(),
    );
    for (const [at, { row }] of alternating.entries()) if (at > 0) expect(row.id).not.toBe(alternating[at - 1]?.row.id);
  });

  it("plays given sequences: one's own, the one for all, or from the first on again", () => {
    const given = (participant: number | null, rows: string[]) => ({ participant, rows });
    const asked = block(table([1, 1]), {
      method: "given",
      given: { file: "f.csv", sequences: [given(1, ["r0", "r1"]), given(2, ["r1", "r1"])] },
    });
    const ids = (participant: number) => rowsOf(asked, draw(participant)).map(({ row }) => row.id);
    expect([ids(1), ids(2), ids(3)]).toEqual([
      ["r0", "r1"],
      ["r1", "r1"],
      ["r0", "r1"],
    ]);
  });

  it("marks where a listed order breaks a limit", () => {
    const rows = [...table([1, 1, 1]), ...table([1]).map((row) => ({ ...row, id: "r9" }))];
    const asked = block(rows, { method: "as-listed", limits: [{ kind: "longest-run", columns: ["side"], most: 1 }] });
    expect(blockOrder(asked, draw(), 0).breaks).toEqual([[3]]);
  });

  it("is the same for the same seed and participant, and another one for others", () => {
    const asked = block(table([2, 2, 2, 2]), { limits: [{ kind: "longest-run", columns: ["side"], most: 2 }] });
    const ids = (who: Draw) =>
      rowsOf(asked, who)
        .map(({ row }) => row.id)
        .join(" ");
    expect(ids(draw(1))).toBe(ids(draw(1)));
    expect(new Set([ids(draw(1)), ids(draw(2)), ids(draw(1, "t")), ids(draw(3))]).size).toBe(4);
  });
});
