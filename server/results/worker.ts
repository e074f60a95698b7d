import { workerData } from "node:worker_threads";
import { standBack } from "../background-thread";
import { openedStore } from "../database/open";
import { DataReader, type Sitting } from "../export/reader";
import { findStudyByCode, findStudyById } from "../studies";
import { gather } from "../tidy/gather";
import { answered, type Answered } from "./registry";

/** Where a worker finds the data. */
export type WorkerData = { folder: string; address: string | undefined };
/** A question about a study's data, as an address asks it, or a study whose rows are to be made. */
export type Asked = { code: string; query: string } | { gather: string };

standBack();
const { folder, address } = workerData as WorkerData;
const store = openedStore(folder, address);

/** Answers one question; null where the study is gone, or where nothing was asked. */
export default async function answer(asked: Asked): Promise<Answered | null> {
  if ("gather" in asked) {
    const study = await findStudyById(store, asked.gather);
    // Those that go on would be made again and again.
    const hasEnded = ({ row }: Sitting) => row.state !== "active";
    if (study) await gather(store, await DataReader.open(store, study, { pilots: false }), hasEnded);
    return null;
  }
  const study = await findStudyByCode(store, asked.code);
  return study && answered(store, study, new URLSearchParams(asked.query));
}
