import type { SessionRecord } from "~/core/run/records";
import type { Outbox } from "./outbox";
import { pause, Refused, send, type Acknowledged } from "./server";

const mostAtOnce = 200;

/** Brings what waits in the outbox to the server, in order, and tries again until it is acknowledged. */
export class Sender {
  #running: Promise<void> | null = null;
  #again = false;
  #latest: Acknowledged | null = null;
  #waiting = 0;
  #held: SessionRecord[] = [];
  /** Told after every try: how many records wait, and the last trouble if there was one. */
  onProgress: (waiting: number, trouble: string | null) => void = () => undefined;

  constructor(
    private readonly outbox: Outbox,
    private readonly secret: string,
    private readonly session: string,
  ) {}

  /** Puts records on disk, then sends them in the background. Settled once they are on disk. */
  async keep(records: SessionRecord[]): Promise<void> {
    // Where the disk takes nothing more, records are held here and sent all the same.
    await this.outbox.add(this.session, records).catch(() => this.#held.push(...records));
    this.#waiting += records.length;
    this.wake();
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
    } while ((await this.#unacknowledged()).length > 0);
    return this.#latest;
  }

  /** What is on disk or held here and not acknowledged yet, in order. */
  async #unacknowledged(): Promise<SessionRecord[]> {
    const stored = await this.outbox.waiting(this.session).catch((): SessionRecord[] => []);
    return [...stored, ...this.#held].toSorted((a, b) => a.number - b.number);
  }

  async #run(): Promise<void> {
    for (let failures = 0; this.#again;) {
      this.#again = false;
      const waiting = await this.#unacknowledged();
      this.#waiting = waiting.length;
      if (waiting.length === 0 && this.#latest) break;
      try {
        this.#latest = await send(this.secret, waiting.slice(0, mostAtOnce));
        const { acknowledged } = this.#latest;
        await this.outbox.acknowledge(this.session, acknowledged).catch(() => undefined);
        this.#held = this.#held.filter(({ number }) => number > acknowledged);
        const left = await this.#unacknowledged();
        this.#waiting = left.length;
        failures = 0;
        this.onProgress(left.length, null);
        if (left.length > 0) {
          this.#again = true;
          if (left.length === waiting.length) await pause(1000);
        }
      } catch (error) {
        this.#again = true;
        this.onProgress(this.#waiting, error instanceof Error ? error.message : String(error));
        await pause(
          error instanceof Refused ? 15_000 : Math.min(15_000, 500 * 2 ** failures++) * (0.75 + 0.5 * Math.random()),
        );
      }
    }
  }
}
