import { Zip, ZipDeflate } from "fflate";
import type { Piece } from "../../core/export/formats/format";
import { bytesOf } from "./written";

export type FileInZip = { name: string; pieces: AsyncIterable<Piece> | Iterable<Piece> };

/** Files in one zip, made while it is read: memory stays the same however long they are. */
export async function* zipped(files: AsyncIterable<FileInZip>): AsyncGenerator<Uint8Array> {
  const made: Uint8Array[] = [];
  let failed: Error | null = null;
  const zip = new Zip((error, chunk) => {
    if (error) failed = error;
    else made.push(chunk);
  });
  const ready = () => {
    if (failed) throw failed;
    return made.splice(0);
  };
  for await (const { name, pieces } of files) {
    const entry = new ZipDeflate(name, { level: 3 });
    zip.add(entry);
    for await (const piece of pieces) {
      entry.push(bytesOf(piece), false);
      yield* ready();
    }
    entry.push(new Uint8Array(), true);
    yield* ready();
  }
  zip.end();
  yield* ready();
}
