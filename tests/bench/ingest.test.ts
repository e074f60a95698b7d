import { expect, it } from "vitest";
import { ingest } from "../load/ingest";

/** A thousand participants for five minutes, the server killed twice: how long an acknowledgement takes, and that nothing is lost. */
it("ingest", async () => {
  const { report, lost, doubled, differing } = await ingest({
    participants: Number(process.env.LAPWING_PARTICIPANTS ?? 1000),
    seconds: Number(process.env.LAPWING_SECONDS ?? 300),
    every: 1.5,
    kills: Number(process.env.LAPWING_KILLS ?? 2),
    picturesPerSecond: 40,
    seed: Number(process.env.LAPWING_SEED ?? Date.now() % 1_000_000),
  });
  console.log(report);
  expect({ lost, doubled, differing }).toEqual({ lost: 0, doubled: 0, differing: 0 });
});
