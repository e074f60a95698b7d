import type { Piscina } from "piscina";
import { threads } from "../threads";
import type { Answered } from "./registry";
import type { Asked, WorkerData } from "./worker";

/** Questions that may wait; more are refused. */
const mostWaiting = 200;
/** So long after a session ended the rows of its study are made: several often end together. */
const soonMs = 3000;

/**
 * Answers questions about results in a thread of its own, so that sessions being recorded never wait for them. The thread
 * keeps what it has read while it is in use.
 */
export class ResultsDesk {
  readonly #pool: Piscina<Asked, Answered | null>;
  readonly #soon = new Map<string, NodeJS.Timeout>();

  /** `script` is the built `worker.ts`; it opens the database at the same place. */
  constructor(script: string, where: WorkerData) {
    this.#pool = threads<Asked, Answered | null>({
      filename: script,
      workerData: where,
      minThreads: 0,
      maxThreads: 1,
      maxQueue: mostWaiting,
      idleTimeout: 10 * 60_000,
      // A question that needs more ends the thread, and nothing else.
      resourceLimits: { maxOldGenerationSizeMb: 2048 },
    });
  }

  /**
   * What `answered` says, for a study by its code; null where it is gone. A question that nobody waits for any more is
   * answered all the same: to break it off would end the thread, and lose what it has read.
   */
  answered(code: string, query: URLSearchParams): Promise<Answered | null> {
    return this.#pool.run({ code, query: query.toString() });
  }

  /** Makes the rows of a study's sessions in a while, so that they are there when somebody asks. */
  gatherSoon(studyId: string): void {
    if (this.#soon.has(studyId)) return;
    const timer = setTimeout(() => {
      this.#soon.delete(studyId);
      // Whoever asks first makes them otherwise.
      this.#pool.run({ gather: studyId }).catch((error: unknown) => console.error(error));
    }, soonMs);
    this.#soon.set(studyId, timer.unref());
  }

  close(): Promise<void> {
    for (const timer of this.#soon.values()) clearTimeout(timer);
    return this.#pool.destroy();
  }
}
