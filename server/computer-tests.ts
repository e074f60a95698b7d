import type { ComputerResult } from "../core/timing/self-test";
import { newId } from "./chance";
import type { Store } from "./database/open";

export type ComputerTest = { id: string; computer: string; at: string; result: ComputerResult };

/** Stores the result of a computer's self-test, with the date. */
export async function keepComputerTest(
  { db }: Store,
  accountId: string,
  computer: string,
  result: ComputerResult,
): Promise<void> {
  await db
    .insertInto("computer_test")
    .values({
      id: newId("test"),
      account_id: accountId,
      computer,
      at: new Date().toISOString(),
      result: JSON.stringify(result),
    })
    .execute();
}

/** The latest tests an account made, newest first. */
export async function listComputerTests({ db }: Store, accountId: string): Promise<ComputerTest[]> {
  const rows = await db
    .selectFrom("computer_test")
    .selectAll()
    .where("account_id", "=", accountId)
    .orderBy("at", "desc")
    .limit(200)
    .execute();
  return rows.map(({ id, computer, at, result }) => ({
    id,
    computer,
    at,
    result: JSON.parse(result) as ComputerResult,
  }));
}
