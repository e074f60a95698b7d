import type { LogChunk } from "~/core/records/log";
import type { SessionRecord } from "~/core/records/record";
import { TakenOver, type Kept, type Outbox, type Remembered } from "./outbox";
import { pause, Refused, send, type Acknowledged } from "./server";

const [mostAtOnce, mostLogAtOnce] = [200, 100];
/** So many characters are sent at once; a single record or piece of the log may be longer. */
const mostCharacters = 300_000;
/** The longest rest between two tries, in milliseconds. */
const longest = 15_000;
const none: Kept = { records: [], log: [] };
const countOf = ({ records, log }: Kept) => records.length + log.length;

const keyOf = (each: number | LogChunk): string =>
  typeof each === "number" ? String(each) : `${each.opening} ${each.number}`;

/** The first of these, as many as there may be and as fit into what is sent at once; one at least. */
function upToSize<T>(all: T[], most: number): T[] {
  let characters = 0;
  const end = all.findIndex(
    (each, index) => index >= most || ((characters += JSON.stringify(each).length) > mostCharacters && index > 0),
  );
  return end < 0 ? all : all.slice(0, end);
}

/** Brings what waits in the outbox to the server, in order, and tries again until it is acknowledged. */
export class Sender {
  #running: Promise<void> | null = null;
  #again = false;
  #latest: Acknowledged | null = null;
  #nudged: () => void = () => undefined;
  #held: Kept = { records: [], log: [] };
  /** Fewer go at once after the server has refused some. */
  #most = mostAtOnce;
  /** What is not sent again in this round: refused by itself, or there but behind a gap. */
  readonly #aside = new Set<string>();
  #refusal: string | null = null;
  /** Pieces of the log that the server has. */
  readonly #logged = new Set<string>();
  /** Called after every try: up to which record all is acknowledged, and the last trouble if there was one. */
  onProgress: (acknowledged: number, trouble: string | null) => void = () => undefined;
  /** Called when another window or computer has taken the session over; nothing is sent or kept after that. */
  onLost: (to: "window" | "computer") => void = () => undefined;

  constructor(
    private readonly outbox: Outbox,
    private readonly session: Remembered,
  ) {}

  /** Up to which record all is acknowledged. */
  get acknowledged(): number {
    return this.#latest?.acknowledged ?? 0;
  }

  /** Puts records on disk, then sends them in the background. Settled once they are on disk; never when another window has the session. */
  async keep(kept: Kept): Promise<void> {
    try {
      await this.outbox.add(this.session, kept);
    } catch (error) {
      if (error instanceof TakenOver) {
        this.onLost("window");
        return new Promise(() => undefined);
      }
      // If the disk takes no more, records are held here and still sent.
      this.#held.records.push(...kept.records);
      this.#held.log.push(...kept.log);
    }
    this.wake();
  }

  /** Does not wait for the end of a pause after a failure: the network is back. */
  nudge(): void {
    this.#nudged();
  }

  wake(): void {
    this.#again = true;
    this.#running ??= this.#run().finally(() => (this.#running = null));
  }

  /** Waits until everything is acknowledged; gives what the server said last. */
  async drained(): Promise<Acknowledged | null> {
    do {
      this.wake();
      await this.#running;
    } while (countOf(await this.unacknowledged()) > 0);
    return this.#latest;
  }

  /** What is on disk or held here and not acknowledged yet, in order. */
  async unacknowledged(): Promise<Kept> {
    const stored = await this.outbox.waiting(this.session.session).catch(() => none);
    // A disk that fails to delete what is acknowledged keeps no one waiting.
    return {
      records: [...stored.records, ...this.#held.records]
        .filter(({ number }) => number > this.acknowledged)
        .toSorted((a, b) => a.number - b.number),
      log: [...stored.log, ...this.#held.log].filter((chunk) => !this.#logged.has(keyOf(chunk))),
    };
  }

  async #run(): Promise<void> {
    for (let failures = 0; this.#again;) {
      this.#again = false;
      const waiting = await this.unacknowledged();
      if (countOf(waiting) === 0 && this.#latest) break;
      const batch = this.#batchOf(waiting);
      if (countOf(batch) === 0 && countOf(waiting) > 0) {
        // Everything else has arrived; the rest is tried another time, when the server may be able to take it.
        const reason = this.#refusal ?? "The server still waits for earlier answers.";
        [this.#again, this.#refusal] = [true, null];
        this.#aside.clear();
        this.onProgress(this.acknowledged, reason);
        await this.#rest(longest);
        continue;
      }
      try {
        const latest = await send(this.session.secret, {
          ...batch,
          waiting: waiting.records.length - batch.records.length,
        });
        this.#latest = latest;
        this.#most = Math.min(mostAtOnce, this.#most * 2);
        const { acknowledged } = latest;
        for (const chunk of batch.log) this.#logged.add(keyOf(chunk));
        await this.outbox.acknowledge(this.session.session, acknowledged, batch.log).catch(() => undefined);
        this.#held = {
          records: this.#held.records.filter(({ number }: SessionRecord) => number > acknowledged),
          log: this.#held.log.filter((chunk) => !batch.log.includes(chunk)),
        };
        // Stored, but acknowledged only when what is missing before them has come.
        for (const { number } of batch.records) if (number > acknowledged) this.#aside.add(keyOf(number));
        const left = await this.unacknowledged();
        failures = 0;
        this.onProgress(acknowledged, this.#refusal);
        if (latest.superseded && countOf(left) === 0) return this.onLost("computer");
        if (countOf(left) > 0) this.#again = true;
      } catch (error) {
        this.#again = true;
        if (error instanceof Refused && error.isForContent && countOf(batch) > 0) {
          this.#narrow(batch, error.message);
          continue;
        }
        this.onProgress(this.acknowledged, error instanceof Error ? error.message : String(error));
        await this.#rest(
          error instanceof Refused ? longest : Math.min(longest, 500 * 2 ** failures++) * (0.75 + 0.5 * Math.random()),
        );
      }
    }
  }

  /** What is sent next: from the first on, no more than goes through at once. */
  #batchOf({ records, log }: Kept): Kept {
    const next = upToSize(
      records.filter(({ number }) => !this.#aside.has(keyOf(number))),
      this.#most,
    );
    const isOne = this.#most === 1 && next.length > 0;
    const pieces = log.filter((chunk) => !this.#aside.has(keyOf(chunk)));
    return { records: next, log: isOne ? [] : upToSize(pieces, Math.min(mostLogAtOnce, this.#most)) };
  }

  /**
   * The server refused this: half of it is tried, and a single refused one is set aside so that the others get through.
   */
  #narrow({ records, log }: Kept, reason: string): void {
    if (records.length + log.length === 1) {
      this.#refusal = reason;
      for (const each of records) this.#aside.add(keyOf(each.number));
      for (const each of log) this.#aside.add(keyOf(each));
    } else this.#most = Math.max(1, Math.floor(Math.max(records.length, log.length) / 2));
  }

  #rest = (ms: number) => Promise.race([pause(ms), new Promise<void>((resolve) => (this.#nudged = resolve))]);
}
