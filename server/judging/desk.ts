import { LRUCache } from "lru-cache";
import type { WorkerData } from "../results/worker";
import { threads } from "../threads";
import type { Judge, Judgment, Question } from "./judgments";

/** Questions that may wait; a server so far behind says that it is busy. */
const mostWaiting = 5000;

/**
 * A judge for quick plans and short questions here, and for others in a thread of its own. `script` is the built `worker.ts`;
 * it opens the database at the same place.
 */
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
  // Once a session is judged there, all of it is: each judge works out anew what it has not followed itself.
  const there = new LRUCache<string, true>({ max: mostSessions });
  return {
    judge: (question) => {
      if (!there.has(question.session) && question.isQuick && isShort(question)) return here(question);
      there.set(question.session, true);
      return pool.run(question);
    },
    close: () => pool.destroy(),
  };
}

const mostSessions = 20_000;
/** So much is replayed in a few milliseconds; a session that goes on after a restart is replayed from its beginning. */
const mostHere = { stored: 1000, sent: 30, told: 300 };

/** Whether a question is answered so quickly that nobody else waits for it. */
function isShort({ position, records }: Question): boolean {
  if (position > mostHere.stored || records.length > mostHere.sent) return false;
  const told = records.reduce(
    (sum, record) =>
      "scenes" in record
        ? sum +
          record.observed.length +
          record.answers.reduce((all, { early, revised }) => all + early.length + revised.length, 0)
        : sum + (record.kind === "page" ? (record.answers?.length ?? 0) : 0),
    0,
  );
  return told <= mostHere.told;
}
