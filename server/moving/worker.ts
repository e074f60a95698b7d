import { workerData } from "node:worker_threads";
import { standBack } from "../background-thread";
import { openedStore } from "../database/open";
import type { WorkerData } from "../results/worker";
import { takeInFile, type Asked, type TakenIn } from "./take-in";

standBack();
const { folder, address } = workerData as WorkerData;
const store = openedStore(folder, address);

/** Says what taking in the file at a path does, or does it. */
export default ({ path, asked }: { path: string; asked: Asked }): Promise<TakenIn> => takeInFile(store, path, asked);
