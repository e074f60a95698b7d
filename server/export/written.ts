import type { ExportFormat, Piece, WrittenColumn } from "../../core/export/formats/format";
import { rowOf } from "../../core/export/tables/table";
import { cellAt } from "../../core/tidy/column";
import type { Unpacked } from "../../core/tidy/packed";
import type { Cell, DataColumn } from "../../core/values/data-column";

/** Rows as lists of their cells, or as columns from one row to another (not included). */
export type Batch = readonly (readonly Cell[])[] | { columns: readonly (Unpacked | null)[]; from: number; to: number };

/** The rows of a batch as lists of their cells. */
export function rowsOfBatch(batch: Batch): readonly (readonly Cell[])[] {
  if (!("columns" in batch)) return batch;
  const { columns, from, to } = batch;
  return Array.from({ length: to - from }, (_, at) =>
    columns.map((column) => (column ? cellAt(column, from + at) : null)),
  );
}

/** A table as a format writes it, a batch of rows at a time. */
export async function* writtenRows(
  format: ExportFormat,
  columns: readonly WrittenColumn[],
  batches: AsyncIterable<Batch>,
): AsyncGenerator<Piece> {
  const writer = format.open(columns);
  yield writer.start();
  for await (const batch of batches)
    yield "columns" in batch && writer.columns
      ? writer.columns(batch.columns, batch.from, batch.to)
      : writer.rows(rowsOfBatch(batch));
  yield writer.end();
}

/** The same, its cells read from what each row is made of. */
export const written = <Source>(
  format: ExportFormat,
  columns: readonly DataColumn<Source>[],
  batches: AsyncIterable<readonly Source[]> | Iterable<readonly Source[]>,
): AsyncGenerator<Piece> => writtenRows(format, columns, rowsIn(columns, batches));

async function* rowsIn<Source>(
  columns: readonly DataColumn<Source>[],
  batches: AsyncIterable<readonly Source[]> | Iterable<readonly Source[]>,
): AsyncGenerator<Cell[][]> {
  for await (const batch of batches) yield batch.map((source) => rowOf(columns, source));
}

const utf8 = new TextEncoder();
export const bytesOf = (piece: Piece): Uint8Array => (typeof piece === "string" ? utf8.encode(piece) : piece);

/** Pieces as an answer's body: made as they are read, so that a slow reader slows the making and not the server. */
export function streamOf(pieces: AsyncGenerator<Piece>): ReadableStream<Uint8Array> {
  return new ReadableStream<Uint8Array>({
    async pull(controller) {
      for (;;) {
        const { done, value } = await pieces.next();
        if (done) return controller.close();
        const bytes = bytesOf(value);
        if (bytes.length > 0) return controller.enqueue(bytes);
      }
    },
    async cancel() {
      await pieces.return(undefined);
    },
  });
}
