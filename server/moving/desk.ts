import type { Piscina } from "piscina";
import type { WorkerData } from "../results/worker";
import { threads } from "../threads";
import type { Asked, TakenIn } from "./take-in";

const mostWaiting = 20;

/** Takes in data files in a thread of its own, one after the other, so that sessions being recorded never wait for them. */
export class MovingDesk {
  readonly #pool: Piscina<{ path: string; asked: Asked }, TakenIn>;

  /** `script` is the built `worker.ts`; it opens the database at the same place. */
  constructor(script: string, where: WorkerData) {
    this.#pool = threads({
      filename: script,
      workerData: where,
      minThreads: 0,
      maxThreads: 1,
      maxQueue: mostWaiting,
      idleTimeout: 60_000,
      resourceLimits: { maxOldGenerationSizeMb: 2048 },
    });
  }

  /** What `takeInFile` says of the file at a path; a sentence, too, where it could not be done to its end. */
  takeIn(path: string, asked: Asked): Promise<TakenIn> {
    return this.#pool.run({ path, asked }).catch((error: unknown) => {
      console.error(error);
      return {
        ok: false,
        reason: asked.write
          ? "It could not be taken in to its end. What was taken in stays; take the file in again, and it goes on from there."
          : "It could not be read to its end. Try again, or make the file anew in several, each of one wave.",
      };
    });
  }

  close(): Promise<void> {
    return this.#pool.destroy();
  }
}
