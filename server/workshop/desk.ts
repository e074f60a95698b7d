import { availableParallelism } from "node:os";
import { threads } from "../threads";
import type { LookedAt, OpenedStudy, Task, Workshop } from "./workshop";

const [mostWaiting, mostSeconds] = [100, 60];
const tooMuch = `This took longer than ${mostSeconds} seconds or more memory than there is for it, so it was not taken. Make it smaller.`;

/** The workshop in threads of its own, each task with a limit in time and memory. `script` is the built `worker.ts`. */
export function workshopInThreads(script: string, folder: string): { workshop: Workshop; close: () => Promise<void> } {
  const pool = threads<{ task: Task; about: string }, unknown>({
    filename: script,
    workerData: { folder },
    minThreads: 0,
    maxThreads: Math.max(1, availableParallelism() - 1),
    maxQueue: mostWaiting,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: 1024 },
  });
  const run = async <T>(task: Task, about: string, otherwise: T): Promise<T> => {
    try {
      return (await pool.run({ task, about }, { signal: AbortSignal.timeout(mostSeconds * 1000) })) as T;
    } catch (error) {
      // The thread was ended; the others and this one go on.
      console.error(`workshop, ${task}: ${error instanceof Error ? error.message : String(error)}`);
      return otherwise;
    }
  };
  return {
    workshop: {
      keepMedia: (path) => run<LookedAt>("keepMedia", path, { ok: false, reason: tooMuch }),
      openStudyFile: (path) => run<OpenedStudy>("openStudyFile", path, { ok: false, mistakes: [tooMuch] }),
      judge: (document) =>
        run("judge", document, [
          {
            level: "error",
            where: "the study",
            message: `It could not be judged within ${mostSeconds} seconds. Loosen the limits on its orders, or use fewer trials.`,
            target: {},
          },
        ]),
    },
    close: () => pool.destroy(),
  };
}
