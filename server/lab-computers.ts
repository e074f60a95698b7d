import { hash, verify } from "@node-rs/argon2";
import { mostKey } from "../core/shape/password";
import type { ComputerResult } from "../core/timing/self-test";
import { newId, newSecret, secretHash } from "./chance";
import type { Store } from "./database/open";
import { PaceKeeper } from "./pace";
import { noteDeed } from "./study-log";

/** A computer of a laboratory: it starts sessions of chosen studies, and needs nobody's password for it. */
export type LabComputer = { id: string; name: string; accountId: string; isLocked: boolean; studies: string[] };
export type ListedComputer = {
  id: string;
  name: string;
  since: string;
  seenAt: string;
  /** When its last self-test was, and what it found; null where there was none. */
  tested: { at: string; verdict: string } | null;
};

const minute = 60_000;
/** The key is short, so that it is tried slowly: for one computer so many times at once, and then one each half minute. */
const tries = new PaceKeeper({ burst: 6, perSecond: 1 / 30 });

type OfStudy = { id: string; code: string };

/** Enrols a computer for studies; gives the secret its browser keeps. */
export async function enrol(
  { db }: Store,
  studies: readonly OfStudy[],
  { name, key, account, by }: { name: string; key: string; account: string; by: string },
): Promise<string> {
  const [id, secret, at] = [newId("computer"), newSecret(), new Date().toISOString()];
  const key_hash = await hash(key);
  await db.transaction().execute(async (trx) => {
    await trx
      .insertInto("lab_computer")
      .values({
        ...{ id, name, key_hash, account_id: account, is_locked: 0, since: at, seen_at: at },
        token_hash: secretHash(secret),
      })
      .execute();
    for (const study of studies) {
      await trx.insertInto("lab_computer_study").values({ computer_id: id, study_id: study.id }).execute();
      const what = `The laboratory’s computer “${name}” may start sessions.`;
      await noteDeed(trx, { code: study.code, by, what, kind: "rights" });
    }
  });
  return secret;
}

/** The computer a browser's secret belongs to; null for anything else. */
export async function computerOfSecret({ db }: Store, secret: string): Promise<LabComputer | null> {
  const row = await db
    .selectFrom("lab_computer")
    .selectAll()
    .where("token_hash", "=", secretHash(secret))
    .executeTakeFirst();
  if (!row) return null;
  const now = new Date();
  if (Date.parse(row.seen_at) < now.getTime() - minute)
    await db.updateTable("lab_computer").set({ seen_at: now.toISOString() }).where("id", "=", row.id).execute();
  const studies = await db
    .selectFrom("lab_computer_study")
    .select("study_id")
    .where("computer_id", "=", row.id)
    .execute();
  return {
    ...{ id: row.id, name: row.name, accountId: row.account_id, isLocked: row.is_locked === 1 },
    studies: studies.map(({ study_id }) => study_id),
  };
}

/** Opens a computer's list again, with the assistant's key; gives why not. */
export async function openList({ db }: Store, computer: Pick<LabComputer, "id">, key: string): Promise<string | null> {
  if (!tries.allows(computer.id, performance.now()))
    return "That was tried too often. Wait half a minute, then type the key again.";
  const row = await db.selectFrom("lab_computer").select("key_hash").where("id", "=", computer.id).executeTakeFirst();
  if (!row || !(await verify(row.key_hash, key.slice(0, mostKey)).catch(() => false)))
    return "This is not the key of this computer.";
  tries.giveBack(computer.id, 1);
  await db.updateTable("lab_computer").set({ is_locked: 0 }).where("id", "=", computer.id).execute();
  return null;
}

/** Closes a computer's list until the key is given. */
export async function lockList({ db }: Store, computer: Pick<LabComputer, "id">): Promise<void> {
  await db.updateTable("lab_computer").set({ is_locked: 1 }).where("id", "=", computer.id).execute();
}

/** The computers that may start sessions of a study, by name. */
export async function computersOf({ db }: Store, studyId: string): Promise<ListedComputer[]> {
  const rows = await db
    .selectFrom("lab_computer")
    .innerJoin("lab_computer_study", "lab_computer_study.computer_id", "lab_computer.id")
    .selectAll("lab_computer")
    .where("study_id", "=", studyId)
    .orderBy("name")
    .execute();
  return Promise.all(
    rows.map(async ({ id, name, since, seen_at }) => ({
      ...{ id, name, since, seenAt: seen_at },
      tested: await lastTest(db, id),
    })),
  );
}

/** The last self-test of a computer that is enrolled. */
export async function lastTest(db: Store["db"], computerId: string): Promise<ListedComputer["tested"]> {
  const row = await db
    .selectFrom("computer_test")
    .select(["at", "result"])
    .where("computer_id", "=", computerId)
    .orderBy("at", "desc")
    .limit(1)
    .executeTakeFirst();
  if (!row) return null;
  return { at: row.at, verdict: (JSON.parse(row.result) as ComputerResult).verdict[0] ?? "" };
}

/** Ends that a computer may start sessions of a study; where that was its last, it is no laboratory's computer any longer. */
export async function dismiss(store: Store, study: OfStudy, computerId: string, by: string): Promise<string | null> {
  return store.db.transaction().execute(async (trx) => {
    const computer = await trx
      .selectFrom("lab_computer")
      .innerJoin("lab_computer_study", "lab_computer_study.computer_id", "lab_computer.id")
      .select("name")
      .where("lab_computer.id", "=", computerId)
      .where("study_id", "=", study.id)
      .executeTakeFirst();
    if (!computer) return "There is no such computer.";
    await trx
      .deleteFrom("lab_computer_study")
      .where("computer_id", "=", computerId)
      .where("study_id", "=", study.id)
      .execute();
    const left = await trx
      .selectFrom("lab_computer_study")
      .select("study_id")
      .where("computer_id", "=", computerId)
      .executeTakeFirst();
    // Its name stays, for the data that were collected on it; its secret opens nothing any longer.
    if (!left)
      await trx
        .updateTable("lab_computer")
        .set({ token_hash: secretHash(newSecret()), key_hash: "" })
        .where("id", "=", computerId)
        .execute();
    const what = `The laboratory’s computer “${computer.name}” may no longer start sessions.`;
    await noteDeed(trx, { code: study.code, by, what, kind: "rights" });
    return null;
  });
}
