import { join } from "node:path";
import { workerData } from "node:worker_threads";
import { standBack } from "../background-thread";
import { mediaInFolder } from "../media/keeper";
import { workshopHere, type Task } from "./workshop";

standBack();
const { folder } = workerData as { folder: string };
const workshop = workshopHere(mediaInFolder(join(folder, "media")));

/** Carries out one task of the workshop. */
export default ({ task, about }: { task: Task; about: string }): Promise<unknown> => workshop[task](about);
