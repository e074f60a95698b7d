import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, it, vi } from "vitest";
import { threads } from "./threads";

const folder = mkdtempSync(join(tmpdir(), "lapwing-threads-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

it("ends what a thread was doing that cannot be started or takes too much memory, and nothing else", async () => {
  const said = vi.spyOn(console, "error").mockImplementation(() => undefined);
  const script = (name: string, text: string) => {
    writeFileSync(join(folder, name), text);
    return join(folder, name);
  };
  const broken = threads<null, null>({ filename: script("broken.mjs", "throw new Error('no such folder');") });
  await expect(broken.run(null)).rejects.toThrow();
  const greedy = threads<null, number>({
    filename: script(
      "greedy.mjs",
      "export default () => { const all = []; for (;;) all.push({ all: 'x'.repeat(9) + all.length }); };",
    ),
    resourceLimits: { maxOldGenerationSizeMb: 32 },
  });
  await expect(greedy.run(null)).rejects.toThrow(/memory/);
  expect(said).toHaveBeenCalled();
  await Promise.all([broken.destroy(), greedy.destroy()]);
  said.mockRestore();
});
