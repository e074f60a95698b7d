import { expect, it } from "vitest";
import { faults } from "../load/faults";
import { ingest } from "../load/ingest";

// Short versions of the benches of the same names, whose seeds are printed: nothing may be lost or doubled, whatever happens.
const seed = Number(process.env.LAPWING_SEED ?? Date.now() % 1_000_000);

it("sessions in a browser survive kills of the server, cuts of the network, reloads and crashes", async () => {
  const { report, ...found } = await faults({ kill: 3, cut: 3, reload: 3, crash: 2, windows: 2, seed });
  console.log(report);
  expect(found).toMatchObject({ missing: [], doubled: [], differing: [], unfinished: [] });
  // Eleven faults, each waited for until the session goes on: 40 s here, several times that on a machine others use.
}, 400_000);

it("a hundred participants lose nothing when the server is killed under them", async () => {
  const { report, lost, doubled, differing } = await ingest({
    participants: 100,
    seconds: 12,
    every: 1.5,
    kills: 2,
    picturesPerSecond: 20,
    seed,
  });
  console.log(report);
  expect({ lost, doubled, differing }).toEqual({ lost: 0, doubled: 0, differing: 0 });
});
