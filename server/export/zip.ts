import { Zip, ZipDeflate, ZipPassThrough } from "fflate";
import type { Piece } from "../../core/export/formats/format";
import { bytesOf } from "./written";

/** `isPacked`: it would not become smaller; `changed`: the time it bears, otherwise now. */
export type FileInZip = {
  name: string;
  pieces: AsyncIterable<Piece> | Iterable<Piece>;
  isPacked?: boolean;
  changed?: string;
};

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
  for await (const { name, pieces, isPacked, changed } of files) {
    const entry = isPacked ? new ZipPassThrough(name) : new ZipDeflate(name, { level: 3 });
    if (changed !== undefined) entry.mtime = changed;
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
