import type { Kysely, Transaction } from "kysely";
import type { Tables } from "./tables";

/** At most so many pieces of work share a commit, so that reading does not wait long. */
const mostTogether = 100;

type Waiting = { work: (trx: Transaction<Tables>) => Promise<unknown>; done: (how: () => void) => void };
type Kept<T> = { ok: true; value: T } | { ok: false; error: unknown };

/**
 * Carries out writing work of many requests in one transaction after the other: what waits while one is committed shares
 * the next commit, so that a full sync to disk is paid once for all of them. Each piece of work is undone by itself when
 * it fails; all are told only after the commit, and all fail when the commit does.
 */
export class Writer {
  readonly #waiting: Waiting[] = [];
  #running = false;

  constructor(private readonly db: Kysely<Tables>) {}

  /** Gives what the work gives once it is on disk; rejects when the work or the commit failed, and nothing of it is stored then. */
  write<T>(work: (trx: Transaction<Tables>) => Promise<T>): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      let kept: Kept<T> | null = null;
      this.#waiting.push({
        work: async (trx) => {
          try {
            kept = { ok: true, value: await work(trx) };
          } catch (error) {
            kept = { ok: false, error };
            throw error;
          }
        },
        done: (how) => {
          try {
            how();
            const result = kept as Kept<T> | null;
            if (result?.ok) resolve(result.value);
            else reject(result?.error instanceof Error ? result.error : new Error("The work was not carried out"));
          } catch (error) {
            reject(error instanceof Error ? error : new Error(String(error)));
          }
        },
      });
      if (!this.#running) void this.#run();
    });
  }

  async #run(): Promise<void> {
    this.#running = true;
    // What comes in with the same turn of the event loop goes together.
    await new Promise<void>((resolve) => setImmediate(resolve));
    while (this.#waiting.length > 0) {
      const together = this.#waiting.splice(0, mostTogether);
      try {
        await this.#commit(together);
        for (const each of together) each.done(() => undefined);
      } catch (error) {
        for (const each of together)
          each.done(() => {
            throw error;
          });
      }
      await new Promise<void>((resolve) => setImmediate(resolve));
    }
    this.#running = false;
  }

  async #commit(together: Waiting[]): Promise<void> {
    const trx = await this.db.startTransaction().execute();
    try {
      for (const { work } of together) {
        const one = await trx.savepoint("one").execute();
        try {
          await work(one);
          await one.releaseSavepoint("one").execute();
        } catch (error) {
          // A full disk undoes the whole transaction by itself; then nothing is left to go back to, and all of it has failed.
          await one
            .rollbackToSavepoint("one")
            .execute()
            .catch(() => {
              throw error;
            });
        }
      }
      await trx.commit().execute();
    } catch (error) {
      await trx
        .rollback()
        .execute()
        .catch(() => undefined);
      throw error;
    }
  }
}
