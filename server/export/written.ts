import type { ExportFormat, Measured, Piece, WrittenColumn } from "../../core/export/formats/format";
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

/** What is found in the columns of a table. */
async function measured(count: number, batches: AsyncIterable<Batch>): Promise<Measured> {
  const columns = Array.from({ length: count }, () => ({ texts: 0, bytes: 0, isWhole: true }));
  let rows = 0;
  const see = (at: number, cell: Cell) => {
    const column = columns[at];
    if (cell === null || !column) return;
    if (typeof cell === "string") column.texts++;
    else if ((cell | 0) !== cell) column.isWhole = false;
    column.bytes = Math.max(column.bytes, Buffer.byteLength(String(cell)));
  };
  for await (const batch of batches) {
    if (!("columns" in batch)) {
      rows += batch.length;
      for (const cells of batch) for (const [at, cell] of cells.entries()) see(at, cell);
      continue;
    }
    rows += batch.to - batch.from;
    for (const [at, column] of batch.columns.entries()) {
      if (column === null) continue;
      // What is different is looked at once; whether it stands in just these rows makes no difference.
      if ("one" in column) see(at, column.one);
      else if ("words" in column) for (const word of column.words) see(at, word);
      else for (let row = batch.from; row < batch.to; row++) see(at, cellAt(column, row));
    }
  }
  return { rows, columns };
}

/** A table as a format writes it, a batch of rows at a time: the rows from their beginning, each time they are asked for. */
export async function* writtenRows(
  format: ExportFormat,
  columns: readonly WrittenColumn[],
  batches: () => AsyncIterable<Batch>,
): AsyncGenerator<Piece> {
  const writer = format.open(columns, format.isMeasured ? await measured(columns.length, batches()) : undefined);
  yield writer.start();
  for await (const batch of batches())
    yield "columns" in batch && writer.columns
      ? writer.columns(batch.columns, batch.from, batch.to)
      : writer.rows(rowsOfBatch(batch));
  yield writer.end();
}

/** The same, its cells read from what each row is made of. */
export const written = <Source>(
  format: ExportFormat,
  columns: readonly DataColumn<Source>[],
  batches: () => AsyncIterable<readonly Source[]> | Iterable<readonly Source[]>,
): AsyncGenerator<Piece> => writtenRows(format, columns, () => rowsIn(columns, batches()));

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
