import { strToU8, Zip, ZipDeflate } from "fflate";
import type { Cell } from "../../values/data-column";
import { codebookColumns, codebookLines } from "../codebook";
import { rowOf } from "../tables/table";
import type { ExportFormat } from "./format";

/** A sheet holds no more rows, its header among them; a cell no longer text. */
const [mostRows, longestText] = [1_048_576, 32_767];
/** Files in the workbook all have this time, so that the same data give the same bytes. */
const never = new Date(1980, 0, 1);

const head = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
const office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
const packaged = "http://schemas.openxmlformats.org/package/2006";
const opening = `${head}<worksheet xmlns="${main}"><sheetViews><sheetView workbookViewId="0"><pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews><sheetData>`;
const styles = `${head}<styleSheet xmlns="${main}"><fonts count="1"><font/></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="1"><xf xfId="0"/></cellXfs><cellStyles count="1"><cellStyle name="Normal" xfId="0" builtinId="0"/></cellStyles></styleSheet>`;
const closing = "</sheetData></worksheet>";

/** Signs that XML cannot hold. */
const unwritable = /(?![\t\n\r])\p{Cc}|\p{Cs}|[\uFFFE\uFFFF]/gu;
const named: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "\r": "&#13;" };
const escaped = (text: string) =>
  text.replace(unwritable, "\uFFFD").replace(/[&<>"\r]/g, (sign) => named[sign] ?? sign);

/** A column by its letters: A, B, …, Z, AA, … */
function lettersOf(column: number): string {
  const rest = Math.floor(column / 26);
  return (rest > 0 ? lettersOf(rest - 1) : "") + String.fromCharCode(65 + (column % 26));
}

function cellXml(cell: Cell, place: string): string {
  if (cell === null || (typeof cell === "number" && !Number.isFinite(cell))) return "";
  if (typeof cell === "number") return `<c r="${place}"><v>${cell}</v></c>`;
  const text = cell.length > longestText ? `${cell.slice(0, longestText - 1)}…` : cell;
  return `<c r="${place}" t="inlineStr"><is><t xml:space="preserve">${escaped(text)}</t></is></c>`;
}

/** Writes a zip piece by piece: what was compressed since is taken when it is asked for. */
class Pieces {
  readonly #done: Uint8Array[] = [];
  readonly zip = new Zip((error, piece) => {
    if (error) throw error;
    this.#done.push(piece);
  });
  file(name: string): ZipDeflate {
    const file = new ZipDeflate(name, { level: 6 });
    file.mtime = never;
    this.zip.add(file);
    return file;
  }
  whole(name: string, text: string): void {
    this.file(name).push(strToU8(text), true);
  }
  take(): Uint8Array {
    const taken = this.#done.splice(0);
    const whole = new Uint8Array(taken.reduce((sum, { length }) => sum + length, 0));
    let at = 0;
    for (const piece of taken) {
      whole.set(piece, at);
      at += piece.length;
    }
    return whole;
  }
}

/**
 * A workbook as ISO/IEC 29500 describes it: rows on a sheet, numbers as numbers and texts as texts, so that none is run as a
 * formula; rows that do not fit go on, on a further sheet. The last sheet is the codebook.
 */
export const xlsx: ExportFormat = {
  says: "as an Excel workbook",
  written:
    "Office Open XML; numbers are numbers, anything else text, a missing value is an empty cell; texts of more than 32,767 characters are cut and end with …",
  extension: "xlsx",
  mime: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
  open: (columns) => {
    const out = new Pieces();
    const sheets: string[] = [];
    let sheet: ZipDeflate | null = null;
    let rowsOfSheet = 0;
    const letters = Array.from({ length: Math.max(columns.length, codebookColumns.length) }, (_, at) => lettersOf(at));
    const put = (rows: readonly (readonly Cell[])[]) => {
      let text = "";
      for (const cells of rows) {
        const number = ++rowsOfSheet;
        text += `<row r="${number}">${cells.map((cell, at) => cellXml(cell, `${letters[at]}${number}`)).join("")}</row>`;
      }
      sheet?.push(strToU8(text));
    };
    const begin = (called: string, header: readonly string[]) => {
      sheets.push(called);
      sheet = out.file(`xl/worksheets/sheet${sheets.length}.xml`);
      sheet.push(strToU8(opening));
      rowsOfSheet = 0;
      put([header]);
    };
    const end = () => sheet?.push(strToU8(closing), true);
    const header = columns.map(({ name }) => name);
    const write = (rows: readonly (readonly Cell[])[]) => {
      for (let from = 0; from < rows.length;) {
        if (rowsOfSheet >= mostRows) {
          end();
          begin(`rows ${sheets.length + 1}`, header);
        }
        const together = rows.slice(from, from + mostRows - rowsOfSheet);
        put(together);
        from += together.length;
      }
      return out.take();
    };
    return {
      start: () => {
        begin("rows", header);
        return out.take();
      },
      rows: write,
      end: () => {
        end();
        const shown = codebookColumns.filter(({ name }) => name !== "table");
        begin(
          "codebook",
          shown.map(({ name }) => name),
        );
        const lines = codebookLines([{ name: "rows", one: "", columns }]).map((line) => rowOf(shown, line));
        put(lines);
        end();
        const relation = (id: string, kind: string, target: string) =>
          `<Relationship Id="${id}" Type="${office}/${kind}" Target="${target}"/>`;
        const relations = (inner: string) =>
          `${head}<Relationships xmlns="${packaged}/relationships">${inner}</Relationships>`;
        const ids = sheets.map((_, at) => `rId${at + 1}`);
        out.whole("_rels/.rels", relations(relation("rId1", "officeDocument", "xl/workbook.xml")));
        out.whole(
          "xl/_rels/workbook.xml.rels",
          relations(
            ids.map((id, at) => relation(id, "worksheet", `worksheets/sheet${at + 1}.xml`)).join("") +
              relation(`rId${sheets.length + 1}`, "styles", "styles.xml"),
          ),
        );
        out.whole(
          "xl/workbook.xml",
          `${head}<workbook xmlns="${main}" xmlns:r="${office}"><sheets>${sheets
            .map((name, at) => `<sheet name="${name}" sheetId="${at + 1}" r:id="${ids[at]}"/>`)
            .join("")}</sheets></workbook>`,
        );
        out.whole("xl/styles.xml", styles);
        const kind = (name: string) => `application/vnd.openxmlformats-officedocument.spreadsheetml.${name}+xml`;
        const part = (path: string, type: string) => `<Override PartName="${path}" ContentType="${type}"/>`;
        out.whole(
          "[Content_Types].xml",
          `${head}<Types xmlns="${packaged}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/>${part("/xl/workbook.xml", kind("sheet.main"))}${part("/xl/styles.xml", kind("styles"))}${sheets
            .map((_, at) => part(`/xl/worksheets/sheet${at + 1}.xml`, kind("worksheet")))
            .join("")}</Types>`,
        );
        out.zip.end();
        return out.take();
      },
    };
  },
};
