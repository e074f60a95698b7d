import type { FileChild, IBorderOptions } from "docx";
import type { PaperBlock } from "~/core/paper/paper";

/** A picture of a figure, with its size in CSS pixels. */
export type Picture = { png: Uint8Array; width: number; height: number };

/** The width of the text of a page, in CSS pixels: a sheet of A4 with margins of an inch. */
const textWidth = 602;

/** A paper as a document of word processors (Office Open XML): tables with rules above and below alone. */
export async function asDocx(
  blocks: readonly PaperBlock[],
  pictureOf: (id: string) => Promise<Picture | null>,
): Promise<Blob> {
  const docx = await import("docx");
  const { AlignmentType, BorderStyle, Document, HeadingLevel, ImageRun, Packer, Paragraph } = docx;
  const { Table, TableCell, TableRow, TextRun, WidthType } = docx;
  const rule: IBorderOptions = { style: BorderStyle.SINGLE, size: 6, color: "000000" };
  const none: IBorderOptions = { style: BorderStyle.NONE, size: 0, color: "FFFFFF" };
  const plain = (text: string) => new Paragraph({ children: [new TextRun(text)], spacing: { after: 160 } });
  const note = (text: string) =>
    new Paragraph({
      children: [new TextRun({ text: "Note. ", italics: true }), new TextRun(text)],
      spacing: { before: 80, after: 280 },
    });
  const label = (text: string) => new Paragraph({ children: [new TextRun({ text, bold: true })], keepNext: true });
  const children: FileChild[] = [];
  for (const block of blocks) {
    if (block.is === "title") children.push(new Paragraph({ text: block.text, heading: HeadingLevel.TITLE }));
    else if (block.is === "heading")
      children.push(new Paragraph({ text: block.text, heading: HeadingLevel.HEADING_1 }));
    else if (block.is === "paragraph") children.push(plain(block.text));
    else if (block.is === "figure") {
      const picture = await pictureOf(block.id);
      children.push(label(`Figure ${block.number}`));
      if (picture) {
        const scale = Math.min(1, textWidth / picture.width);
        const size = { width: Math.round(picture.width * scale), height: Math.round(picture.height * scale) };
        children.push(
          new Paragraph({ children: [new ImageRun({ type: "png", data: picture.png, transformation: size })] }),
        );
      }
      children.push(note(block.note));
    } else {
      const { header, rows, numeric } = block;
      const row = (cells: readonly string[], isHead: boolean, isLast: boolean) =>
        new TableRow({
          tableHeader: isHead,
          children: cells.map(
            (cell, at) =>
              new TableCell({
                borders: {
                  ...{ left: none, right: none },
                  ...{ top: isHead ? rule : none, bottom: isHead || isLast ? rule : none },
                },
                margins: { left: 80, right: 80, top: 30, bottom: 30 },
                children: [
                  new Paragraph({
                    text: cell,
                    alignment: numeric[at] ? AlignmentType.RIGHT : AlignmentType.LEFT,
                  }),
                ],
              }),
          ),
        });
      children.push(
        label(`Table ${block.number}`),
        new Paragraph({ children: [new TextRun({ text: block.title, italics: true })], keepNext: true }),
        new Table({
          width: { size: 100, type: WidthType.PERCENTAGE },
          borders: { top: none, bottom: none, left: none, right: none, insideHorizontal: none, insideVertical: none },
          rows: [
            row(header, true, rows.length === 0),
            ...rows.map((cells, at) => row(cells, false, at === rows.length - 1)),
          ],
        }),
        plain(""),
      );
    }
  }
  const document = new Document({
    styles: { default: { document: { run: { font: "Times New Roman", size: 24 } } } },
    sections: [{ children }],
  });
  return Packer.toBlob(document);
}
