import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { startServer } from "./server";

/** Makes the demo data once for all end-to-end tests; each server that wants them gets a copy of its own. */
export default async function setup(): Promise<() => void> {
  const folder = mkdtempSync(join(tmpdir(), "lapwing-demo-"));
  const server = await startServer({ demo: true, folder });
  server.process.kill("SIGTERM");
  await new Promise((resolve) => server.process.once("exit", resolve));
  process.env.LAPWING_DEMO_TEMPLATE = folder;
  return () => rmSync(folder, { recursive: true, force: true });
}
