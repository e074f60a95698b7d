import { mkdir, readFile, rename, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { bridgeDevice, type BridgeDevice } from "../core/bridge/messages";
import { list, object } from "../core/shape/compound";
import { text } from "../core/shape/plain";
import { hasShape, nullable, type Of } from "../core/shape/shape";

const keptShape = object({
  /** The installation that is paired: where its pages come from, and the SHA-256 of its secret. */
  installation: nullable(object({ origin: text({ most: 300 }), hash: text({ most: 64 }) })),
  devices: list(bridgeDevice, 0, 40),
});
/** What a bridge keeps on its computer. */
export type Kept = Of<typeof keptShape>;

const fileIn = (folder: string) => join(folder, "bridge.json");

/** What the bridge of this folder has kept; nothing where there is no file, or one that cannot be read. */
export async function readKept(folder: string): Promise<Kept> {
  const nothing: Kept = { installation: null, devices: [] satisfies BridgeDevice[] };
  try {
    const read: unknown = JSON.parse(await readFile(fileIn(folder), "utf8"));
    return hasShape(keptShape, read) ? read : nothing;
  } catch {
    return nothing;
  }
}

/** Keeps it in the place of what was kept. */
export async function writeKept(folder: string, kept: Kept): Promise<void> {
  await mkdir(folder, { recursive: true });
  const next = `${fileIn(folder)}.next`;
  await writeFile(next, JSON.stringify(kept, null, 1), { mode: 0o600 });
  await rename(next, fileIn(folder));
}
