import { writeSync } from "node:fs";
import { expect, it } from "vitest";
import { compile } from "~/core/compile/compile";
import type { Rule } from "~/core/rules/rule";
import { sessionMachine } from "~/core/run/session-machine";
import type { SessionEvent } from "~/core/run/state";
import type { StudyDocument } from "~/core/design/document";
import { plainStudy, withBlock } from "../support/studies";

const rulesOn = (count: number): StudyDocument =>
  withBlock(plainStudy(), (block, document) => {
    document.runningOrder = [{ kind: "part", part: block.id }];
    document.variables = [{ id: "v", name: "sum", type: "number", start: 0 }];
    block.table.rows.forEach((row) => (row.copies = 500));
    block.rules = Array.from({ length: count }, (_, index): Rule => ({
      id: `rule-${index}`,
      name: "",
      when: index % 2 === 0 ? { on: "answer", how: "given" } : { on: "scene-begins" },
      if: {
        all: [
          { left: { from: { builtIn: "last.right" } }, is: index % 4 === 0 ? "=" : "≠", right: true },
          { left: { from: { builtIn: "block.median_rt_ms" } }, is: "≥", right: 0 },
        ],
      },
      do: [{ do: "add", what: { variable: "v" }, to: 1 }],
    }));
  });

/** How long each step takes over a block of 1,000 trials, in ms. */
function steps(document: StudyDocument): number[] {
  const machine = sessionMachine(document, compile(document, 1, "s", document.groups[0]!.id));
  let { state } = machine.begin();
  const took: number[] = [];
  const send = (event: SessionEvent) => {
    const before = performance.now();
    state = machine.next(state, event).state;
    took.push(performance.now() - before);
  };
  for (let at = 0; state.phase.kind === "trial"; at += 1000) {
    send({ kind: "flip", at, late: 0 });
    send({ kind: "flip", at: at + 500, late: 0 });
    send({ kind: "input", at: at + 800, input: { device: "keys", value: "f", act: "press" } });
    send({ kind: "flip", at: at + 816, late: 0 });
  }
  return took.sort((a, b) => a - b);
}
const at = (sorted: readonly number[], share: number) => sorted[Math.floor(share * (sorted.length - 1))] ?? 0;

it("costs little per step, however many rules there are", () => {
  steps(rulesOn(0));
  const lines = [0, 30, 100].map((count) => {
    const took = steps(rulesOn(count));
    return { count, median: at(took, 0.5), upper: at(took, 0.95), late: at(took, 0.99), most: at(took, 1) };
  });
  writeSync(1, "| rules on the block | median | 95 % | 99 % | most |\n|---|---|---|---|---|\n");
  for (const { count, median, upper, late, most } of lines)
    writeSync(1, `| ${count} | ${[median, upper, late, most].map((ms) => `${ms.toFixed(3)} ms`).join(" | ")} |\n`);
  expect(lines.at(-1)?.median).toBeLessThan(0.2);
});
