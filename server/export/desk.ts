import { MessageChannel } from "node:worker_threads";
import type { Piscina } from "piscina";
import { threads } from "../threads";
import type { WorkerData } from "../results/worker";
import type { ExportTask } from "./tasks";

const mostWaiting = 20;

/** Makes files in threads of their own, so that sessions being recorded never wait for them. */
export class ExportDesk {
  readonly #pool: Piscina<unknown, void>;

  /** `script` is the built `worker.ts`; it opens the database at the same place. */
  constructor(script: string, where: WorkerData) {
    this.#pool = threads({
      filename: script,
      workerData: where,
      minThreads: 0,
      maxThreads: 2,
      maxQueue: mostWaiting,
      idleTimeout: 60_000,
      resourceLimits: { maxOldGenerationSizeMb: 1024 },
    });
  }

  /** The file as a stream, made as it is read. It breaks off where the making fails. */
  stream(task: ExportTask): ReadableStream<Uint8Array> {
    const { port1, port2 } = new MessageChannel();
    const pool = this.#pool;
    const cancelling = new AbortController();
    let answers = 0;
    return new ReadableStream<Uint8Array>(
      {
        start(controller) {
          port1.on("message", (piece: Uint8Array | null) => {
            if (piece === null) {
              port1.close();
              return controller.close();
            }
            controller.enqueue(piece);
            answers++;
          });
          pool
            .run({ task, port: port2 }, { transferList: [port2], signal: cancelling.signal })
            .catch((error: unknown) => {
              port1.close();
              if (cancelling.signal.aborted) return;
              console.error(error);
              controller.error(error);
            });
        },
        pull() {
          // Only what was read is answered to.
          for (; answers > 0; answers--) port1.postMessage("more");
        },
        cancel() {
          port1.close();
          cancelling.abort();
        },
      },
      { highWaterMark: 4 },
    );
  }

  /** Whether another file can be asked for now. */
  get hasRoom(): boolean {
    return this.#pool.queueSize < mostWaiting;
  }

  close(): Promise<void> {
    return this.#pool.destroy();
  }
}
