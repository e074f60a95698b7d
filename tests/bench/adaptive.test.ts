import { writeSync } from "node:fs";
import { expect, it } from "vitest";
import { newAdaptive } from "~/core/adaptive/new";
import { adaptiveKind } from "~/core/adaptive/registry";
import type { Adaptive } from "~/core/adaptive/specs";
import { observedBy } from "~/core/simulate/observer";

const at = (sorted: readonly number[], share: number) => sorted[Math.floor(share * (sorted.length - 1))] ?? 0;

/** How long it takes to work out the next value after each of a hundred trials, in ms, over some observers. */
function nexts(spec: Adaptive): number[] {
  const kind = adaptiveKind(spec);
  const took: number[] = [];
  for (let observer = 0; observer < 20; observer++) {
    // Each session works everything out for itself.
    const by = { ...spec };
    const answered = observedBy(by, 0.4, `observer ${observer}`, 100);
    for (let count = 0; count < answered.length; count++) {
      const before = performance.now();
      kind.isDone(by, answered.slice(0, count));
      kind.next(by, answered.slice(0, count));
      took.push(performance.now() - before);
    }
  }
  return took.sort((a, b) => a - b);
}

it("settles the next value between trials", () => {
  const staircase = newAdaptive("staircase", 1, 100);
  const bayesian = newAdaptive("bayesian", 1, 100);
  const cases: [string, Adaptive][] = [
    ["staircase", { ...staircase, endReversals: 200 } as Adaptive],
    ...(["mode", "mean", "entropy"] as const).map((next): [string, Adaptive] => [
      `Bayesian, ${next}`,
      { ...bayesian, next, endTrials: 100, endError: 1e-6 } as Adaptive,
    ]),
  ];
  writeSync(1, "| the next value | median | 95 % | 99 % | most |\n|---|---|---|---|---|\n");
  for (const [name, by] of cases) {
    const took = nexts(by);
    writeSync(
      1,
      `| ${name} | ${[0.5, 0.95, 0.99, 1].map((share) => `${at(took, share).toFixed(3)} ms`).join(" | ")} |\n`,
    );
    // It is worked out while nothing is shown: no longer than two frames.
    expect(at(took, 0.5)).toBeLessThan(33);
  }
});
