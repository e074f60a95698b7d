import { workerData } from "node:worker_threads";
import { standBack } from "../background-thread";
import { openedStore } from "../database/open";
import { findStudyByCode } from "../studies";
import { answered, type Answered } from "./registry";

/** Where a worker finds the data. */
export type WorkerData = { folder: string; address: string | undefined };
/** A question about a study's data, as an address asks it. */
export type Asked = { code: string; query: string };

standBack();
const { folder, address } = workerData as WorkerData;
const store = openedStore(folder, address);

/** Answers one question; null where the study is gone. */
export default async function answer({ code, query }: Asked): Promise<Answered | null> {
  const study = await findStudyByCode(store, code);
  return study && answered(store, study, new URLSearchParams(query));
}
