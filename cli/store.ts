import { resolve } from "node:path";
import { openStore, type Store } from "../server/database/open";
import { findStudyByCode, type Study } from "../server/studies";
import { Plain } from "./arguments";

/** Does something with the data that the environment names, and closes them again. */
export async function withStore<T>(work: (store: Store) => Promise<T>): Promise<T> {
  const opened = await openStore(
    resolve(process.env.LAPWING_DATA ?? "lapwing-data"),
    process.env.LAPWING_DATABASE || undefined,
  );
  if (!opened.ok) throw new Plain(opened.reason);
  try {
    return await work(opened.store);
  } finally {
    await opened.store.close();
  }
}

/** A study by its code. */
export async function studyCalled(store: Store, code: string | undefined): Promise<Study> {
  if (!code) throw new Plain("Name the study by its code, such as amber-quay.");
  const found = await findStudyByCode(store, code);
  if (!found) throw new Plain(`There is no study ${code} in this database.`);
  return found;
}
