import { describe, expect, it } from "vitest";
import { paperBlocks, paperMarkdown } from "./paper";
import { paperPiece, printed, type PaperPiece } from "./piece";

const piece = (more: Partial<PaperPiece> = {}): PaperPiece => ({
  ...{
    name: "conditions",
    caption: "Mean times by neighbours",
    query: "?tab=conditions",
    basis: "27 of 27 sessions",
    svg: "<svg/>",
  },
  header: ["neighbours", "mean", "n"],
  rows: [
    ["with", 512.3456, 24],
    ["against | none", -0.0456, null],
  ],
  ...more,
});

describe("a paper", () => {
  it("has its paragraphs under headings, then figures and tables, numbered by themselves", () => {
    const blocks = paperBlocks({
      title: "Waders",
      sections: [
        { heading: "Method", paragraphs: ["All groups.", ""] },
        { heading: "Timing", paragraphs: [" "] },
      ],
      pieces: [
        { id: "a", piece: piece(), isWithTable: false },
        { id: "b", piece: piece({ caption: "Over trials." }), isWithTable: true },
      ],
    });
    expect(blocks.map(({ is }) => is)).toEqual([
      "title",
      "heading",
      "paragraph",
      "heading",
      "figure",
      "figure",
      "table",
    ]);
    expect(paperMarkdown(blocks, (figure) => `figure-${figure}.png`)).toBe(
      [
        "# Waders",
        "## Method",
        "All groups.",
        "## Results",
        "**Figure 1**",
        "![Figure 1](figure-1.png)",
        "*Note.* Mean times by neighbours. 27 of 27 sessions.",
        "**Figure 2**",
        "![Figure 2](figure-2.png)",
        "*Note.* Over trials. 27 of 27 sessions.",
        "**Table 1**",
        "*Numbers of Figure 2*",
        "| neighbours | mean | n |\n| --- | ---: | ---: |\n| with | 512.35 | 24 |\n| against \\| none | −0.046 |  |\n",
      ].join("\n\n"),
    );
  });

  it("prints numbers to what can be read of them", () => {
    expect([12, 0.5, -3.14159, 0.012345, null, "a"].map(printed)).toEqual(["12", "0.50", "−3.14", "0.012", "", "a"]);
  });

  it("takes figures of a size that can be kept, and nothing else", () => {
    expect(paperPiece.fits(piece())).toBe(true);
    expect(paperPiece.fits(piece({ rows: [[{} as never]] }))).toBe(false);
    expect(paperPiece.fits(piece({ svg: "x".repeat(3_000_001) }))).toBe(false);
    expect(paperPiece.fits({ ...piece(), more: 1 })).toBe(false);
  });
});
