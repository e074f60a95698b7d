import { ByteWriter, ParquetWriter, schemaFromColumnData } from "hyparquet-writer";
import type { Cell } from "../../values/data-column";
import type { ExportFormat, Measured, WrittenColumn } from "./format";

/** So many rows go together: readers take columns of a group at a time. */
const groupRows = 50_000;

type Type = "STRING" | "DOUBLE" | "INT32" | "BOOLEAN";

/** A column's type, by what stands in it: texts in a column of numbers make it one of texts, so that nothing is lost. */
function typeOf({ type }: WrittenColumn, { texts, isWhole }: Measured["columns"][number]): Type {
  if (type === "yes/no") return "BOOLEAN";
  if (type === "text" || texts > 0) return "STRING";
  return type === "whole number" && isWhole ? "INT32" : "DOUBLE";
}

const valueOf = (type: Type, cell: Cell): string | number | boolean | null =>
  cell === null ? null : type === "BOOLEAN" ? cell === "yes" : type === "STRING" ? String(cell) : cell;

/** Columns for programs that analyse: Apache Parquet, compressed by Snappy. A missing value is null. */
export const parquet: ExportFormat = {
  says: "as Parquet",
  written: "Apache Parquet; numbers, whole numbers, texts and yes or no have their types, a missing value is null",
  extension: "parquet",
  mime: "application/vnd.apache.parquet",
  isMeasured: true,
  open: (columns, measured) => {
    const types = columns.map((column, at) =>
      typeOf(column, measured?.columns[at] ?? { texts: 0, bytes: 0, isWhole: true }),
    );
    const out = new ByteWriter();
    const writer = new ParquetWriter({
      writer: out,
      schema: schemaFromColumnData({
        columnData: columns.map(({ name }, at) => ({ name, data: [], type: types[at] as Type, nullable: true })),
      }),
      createdBy: "lapwing",
    });
    let waiting: (readonly Cell[])[] = [];
    const take = (): Uint8Array => {
      const bytes = out.getBytes().slice();
      out.index = 0;
      return bytes;
    };
    const writeGroup = () => {
      if (waiting.length === 0) return;
      void writer.write({
        columnData: columns.map(({ name }, at) => ({
          name,
          data: waiting.map((cells) => valueOf(types[at] as Type, cells[at] ?? null)),
          type: types[at] as Type,
        })),
        rowGroupSize: waiting.length,
      });
      waiting = [];
    };
    return {
      start: take,
      rows: (rows) => {
        for (const cells of rows) {
          waiting.push(cells);
          if (waiting.length === groupRows) writeGroup();
        }
        return take();
      },
      end: () => {
        writeGroup();
        void writer.finish();
        return take();
      },
    };
  },
};
