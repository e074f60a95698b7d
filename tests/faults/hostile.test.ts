import { expect, it } from "vitest";
import { quantile } from "~/core/timing/report";
import { hostile } from "../load/hostile";

/** Short; `tests/bench/hostile.test.ts` is the long one. The seed is printed. */
const seed = Number(process.env.LAPWING_SEED ?? Date.now() % 1_000_000);

it("a server that is attacked in every way we know answers each of them plainly, and loses nothing of those who take part", async () => {
  const { report, acknowledgedMs, slow, ...found } = await hostile({ attacks: 390, participants: 20, every: 1, seed });
  console.log(report);
  if (slow.length > 0) console.log(`longer than 2 s: ${slow.join("; ")}`);
  expect(found).toEqual({ died: false, broken: [], lost: 0, exportFailed: null });
  expect(
    quantile(
      acknowledgedMs.toSorted((a, b) => a - b),
      0.5,
    ),
  ).toBeGreaterThan(0);
});
