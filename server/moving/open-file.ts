import { createHash } from "node:crypto";
import { stat } from "node:fs/promises";
import type { Readable } from "node:stream";
import { open as openZip, type Entry, type ZipFile } from "yauzl";
import { fileNames, mediaName } from "./lines";

const [megabyte, gigabyte] = [1024 ** 2, 1024 ** 3];
/** Largest file taken, and largest it may become when unpacked; the longest text read at once. */
export const mostMovedBytes = 500 * megabyte;
const mostUnpackedBytes = 8 * gigabyte;
const mostText = 200 * megabyte;
const mostEntries = 20_000;

/** What is wrong with a file, in a sentence for whoever chose it. */
export class NotTaken extends Error {}

const damaged = "The file is damaged: what is in it is not what was put in. Make it again, or bring it over once more.";

const noDataFile = "This is no data file. Choose one that ends in .lapwing-data.zip.";

/** A data file, opened to be read; everything in it is as its checksums say. */
export class MovedFile {
  private constructor(
    private readonly zip: ZipFile,
    private readonly entries: ReadonlyMap<string, Entry>,
  ) {}

  /** Opens the file at a path and holds everything in it against its checksums. Throws `NotTaken`. */
  static async open(path: string): Promise<MovedFile> {
    if ((await stat(path)).size > mostMovedBytes)
      throw new NotTaken(
        `The file is larger than ${mostMovedBytes / megabyte} MB. Make it anew in several, each of one wave.`,
      );
    const zip = await new Promise<ZipFile>((resolve, reject) =>
      openZip(path, { lazyEntries: true, autoClose: false }, (error, opened) =>
        error ? reject(error) : resolve(opened),
      ),
    ).catch(() => null);
    if (!zip) throw new NotTaken(noDataFile);
    try {
      const file = new MovedFile(zip, await entriesOf(zip));
      await file.#check();
      return file;
    } catch (error) {
      zip.close();
      throw error instanceof NotTaken ? error : new NotTaken(damaged);
    }
  }

  close(): void {
    this.zip.close();
  }

  /** The SHA-256 of the media in it. */
  get media(): string[] {
    return [...this.entries.keys()].flatMap((name) => mediaName.exec(name)?.[1] ?? []);
  }

  has(name: string): boolean {
    return this.entries.has(name);
  }

  /** One of its files as text. */
  async text(name: string): Promise<string> {
    const pieces: string[] = [];
    let length = 0;
    for await (const line of this.lines(name)) {
      length += line.length;
      if (length > mostText) throw new NotTaken(`The file “${name}” in it is longer than any that Lapwing writes.`);
      pieces.push(line);
    }
    return pieces.join("\n");
  }

  async bytes(name: string, most: number): Promise<Uint8Array> {
    const pieces: Buffer[] = [];
    let length = 0;
    for await (const piece of await this.#stream(name)) {
      length += (piece as Buffer).length;
      if (length > most) throw new NotTaken(`The file “${name}” in it is larger than ${most / megabyte} MB.`);
      pieces.push(piece as Buffer);
    }
    return Buffer.concat(pieces);
  }

  /** The lines of one of its files, a few in memory at a time. */
  async *lines(name: string): AsyncGenerator<string> {
    const decoder = new TextDecoder("utf-8", { fatal: true });
    let rest = "";
    const whole = (text: string) => {
      if (text.length > mostText)
        throw new NotTaken(`A line of “${name}” in it is longer than any that Lapwing writes.`);
      return text;
    };
    for await (const piece of await this.#stream(name)) {
      const parts = decoder.decode(piece as Buffer, { stream: true }).split("\n");
      parts[0] = rest + (parts[0] ?? "");
      rest = whole(parts.pop() ?? "");
      yield* parts;
    }
    rest += decoder.decode();
    if (rest !== "") yield whole(rest);
  }

  async #stream(name: string): Promise<Readable> {
    const entry = this.entries.get(name);
    if (!entry) throw new NotTaken(damaged);
    return new Promise<Readable>((resolve, reject) =>
      this.zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream))),
    );
  }

  async #check(): Promise<void> {
    if (!this.entries.has(fileNames.about) || !this.entries.has(fileNames.checksums)) throw new NotTaken(noDataFile);
    const sums = new Map<string, string>();
    for await (const line of this.lines(fileNames.checksums)) {
      const [, sum = "", name = ""] = /^([0-9a-f]{64}) {2}(.+)$/.exec(line) ?? [];
      sums.set(name, sum);
    }
    for (const name of this.entries.keys()) {
      if (name === fileNames.checksums) continue;
      const hash = createHash("sha256");
      for await (const piece of await this.#stream(name)) hash.update(piece as Buffer);
      if (hash.digest("hex") !== sums.get(name)) throw new NotTaken(damaged);
      sums.delete(name);
    }
    if (sums.size > 0) throw new NotTaken(damaged);
  }
}

const known = new Set<string>(Object.values(fileNames));

function entriesOf(zip: ZipFile): Promise<Map<string, Entry>> {
  return new Promise((resolve, reject) => {
    const entries = new Map<string, Entry>();
    let total = 0;
    const refuse = (reason: string) => reject(new NotTaken(reason));
    zip.on("error", () => refuse(damaged));
    zip.on("end", () => resolve(entries));
    zip.on("entry", (entry: Entry) => {
      total += entry.uncompressedSize;
      if (entries.size >= mostEntries) return refuse(`There are more than ${mostEntries} files in it.`);
      if (total > mostUnpackedBytes)
        return refuse(`Unpacked it would be larger than ${mostUnpackedBytes / gigabyte} GB.`);
      if (!known.has(entry.fileName) && !mediaName.test(entry.fileName)) return refuse(noDataFile);
      entries.set(entry.fileName, entry);
      zip.readEntry();
    });
    zip.readEntry();
  });
}
