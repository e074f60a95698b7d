import { describe, expect, it } from "vitest";
import { applyEdit, together, type Edit } from "~/core/design/edits/edit";
import { copyPart, setOrder } from "~/core/design/edits/parts";
import { bracketRound } from "~/core/design/edits/running-order";
import { addGroup } from "~/core/design/edits/study";
import { methodInWords } from "~/core/describe/method";
import type { Arrangement } from "~/core/arrangements/registry";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { balanceOf, spreadOf } from "./balance";

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
