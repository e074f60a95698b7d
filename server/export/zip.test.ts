import { unzipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { zipped, type FileInZip } from "./zip";

const bytesOf = async (files: AsyncIterable<FileInZip>): Promise<Uint8Array> => {
  const pieces: Uint8Array[] = [];
  for await (const piece of zipped(files)) pieces.push(piece);
  return Buffer.concat(pieces);
};
const changed = "2026-03-01T12:00:00Z";

async function* some(log: string[], isEndless = false): AsyncGenerator<FileInZip> {
  try {
    yield { name: "a/gulls.csv", changed, pieces: ["one\r\n", "", "two\r\n"] };
    log.push("after the first");
    yield {
      name: "knots.bin",
      changed,
      isPacked: true,
      pieces: (async function* () {
        do yield new Uint8Array(100_000);
        while (isEndless);
      })(),
    };
  } finally {
    log.push("let go");
  }
}

describe("a zip", () => {
  it("holds its files, the same bytes each time, and lets go what they were made of", async () => {
    const log: string[] = [];
    const zip = await bytesOf(some(log));
    const files = unzipSync(new Uint8Array(zip));
    expect(Object.keys(files)).toEqual(["a/gulls.csv", "knots.bin"]);
    expect(new TextDecoder().decode(files["a/gulls.csv"])).toBe("one\r\ntwo\r\n");
    expect(files["knots.bin"]?.length).toBe(100_000);
    expect(log).toEqual(["after the first", "let go"]);
    expect(Buffer.compare(zip, await bytesOf(some([])))).toBe(0);
  });
  it("lets go what it is made of where nobody reads on", async () => {
    const log: string[] = [];
    for await (const piece of zipped(some(log, true))) if (piece.length > 10_000) break;
    expect(log.at(-1)).toBe("let go");
  });
  it("breaks off where a file cannot be made", async () => {
    const failing = (async function* (): AsyncGenerator<FileInZip> {
      yield {
        name: "terns.csv",
        pieces: (async function* () {
          yield "one";
          throw new Error("the tide came in");
        })(),
      };
    })();
    await expect(bytesOf(failing)).rejects.toThrow("the tide came in");
  });
});
