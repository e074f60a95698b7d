import type { WorkerData } from "../results/worker";
import { threads } from "../threads";
import type { Judge, Judgment, Question } from "./judgments";

/** Questions that may wait; a server so far behind says that it is busy. */
const mostWaiting = 5000;

/** A judge for quick plans here, and for others in a thread of its own. `script` is the built `worker.ts`; it opens the database at the same place. */
export function judgeAlsoInThread(
  here: Judge,
  script: string,
  where: WorkerData,
): { judge: Judge; close: () => Promise<void> } {
  const pool = threads<Question, Judgment>({
    filename: script,
    workerData: where,
    minThreads: 1,
    maxThreads: 1,
    maxQueue: mostWaiting,
    concurrentTasksPerWorker: 200,
    resourceLimits: { maxOldGenerationSizeMb: 1024 },
  });
  return { judge: (question) => (question.isQuick ? here(question) : pool.run(question)), close: () => pool.destroy() };
}
