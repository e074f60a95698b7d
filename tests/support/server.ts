import { spawn, type ChildProcess } from "node:child_process";
import { cpSync, mkdtempSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";

export type Running = {
  address: string;
  folder: string;
  port: number;
  process: ChildProcess;
  stop: (signal?: NodeJS.Signals) => Promise<number | null>;
};

export const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, () => {
      const address = probe.address();
      probe.close(() => resolve(typeof address === "object" && address ? address.port : 0));
    });
  });

/** Starts the built server on a free port and waits for its ready line. */
export async function startServer(
  options: {
    demo?: boolean;
    folder?: string;
    port?: number;
    database?: string | undefined;
    env?: Record<string, string>;
  } = {},
): Promise<Running> {
  const folder = options.folder ?? mkdtempSync(join(tmpdir(), "lapwing-e2e-"));
  const template = process.env.LAPWING_DEMO_TEMPLATE;
  if (options.demo && !options.folder && template) cpSync(template, folder, { recursive: true });
  const port = options.port ?? (await freePort());
  const started = spawn("node", ["build/node/start.js", ...(options.demo ? ["--demo"] : [])], {
    env: {
      ...process.env,
      NODE_ENV: "production",
      PORT: String(port),
      LAPWING_DATA: folder,
      LAPWING_DATABASE: options.database ?? "",
      ...options.env,
    },
  });
  const ended = new Promise<number | null>((resolve) => started.once("exit", resolve));
  await new Promise<void>((resolve, reject) => {
    let out = "";
    const read = (chunk: Buffer) => {
      out += chunk.toString();
      if (/^ready at /m.test(out)) resolve();
    };
    started.stdout.on("data", read);
    started.stderr.on("data", read);
    void ended.then((code) => reject(new Error(`The server ended with ${code}: ${out}`)));
  });
  return {
    address: `http://localhost:${port}`,
    folder,
    port,
    process: started,
    /** Ends it; the folder goes too, unless it was killed and may be started again. */
    stop: async (signal = "SIGTERM") => {
      started.kill(signal);
      const code = await ended;
      if (signal !== "SIGKILL") rmSync(folder, { recursive: true, force: true });
      return code;
    },
  };
}
