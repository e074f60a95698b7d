import type { LogChunk, LogEntry, LogKind } from "~/core/records/log";
import type { Clock } from "./clock";

/** More than these between two records are not kept: a key that hangs, a window that is dragged about. */
const [most, mostCharacters] = [2000, 100_000];

/** What happens beside the records, gathered until the next record is put on disk and then kept together with it. */
export class SessionLog {
  #entries: LogEntry[] = [];
  #number = 0;
  #characters = 0;
  /** The trial that runs, for what happens in it. */
  trial: number | null = null;
  readonly #opening = Array.from(crypto.getRandomValues(new Uint8Array(6)), (byte) => byte.toString(36)).join("");

  constructor(private readonly clock: Clock) {}

  /** `stamp` is a time stamp of the page; now where it is left out. What is known later names its session time and its trial. */
  add(
    what: LogKind,
    value?: string | number,
    stamp: number = performance.now(),
    at: number = this.clock.at(stamp),
    trial: number | null = this.trial,
  ): void {
    if (this.#entries.length >= most || this.#characters > mostCharacters) return;
    const entry: LogEntry = { at, what };
    if (trial !== null) entry.trial = trial;
    if (value !== undefined) entry.value = String(value).slice(0, 2000);
    this.#characters += entry.value?.length ?? 0;
    this.#entries.push(entry);
  }

  /** What was gathered since the last time, as a chunk of its own; null when nothing was. */
  take(): LogChunk | null {
    if (this.#entries.length === 0) return null;
    const entries = this.#entries;
    this.#entries = [];
    this.#characters = 0;
    return { opening: this.#opening, number: ++this.#number, entries };
  }
}
