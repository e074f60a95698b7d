import { drawing, drawn, own, second } from "~/tests/support/pools";
import { describe, expect, it } from "vitest";
import { applyEdit, together, type Edit } from "~/core/design/edits/edit";
import { copyPart, setOrder } from "~/core/design/edits/parts";
import { bracketRound } from "~/core/design/edits/running-order";
import { addGroup } from "~/core/design/edits/study";
import { methodInWords } from "~/core/describe/method";
import type { Arrangement } from "~/core/arrangements/registry";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { balanceOf, spreadOf } from "./balance";

const sameKind = { column: "kind", to: { from: { column: "kind" } } };
const block = firstBlock(plainStudy());
const bracketed = (arrange: Arrangement, ...more: Edit[]) =>
  applyEdit(
    plainStudy(),
    together(
      copyPart(block.id, "b2"),
      copyPart("b2", "b3"),
      addGroup({ id: "late", name: "Late" }),
      bracketRound([block.id, "b3"], "bracket", arrange),
      ...more,
    ),
  ).document;
const upTo = (count: number) => Array.from({ length: count }, (_, index) => index + 1);

describe("many at once", () => {
  it("finds a Latin square balanced by place and not by who precedes whom, over whole rounds of 2 × 3 cells", () => {
    const { cells, brackets, cellsSentence } = balanceOf(bracketed("latin-square"), upTo(60));
    expect(cells.map(({ planned }) => planned)).toEqual(new Array(6).fill(10));
    expect(brackets[0]?.at).toEqual(new Array(3).fill([20, 20, 20]));
    expect(cellsSentence).toBe("All 6 cells have 10 participants.");
    expect(brackets[0]?.sentence).toMatch(/^Each part comes 20 times in each position.*precedes whom is not balanced/);
  });

  it("finds a balanced Latin square balanced in both", () => {
    const { brackets } = balanceOf(bracketed("balanced-latin-square"), upTo(120));
    const others = brackets[0]?.after.flatMap((line, first) => line.filter((_, second) => second !== first));
    expect(new Set(others)).toEqual(new Set([40]));
    expect(brackets[0]?.sentence).toBe(
      "Each part comes 40 times in each position. Each follows each other one 40 times.",
    );
  });

  it("says the same of places as the quick count does", () => {
    const document = bracketed("every-order");
    const whole = balanceOf(document, upTo(50));
    expect(spreadOf(document, upTo(50))).toEqual({ cells: whole.cells, brackets: whole.brackets });
  });

  it("counts how often each row of a pool is drawn, by the levels its lists go by, and where none was left", () => {
    const levels = ["early", "late"];
    const even = drawing({ each: 3, inPool: 6, levels }, (drawer, document) => {
      document.groups = document.groups.slice(0, 1);
      drawer.table.columns.push(drawn("seen", own({ where: [sameKind], balanced: "level" })));
    });
    expect(balanceOf(even, upTo(10)).pools[0]?.sentences).toEqual([
      "Each of the 12 rows of “Pool creatures” was drawn 5 times with level early, 5 times with level late.",
    ]);
    const short = drawing({ each: 3, inPool: 2 }, (drawer) =>
      drawer.table.columns.push(drawn("seen", own({ where: [sameKind] }))),
    );
    expect(balanceOf(short, upTo(10)).pools[0]).toMatchObject({
      empty: 20,
      sentences: ["Each of the 4 rows of “Pool creatures” was drawn 10 times.", "20 trials were left without a row."],
    });
  });

  it("counts uses, places and runs of a block, and orders that break a limit", () => {
    const passes = setOrder(block.id, { passes: 4, limits: [{ kind: "longest-run", columns: ["column-2"], most: 1 }] });
    const [first] = balanceOf(bracketed("listed", passes), upTo(50)).blocks;
    expect(first?.uses).toEqual({ least: 200, most: 200 });
    expect(first?.factors[0]?.runs).toHaveLength(1);
    expect(first?.broken).toBe(0);
    expect(first?.ways).toEqual({ exact: 50 });
    expect(first?.sentences[0]).toBe("Each row is used equally often, 200 times for each of its copies.");
  });
});

describe("the method section", () => {
  it("tells what was drawn from pools, and what an earlier block had shown", () => {
    const study = drawing({ each: 3, inPool: 12, levels: ["old", "new"] }, (drawer, document) => {
      drawer.table.columns.push(drawn("seen", own({ where: [sameKind], once: "session", balanced: "level" })));
      second(document, drawer, (copy) => {
        copy.table.columns = copy.table.columns.filter(({ id }) => id !== "seen");
        const before = { block: drawer.id, shown: { column: "level", is: "old" } };
        copy.table.columns.push(drawn("asked", own({ once: "block", before })));
      });
    });
    const words = methodInWords(study);
    expect(words).toContain(
      "In “Boats”, seen was drawn for each trial from the 24 rows of “Pool creatures” whose kind is the trial’s kind; no row came twice in a session; over participants each row came equally often with each level, by lists that were turned against each other.",
    );
    expect(words).toContain(
      "In “Again”, asked was drawn for each trial from the 24 rows of “Pool creatures” that “Boats” had shown where level was “old”, and had not shown elsewhere; no row came twice in the block.",
    );
  });

  it("tells groups, orders and limits", () => {
    const words = methodInWords(
      bracketed(
        "latin-square",
        setOrder(block.id, { passes: 4, limits: [{ kind: "longest-run", columns: ["column-2"], most: 2 }] }),
      ),
    ).join(" ");
    expect(words).toMatch(
      /allocated to two groups \(Everyone, Late\), three orders within each, so that six combinations/,
    );
    expect(words).toMatch(
      /“Block 1”, “Block 1 copy” and “Block 1 copy copy” came in an order from a Latin square of 3/,
    );
    expect(words).toMatch(
      /Trial order was drawn anew for each participant from all orders with no more than 2 equal values of word in a row/,
    );
  });
});
