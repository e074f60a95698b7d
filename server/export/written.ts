import type { ExportFormat, Piece } from "../../core/export/formats/format";
import { rowOf } from "../../core/export/tables/table";
import type { DataColumn } from "../../core/values/data-column";

/** A table as a format writes it, a batch of rows at a time. */
export async function* written<Source>(
  format: ExportFormat,
  columns: readonly DataColumn<Source>[],
  batches: AsyncIterable<readonly Source[]> | Iterable<readonly Source[]>,
): AsyncGenerator<Piece> {
  const writer = format.open(columns);
  yield writer.start();
  for await (const batch of batches) yield writer.rows(batch.map((source) => rowOf(columns, source)));
  yield writer.end();
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
