import { spawn, type ChildProcess } from "node:child_process";
import { listenAt, type Attached } from "./listen";

/** A marker as the amplifier took it, by its own clock in milliseconds. */
export type Received = { at: number; value: string };

/** What a stand-in for an amplifier is like: how its clock goes, and whether it sends back what it takes. */
export type AmplifierOptions = {
  /** How much faster its clock goes, in parts per million. */
  driftPpm?: number;
  answers?: boolean;
  /** Whether it takes texts that end with their lines; otherwise each byte is a marker. */
  texts?: boolean;
  tell?: (line: string) => void;
};

/**
 * A stand-in for an amplifier with a marker line: it takes bytes, or texts by lines, notes them by its own clock, and sends them
 * back. Zeros are the line at rest.
 */
export class Amplifier {
  readonly received: Received[] = [];
  #text = "";
  readonly #driftPpm: number;
  readonly #answers: boolean;
  readonly #texts: boolean;
  readonly #tell: (line: string) => void;

  constructor({ driftPpm = 0, answers = true, texts = false, tell = () => undefined }: AmplifierOptions = {}) {
    this.#driftPpm = driftPpm;
    this.#answers = answers;
    this.#texts = texts;
    this.#tell = tell;
  }

  /** Its clock. */
  now(): number {
    return performance.now() * (1 + this.#driftPpm / 1e6);
  }

  /** Takes bytes of its line; gives what it sends back. */
  take(bytes: Uint8Array): Uint8Array | null {
    const at = this.now();
    for (const byte of bytes) {
      if (byte === 0) continue;
      if (!this.#texts) this.#note(at, String(byte));
      else if (byte !== 10) this.#text += String.fromCharCode(byte);
      else {
        this.#note(at, this.#text);
        this.#text = "";
      }
    }
    return this.#answers ? bytes : null;
  }

  #note(at: number, value: string) {
    this.received.push({ at, value });
    this.#tell(`${at.toFixed(3)} ms  ${value}`);
  }
}

/** Has the amplifier listen at a port of this computer; 0 for any that is free. */
export const atPort = (amplifier: Amplifier, port: number): ReturnType<typeof listenAt> =>
  listenAt(port, (socket) =>
    socket.on("data", (bytes) => {
      const back = amplifier.take(bytes);
      if (back) socket.write(back);
    }),
  );

/**
 * Has the amplifier stand at a serial port that is none: a terminal of this computer, which programs open like a port (Linux,
 * by `script` of util-linux). Rejects where there is no such program.
 */
export function atTerminal(amplifier: Amplifier): Promise<Attached & { path: string }> {
  const child: ChildProcess = spawn("script", ["-qfc", "stty raw -echo; tty; exec sleep 1000000", "/dev/null"], {
    stdio: ["pipe", "pipe", "ignore"],
  });
  return new Promise((resolve, reject) => {
    let path: string | null = null;
    let first = "";
    child.once("error", reject);
    child.once("exit", () => reject(new Error("The terminal was closed.")));
    child.stdout?.on("data", (bytes: Buffer) => {
      if (path === null) {
        first += bytes.toString();
        const found = /(\/dev\/\S+)\s/.exec(first)?.[1];
        if (found === undefined) return;
        path = found;
        return resolve({
          path,
          stop: async () => {
            const over = new Promise<void>((done) => child.once("exit", () => done()));
            child.kill("SIGKILL");
            await over;
          },
        });
      }
      const back = amplifier.take(bytes);
      if (back) child.stdin?.write(back);
    });
  });
}
