import { workerData, type MessagePort } from "node:worker_threads";
import { standBack } from "../background-thread";
import { openedStore } from "../database/open";
import type { WorkerData } from "../results/worker";
import { piecesOf, type ExportTask } from "./tasks";
import { bytesOf } from "./written";

standBack();
const { folder, address } = workerData as WorkerData;
const store = openedStore(folder, address);

/** Pieces that may be on their way: whoever reads slowly slows the making. */
const mostUnderWay = 8;
/** Smaller pieces go together. */
const leastBytes = 64 * 1024;

/** Makes a file and sends it piece by piece through the port, which answers to each; null is its end. */
export default async function make({ task, port }: { task: ExportTask; port: MessagePort }): Promise<void> {
  let underWay = 0;
  let isClosed = false;
  let wake: () => void = () => undefined;
  port.on("message", () => {
    underWay--;
    wake();
  });
  port.on("close", () => {
    isClosed = true;
    wake();
  });
  let waiting: Uint8Array[] = [];
  let length = 0;
  const send = async () => {
    const whole = new Uint8Array(length);
    let at = 0;
    for (const piece of waiting) {
      whole.set(piece, at);
      at += piece.length;
    }
    [waiting, length] = [[], 0];
    if (whole.length === 0) return;
    port.postMessage(whole, [whole.buffer]);
    underWay++;
    while (underWay >= mostUnderWay && !isClosed) await new Promise<void>((resolve) => (wake = resolve));
  };
  for await (const piece of piecesOf(store, task)) {
    if (isClosed) return;
    const bytes = bytesOf(piece);
    waiting.push(bytes);
    length += bytes.length;
    if (length >= leastBytes) await send();
  }
  await send();
  if (!isClosed) port.postMessage(null);
  port.close();
}
