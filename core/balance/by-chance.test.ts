import { describe, expect, it } from "vitest";
import { plainStudy, withBlock } from "~/tests/support/studies";
import type { StudyDocument } from "../design/document";
import { streamFor } from "../random/stream";
import { balanceOf } from "./balance";
import { chanceOfUnevenness, followersInShuffle } from "./by-chance";

/** A study of one block whose rows have these copies, drawn under a seed. */
const drawn = (
  copies: number[],
  seed: string,
  change: { passes?: number; replacement?: boolean } = {},
): StudyDocument =>
  withBlock(plainStudy(), (block, document) => {
    const [row] = block.table.rows;
    block.table.rows = copies.map((often, index) => ({
      ...row!,
      id: `r-${index}`,
      copies: often,
      cells: { ...row!.cells, "column-2": `word ${index % 3}` },
    }));
    block.order.passes = change.passes ?? 1;
    block.order.method = change.replacement ? "with-replacement" : "shuffled";
    document.settings.seed = seed;
  });
const upTo = (count: number) => Array.from({ length: count }, (_, index) => index + 1);
const chanceIn = (document: StudyDocument, participants = 200): number => {
  const { inPass } = balanceOf(document, upTo(participants)).blocks[0]!;
  const chance = inPass && chanceOfUnevenness(inPass);
  if (chance === null) throw new Error("not judged");
  return chance;
};

describe("uneven orders", () => {
  const studies = 250;
  /** Chances over many studies of different sizes: 2 to 14 rows of 1 to 4 copies, up to three passes. */
  const chances = (replacement: boolean) =>
    upTo(studies).map((study) => {
      const stream = streamFor("balance", study, replacement ? "with" : "without");
      const copies = Array.from({ length: stream.whole(2, 14) }, () => stream.whole(1, 4));
      return chanceIn(drawn(copies, `S${study}`, { passes: stream.whole(1, 3), replacement }));
    });

  it.each([
    ["shuffled", false],
    ["drawn with replacement", true],
  ])("are found in plain orders, %s, as often as stated and no more", (_, replacement) => {
    const all = chances(replacement);
    // A chance below p comes in the share p of plain orders: within three standard errors.
    for (const p of [0.05, 0.2, 0.5, 0.8]) {
      const share = all.filter((chance) => chance < p).length / studies;
      expect(Math.abs(share - p)).toBeLessThan(3 * Math.sqrt((p * (1 - p)) / studies));
    }
    expect(all.filter((chance) => chance < 0.001).length).toBeLessThanOrEqual(2);
  });

  it("are found where rows really come early", () => {
    const { inPass } = balanceOf(drawn([1, 1, 1, 1, 1, 1], "A"), upTo(100)).blocks[0]!;
    const [first, second] = inPass!.seen.map((line) => [...line]);
    // A fifth of the participants have the first two rows the other way round, the first always early.
    const seen = inPass!.seen.map((line) => [...line]);
    const moved = Math.round(first!.at(-1)! * 0.9);
    seen[0]![0]! += moved;
    seen[0]![seen[0]!.length - 1]! -= moved;
    seen[1]![0]! -= Math.min(moved, second![0]!);
    seen[1]![seen[1]!.length - 1]! += Math.min(moved, second![0]!);
    expect(chanceOfUnevenness({ ...inPass!, seen })).toBeLessThan(0.001);
  });

  it("are not told from chance where the demonstration's practice has 12 trials in 10 parts", () => {
    const document = drawn(new Array<number>(12).fill(1), "4F2A");
    const { sentences } = balanceOf(document, upTo(200)).blocks[0]!;
    expect(sentences[1]).toBe("Early and late in a pass each row comes as evenly as chance gives.");
  });

  it("are told as what they are where limits arrange them", () => {
    const limited = withBlock(drawn([2, 2, 2], "B"), ({ order, table }) => {
      order.limits = [{ kind: "edge-trials", at: "first", column: table.columns[0]!.id, only: ["word 0"], count: 2 }];
    });
    const [balance] = balanceOf(limited, upTo(60)).blocks;
    expect(balance?.inPass).toBeNull();
    expect(balance?.sentences[1]).toMatch(/^As it is arranged, a row comes in a tenth of the block at most \d+ %/);
  });
});

describe("followers", () => {
  it("are expected as drawing without replacement gives them", () => {
    expect(followersInShuffle([2, 2])).toEqual([
      [0.5, 1],
      [1, 0.5],
    ]);
    // Three different trials: two steps over six pairs.
    expect(
      followersInShuffle([1, 1, 1])
        .flat()
        .reduce((sum, each) => sum + each, 0),
    ).toBeCloseTo(2);
  });
  it("agree with what a thousand participants get", () => {
    const [factor] = balanceOf(drawn([1, 1, 2, 2, 3, 3], "C", { passes: 2 }), upTo(1000)).blocks[0]!.factors;
    factor!.after.forEach((line, a) =>
      line.forEach((seen, b) => {
        const mean = factor!.expected[a]![b]!;
        expect(Math.abs(seen - mean)).toBeLessThan(4.5 * Math.sqrt(mean));
      }),
    );
  });
});
