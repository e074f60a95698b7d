import { expect, it } from "vitest";
import { faults } from "../load/faults";

/** Fifty kills of the server, fifty cuts of the network, fifty pages loaded anew or crashed, during sessions in a browser. */
it("faults", async () => {
  const { report, ...found } = await faults({
    kill: Number(process.env.LAPWING_KILLS ?? 50),
    cut: Number(process.env.LAPWING_CUTS ?? 50),
    reload: Number(process.env.LAPWING_RELOADS ?? 30),
    crash: Number(process.env.LAPWING_CRASHES ?? 20),
    windows: 3,
    seed: Number(process.env.LAPWING_SEED ?? Date.now() % 1_000_000),
  });
  console.log(report);
  expect(found).toMatchObject({ missing: [], doubled: [], differing: [], unfinished: [] });
});
