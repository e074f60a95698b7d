import { createReadStream } from "node:fs";
import { open, readFile, readdir, rename, rm, stat } from "node:fs/promises";
import { join } from "node:path";
import type { Readable } from "node:stream";
import { newSecret } from "../chance";

/** Where media are kept, by the hash of their content, so that what is there never changes. */
export type MediaKeeper = {
  /** Settled when the content is kept for good. */
  keep: (sha256: string, bytes: Uint8Array) => Promise<void>;
  /**
   * Where a file can be put for a while that is not looked at yet, under a name or without; none that is older than an hour remains
   * when the server starts.
   */
  incoming: (name?: string) => string;
  /** Takes away what was put there under names that begin so. */
  forgetIncoming: (begin: string) => Promise<void>;
  /** Whether a file that was put there is there still. */
  isIncoming: (path: string) => Promise<boolean>;
  /** Takes away what is not needed any more. */
  remove: (sha256: string) => Promise<void>;
  /** Rejects where it is not there. */
  read: (sha256: string) => Promise<Buffer<ArrayBuffer>>;
  /** The same piece by piece, with its length in bytes. */
  stream: (sha256: string) => Promise<{ bytes: number; content: Readable }>;
};

/** Takes away what came in before the server was started and was never looked at. */
export async function removeIncoming(folder: string): Promise<void> {
  const media = join(folder, "media");
  const anHourAgo = Date.now() - 3_600_000;
  for (const name of await readdir(media)) {
    const path = join(media, name);
    // What is newer may just be coming in at another server.
    if (name.startsWith("incoming.") && (await stat(path)).mtimeMs < anHourAgo) await rm(path, { force: true });
  }
}

/** Media as files in a folder of this machine, or of one that several servers share. */
export function mediaInFolder(folder: string): MediaKeeper {
  const pathOf = (sha256: string) => join(folder, sha256);
  const sizeOf = (sha256: string) => stat(pathOf(sha256)).then(({ size }) => size);
  return {
    keep: async (sha256, bytes) => {
      if ((await sizeOf(sha256).catch(() => null)) === bytes.length) return;
      const partial = `${pathOf(sha256)}.${newSecret()}`;
      const file = await open(partial, "wx");
      try {
        await file.writeFile(bytes);
        await file.sync();
      } finally {
        await file.close();
      }
      await rename(partial, pathOf(sha256));
    },
    incoming: (name = newSecret()) => join(folder, `incoming.${name}`),
    forgetIncoming: async (begin) => {
      for (const name of await readdir(folder))
        if (name.startsWith(`incoming.${begin}`)) await rm(join(folder, name), { force: true });
    },
    isIncoming: (path) =>
      stat(path).then(
        () => true,
        () => false,
      ),
    remove: (sha256) => rm(pathOf(sha256), { force: true }),
    read: async (sha256) => (await readFile(pathOf(sha256))) as Buffer<ArrayBuffer>,
    stream: async (sha256) => ({ bytes: await sizeOf(sha256), content: createReadStream(pathOf(sha256)) }),
  };
}
