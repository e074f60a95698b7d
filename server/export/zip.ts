import { Readable } from "node:stream";
import { finished } from "node:stream/promises";
import { ZipFile } from "yazl";
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
  const zip = new ZipFile();
  const out = zip.outputStream as Readable;
  zip.once("error", (error: Error) => out.destroy(error));
  let source: Readable | null = null;
  let isStopped = false;
  const adding = (async () => {
    for await (const { name, pieces, isPacked = false, changed } of files) {
      if (isStopped) return;
      source = Readable.from(bytesIn(pieces), { objectMode: false, highWaterMark: 2 ** 18 });
      zip.addReadStream(source, name, {
        ...{ compress: !isPacked, compressionLevel: isPacked ? 0 : 3 },
        ...(changed === undefined ? {} : { mtime: new Date(changed) }),
      });
      // One at a time: what a file is made of may be let go once it is written.
      await finished(source);
    }
    zip.end();
  })();
  adding.catch((error: unknown) => out.destroy(error instanceof Error ? error : new Error(String(error))));
  try {
    for await (const chunk of out) yield chunk as Uint8Array;
    await adding;
  } finally {
    // Where nobody reads on, what files are made of is let go all the same.
    isStopped = true;
    out.destroy();
    (source as Readable | null)?.destroy();
    await adding.catch(() => undefined);
  }
}

async function* bytesIn(pieces: FileInZip["pieces"]): AsyncGenerator<Uint8Array> {
  for await (const piece of pieces) {
    const bytes = bytesOf(piece);
    if (bytes.length > 0) yield bytes;
  }
}
