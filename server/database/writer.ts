import type { Kysely, Transaction } from "kysely";
import type { Tables } from "./tables";

/** At most this many pieces of work share a commit, so that reads do not wait long. */
const mostTogether = 100;

type Work<T> = (trx: Transaction<Tables>) => Promise<T>;
type Waiting = { run: Work<void>; committed: () => void; failed: (error: unknown) => void };

/**
 * Carries out writing work of many requests in one transaction after the other: what waits while one is committed shares
 * the next commit, so that a full sync to disk is paid once for all of them. All are told only after the commit. Where one
 * piece fails nothing is kept of the transaction, and each piece is done again in one of its own, so that only what fails by
 * itself fails; work must therefore depend on nothing but the transaction it is given.
 */
export class Writer {
  readonly #waiting: Waiting[] = [];
  #running = false;

  constructor(private readonly db: Kysely<Tables>) {}

  /**
   * Resolves with the work's result once it is on disk; rejects when the work or the commit failed, and nothing of it
   * is stored then.
   */
  write<T>(work: Work<T>): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      let made: { value: T } | null = null;
      this.#waiting.push({
        run: async (trx) => {
          made = { value: await work(trx) };
        },
        committed: () => made && resolve(made.value),
        failed: (error) => reject(error instanceof Error ? error : new Error(String(error))),
      });
      if (!this.#running) void this.#run();
    });
  }

  async #run(): Promise<void> {
    this.#running = true;
    // What comes in with the same turn of the event loop goes together.
    await new Promise<void>((resolve) => setImmediate(resolve));
    while (this.#waiting.length > 0) {
      await this.#commit(this.#waiting.splice(0, mostTogether));
      await new Promise<void>((resolve) => setImmediate(resolve));
    }
    this.#running = false;
  }

  async #commit(together: Waiting[]): Promise<void> {
    try {
      await this.db.transaction().execute(async (trx) => {
        for (const { run } of together) await run(trx);
      });
    } catch (error) {
      if (together.length > 1) for (const each of together) await this.#commit([each]);
      else for (const { failed } of together) failed(error);
      return;
    }
    for (const { committed } of together) committed();
  }
}
