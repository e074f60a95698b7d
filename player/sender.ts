import type { SessionRecord } from "~/core/run/records";
import { TakenOver, type Kept, type Outbox, type Remembered } from "./outbox";
import { pause, Refused, send, type Acknowledged } from "./server";

const [mostAtOnce, mostLogAtOnce] = [200, 100];
const none: Kept = { records: [], log: [] };
const countOf = ({ records, log }: Kept) => records.length + log.length;

/** Brings what waits in the outbox to the server, in order, and tries again until it is acknowledged. */
export class Sender {
  #running: Promise<void> | null = null;
  #again = false;
  #latest: Acknowledged | null = null;
  #nudged: () => void = () => undefined;
  #held: Kept = { records: [], log: [] };
  /** Told after every try: up to which record all is acknowledged, and the last trouble if there was one. */
  onProgress: (acknowledged: number, trouble: string | null) => void = () => undefined;
  /** Told when another window or another computer plays the session now; nothing is sent or kept after that. */
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
      // Where the disk takes nothing more, records are held here and sent all the same.
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
    return {
      records: [...stored.records, ...this.#held.records].toSorted((a, b) => a.number - b.number),
      log: [...stored.log, ...this.#held.log],
    };
  }

  async #run(): Promise<void> {
    for (let failures = 0; this.#again;) {
      this.#again = false;
      const waiting = await this.unacknowledged();
      if (countOf(waiting) === 0 && this.#latest) break;
      const [records, log] = [waiting.records.slice(0, mostAtOnce), waiting.log.slice(0, mostLogAtOnce)];
      try {
        const latest = await send(this.session.secret, { records, log });
        this.#latest = latest;
        const { acknowledged } = latest;
        await this.outbox.acknowledge(this.session.session, acknowledged, log).catch(() => undefined);
        this.#held = {
          records: this.#held.records.filter(({ number }: SessionRecord) => number > acknowledged),
          log: this.#held.log.filter((chunk) => !log.includes(chunk)),
        };
        const left = await this.unacknowledged();
        failures = 0;
        this.onProgress(acknowledged, null);
        if (latest.superseded && countOf(left) === 0) return this.onLost("computer");
        if (countOf(left) > 0) {
          this.#again = true;
          if (left.records.length === waiting.records.length && left.records.length > 0) await pause(1000);
        }
      } catch (error) {
        this.#again = true;
        this.onProgress(this.acknowledged, error instanceof Error ? error.message : String(error));
        const wait =
          error instanceof Refused ? 15_000 : Math.min(15_000, 500 * 2 ** failures++) * (0.75 + 0.5 * Math.random());
        await Promise.race([pause(wait), new Promise<void>((resolve) => (this.#nudged = resolve))]);
      }
    }
  }
}
