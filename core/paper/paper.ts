import { printed, type PaperPiece } from "./piece";

/** What a paper is made of, in its order. */
export type PaperBlock =
  | { is: "title"; text: string }
  | { is: "heading"; text: string }
  | { is: "paragraph"; text: string }
  | { is: "figure"; number: number; id: string; note: string }
  | {
      is: "table";
      number: number;
      title: string;
      header: string[];
      rows: string[][];
      numeric: boolean[];
      note: string;
    };

/** A figure that is kept, with or without its numbers as a table. */
type Kept = { id: string; piece: PaperPiece; isWithTable: boolean };

/**
 * The paper’s blocks: paragraphs under their headings, empty ones passed over, then figures and tables, each numbered by themselves
 * as they come.
 */
export function paperBlocks({
  title,
  sections,
  pieces,
}: {
  title: string;
  sections: readonly { heading: string; paragraphs: readonly string[] }[];
  pieces: readonly Kept[];
}): PaperBlock[] {
  const blocks: PaperBlock[] = [{ is: "title", text: title }];
  for (const { heading, paragraphs } of sections) {
    const own = paragraphs.filter((text) => text.trim() !== "");
    if (own.length === 0) continue;
    blocks.push({ is: "heading", text: heading });
    for (const text of own) blocks.push({ is: "paragraph", text });
  }
  if (pieces.length > 0) blocks.push({ is: "heading", text: "Results" });
  let tables = 0;
  for (const [at, { id, piece, isWithTable }] of pieces.entries()) {
    const note = [piece.caption, piece.basis].map(asSentence).join(" ").trim();
    blocks.push({ is: "figure", number: at + 1, id, note });
    if (!isWithTable || piece.rows.length === 0) continue;
    blocks.push({
      ...{ is: "table", number: ++tables, title: `Numbers of Figure ${at + 1}`, header: [...piece.header] },
      rows: piece.rows.map((row) => row.map(printed)),
      numeric: piece.header.map((_, column) => piece.rows.some((row) => typeof row[column] === "number")),
      note: "",
    });
  }
  return blocks;
}

const asSentence = (text: string) => text.trim().replace(/([^.])$/, "$1.");
const escaped = (text: string) => text.replace(/[|\\]/g, "\\$&").split("\n").join(" ");

/** The same as Markdown; `fileOf` names a figure’s picture. */
export const paperMarkdown = (blocks: readonly PaperBlock[], fileOf: (figure: number) => string): string =>
  `${blocks.map((block) => markdownOf(block, fileOf)).join("\n\n")}\n`;

function markdownOf(block: PaperBlock, fileOf: (figure: number) => string): string {
  if (block.is === "title") return `# ${block.text}`;
  if (block.is === "heading") return `## ${block.text}`;
  if (block.is === "paragraph") return block.text;
  if (block.is === "figure")
    return `**Figure ${block.number}**\n\n![Figure ${block.number}](${fileOf(block.number)})\n\n*Note.* ${block.note}`;
  const line = (cells: readonly string[]) => `| ${cells.map(escaped).join(" | ")} |`;
  const rule = block.numeric.map((is) => (is ? "---:" : "---"));
  return [
    `**Table ${block.number}**\n`,
    `*${block.title}*\n`,
    line(block.header),
    `| ${rule.join(" | ")} |`,
    ...block.rows.map(line),
  ].join("\n");
}
