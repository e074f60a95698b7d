import Papa from "papaparse";

/** Texts of a pasted piece or a CSV file: separators are found out, quoted cells read, a byte order mark dropped. */
export function sheetFromText(text: string): string[][] {
  const plain = text.replace(/^\uFEFF/, "");
  const delimiter = plain.split(/\r?\n/, 1)[0]?.includes("\t") ? "\t" : "";
  return Papa.parse<string[]>(plain, { delimiter, skipEmptyLines: "greedy" }).data;
}

/** A CSV or Excel file as a sheet of texts. Throws with a message for people where it cannot be read. */
export async function sheetFromFile(file: File): Promise<string[][]> {
  if (!/\.xlsx$/i.test(file.name)) return sheetFromText(await file.text());
  const { readSheet } = await import("read-excel-file/universal");
  try {
    const rows = await readSheet(await file.arrayBuffer());
    return rows.map((row) =>
      row.map((cell) =>
        cell === null
          ? ""
          : cell instanceof Date
            ? cell.toISOString().slice(0, 10)
            : typeof cell === "boolean"
              ? cell
                ? "yes"
                : "no"
              : String(cell),
      ),
    );
  } catch {
    throw new Error(`${file.name} could not be read as an Excel file. Save it again as .xlsx, or as CSV.`);
  }
}

export const sheetAsCsv = (sheet: string[][]): Blob =>
  new Blob([`\uFEFF${Papa.unparse(sheet)}\r\n`], { type: "text/csv" });

export async function sheetAsExcel(sheet: string[][]): Promise<Blob> {
  const { default: write } = await import("write-excel-file/universal");
  const number = /^-?\d+(\.\d+)?$/;
  const data = sheet.map((row, index) =>
    row.map((text) => {
      if (index === 0) return { value: text, fontWeight: "bold" as const };
      return text !== "" && number.test(text) && String(Number(text)) === text
        ? { value: Number(text), type: Number }
        : { value: text, type: String };
    }),
  );
  return write(data, { stickyRowsCount: 1 }).toBlob();
}
