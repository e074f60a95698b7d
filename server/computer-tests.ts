import type { ComputerResult } from "../core/timing/self-test";
import { newId } from "./chance";
import type { Store } from "./database/open";

export type ComputerTest = { id: string; computer: string; at: string; result: ComputerResult };

/** Whose test it is: an account’s, and of which computer where that is enrolled. */
export type Tester = { id: string; computer?: { id: string } | null };

/** Stores the result of a computer's self-test, with the date. */
export async function keepComputerTest(
  { db }: Store,
  who: Tester,
  computer: string,
  result: ComputerResult,
): Promise<void> {
  await db
    .insertInto("computer_test")
    .values({
      id: newId("test"),
      account_id: who.id,
      computer_id: who.computer?.id ?? null,
      computer,
      at: new Date().toISOString(),
      result: JSON.stringify(result),
    })
    .execute();
}

/** The latest tests an account made, or of a computer that is enrolled, newest first. */
export async function listComputerTests({ db }: Store, who: Tester): Promise<ComputerTest[]> {
  let query = db.selectFrom("computer_test").selectAll();
  query = who.computer ? query.where("computer_id", "=", who.computer.id) : query.where("account_id", "=", who.id);
  const rows = await query.orderBy("at", "desc").limit(200).execute();
  return rows.map(({ id, computer, at, result }) => ({
    id,
    computer,
    at,
    result: JSON.parse(result) as ComputerResult,
  }));
}
