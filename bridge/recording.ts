import { mkdir, open, readFile, truncate } from "node:fs/promises";
import { join } from "node:path";
import { pieceMessage } from "../core/bridge/messages";
import { sampleBytes } from "../core/gaze/packed";

/** Gaze of a session on the disk of the laboratory computer: pieces that are numbered from 1, one after the other in a file. */
export type Recording = {
  /** The number of the last piece. */
  readonly last: number;
  /** Settled when the piece is in the file; gives its message as it is sent on. */
  add: (samples: Uint8Array) => Promise<Uint8Array<ArrayBuffer>>;
  /** Messages of the pieces after this number. */
  after: (number: number) => Promise<Uint8Array<ArrayBuffer>[]>;
  close: () => Promise<void>;
};

/** So much stands before the message of each piece: its length. */
const headBytes = 4;

/** Whole messages in a file, in their order; what was cut off when a computer went down is left out. */
function messagesIn(bytes: Uint8Array): { messages: Uint8Array<ArrayBuffer>[]; whole: number } {
  const messages: Uint8Array<ArrayBuffer>[] = [];
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 0;
  while (at + headBytes <= bytes.length) {
    const length = view.getUint32(at, true);
    const end = at + headBytes + length;
    if (end > bytes.length || length < 4 || (length - 4) % sampleBytes !== 0) break;
    messages.push(bytes.slice(at + headBytes, end));
    at = end;
  }
  return { messages, whole: at };
}

const nothing = new Uint8Array();

/** Opens the recording of a session in a folder, to go on after what stands there. */
export async function openRecording(folder: string, session: string): Promise<Recording> {
  await mkdir(join(folder, "gaze"), { recursive: true, mode: 0o700 });
  const path = join(folder, "gaze", `${session}.gaze`);
  const there = await readFile(path).catch(() => nothing);
  const { messages, whole } = messagesIn(there);
  if (whole < there.length) await truncate(path, whole);
  const file = await open(path, "a", 0o600);
  let last = messages.length;
  return {
    get last() {
      return last;
    },
    add: async (samples) => {
      const message = pieceMessage(++last, samples);
      const framed = new Uint8Array(headBytes + message.length);
      new DataView(framed.buffer).setUint32(0, message.length, true);
      framed.set(message, headBytes);
      await file.appendFile(framed);
      return message;
    },
    after: async (number) => messagesIn(await readFile(path)).messages.slice(number),
    close: () => file.close(),
  };
}
