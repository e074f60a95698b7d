import { workerData } from "node:worker_threads";
import { openedStore } from "../database/open";
import type { WorkerData } from "../results/worker";
import { judgeOn } from "./judgments";

const { folder, address } = workerData as WorkerData;

/** Judges records in a thread of its own: to draw a long plan keeps no one else waiting. */
export default judgeOn(openedStore(folder, address));
