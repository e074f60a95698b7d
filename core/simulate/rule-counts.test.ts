import { expect, it } from "vitest";
import { countedIds, firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { studyFrom } from "../design/starters/starter";
import { threshold } from "../design/starters/threshold";
import { newCriterion } from "../rules/criterion";
import { reacts, ruleCountsInWords, simulatedRuleCounts } from "./rule-counts";

it("tells how often rules do something, how many attempts practice takes, and how long sessions are", () => {
  const document = withBlock(plainStudy(), (block) => {
    block.table.rows.forEach((row) => (row.copies = 10));
    block.rules = [
      { id: "always", name: "", when: { on: "answer", how: "given" }, do: [{ do: "event", name: "seen" }] },
      {
        id: "never",
        name: "",
        when: { on: "trial-ends" },
        if: { left: 1, is: "=", right: 2 },
        do: [{ do: "end-trial" }],
      },
    ];
    block.criterion = { ...newCriterion, looked: "pass-end", over: "all", trials: 20, rightShare: 1, attempts: 2 };
  });
  expect(reacts(plainStudy())).toBe(false);
  expect(reacts(document)).toBe(true);
  const numbers = Array.from({ length: 60 }, (_, index) => index + 1);
  const found = simulatedRuleCounts(document, numbers);
  expect(found.rules.map(({ sessions }) => sessions)).toEqual([60, 0]);
  const [practice] = found.attempts;
  // With 5 % missed or wrong about a third get all of twenty right at once.
  expect(practice?.sessions[0]).toBeGreaterThan(8);
  expect(practice?.sessions[0]).toBeLessThan(40);
  expect((practice?.sessions[0] ?? 0) + (practice?.sessions[1] ?? 0)).toBe(60);
  expect(found.minutes.low).toBeLessThan(found.minutes.high);
  const told = ruleCountsInWords(found);
  expect(told[1]).toMatch(new RegExp(`^“${firstBlock(document).name}” was played once by \\d+, twice by \\d+ of 60`));
  expect(told.at(-1)).toBe("Rule 2 of block “Block 1” never did anything.");
});

it("tells what values that follow the answers came to, and how many trials that took", () => {
  const document = studyFrom(threshold, countedIds(), "Lamps", "AB12");
  expect(reacts(document)).toBe(true);
  const found = simulatedRuleCounts(
    document,
    Array.from({ length: 30 }, (_, index) => index + 1),
  );
  const [brightness] = found.values;
  expect(brightness!.low).toBeGreaterThanOrEqual(1);
  expect(brightness!.low).toBeLessThan(brightness!.median);
  expect(brightness!.median).toBeLessThan(brightness!.high);
  expect(brightness!.high).toBeLessThan(60);
  expect(found.trials[0]!.most).toBeLessThanOrEqual(80);
  const told = ruleCountsInWords(found);
  expect(told[1]).toMatch(/^“Lamps” had \d+ trials in the middle session, \d+ at most\.$/);
  expect(told[2]).toMatch(/^Brightness of “Lamps” ended at [\d.]+ in the middle session, 5 % below/);
});
