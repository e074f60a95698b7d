import type { Store } from "../database/open";

/** How many sessions there are that are no rehearsals, and how many of them are finished. */
export type Arrivals = { sessions: number; finished: number };

/** By these results know that something new has come. */
export async function arrivalsOf({ db }: Store, studyId: string): Promise<Arrivals> {
  const counts = await db
    .selectFrom("session")
    .select("state")
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .groupBy("state")
    .execute();
  const sum = (rows: typeof counts) => rows.reduce((whole, { count }) => whole + Number(count), 0);
  return { sessions: sum(counts), finished: sum(counts.filter(({ state }) => state === "finished")) };
}
