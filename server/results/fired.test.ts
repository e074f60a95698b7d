import { expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { plainStudy, withBlock } from "~/tests/support/studies";
import { plainModel, simulateSession } from "../../core/simulate/participant";
import { appendRecords } from "../records";
import { startRehearsal } from "../rehearsals";
import { lastFired } from "./fired";

it("tells in how many trials of the last rehearsal each rule did something", async () => {
  const ruled = withBlock(plainStudy(), (block) => {
    block.table.rows.forEach((row) => (row.copies = 150));
    block.rules = [
      { id: "each", name: "", when: { on: "trial-begins" }, do: [{ do: "event", name: "seen" }] },
      {
        id: "third",
        name: "",
        when: { on: "trial-ends" },
        if: {
          left: { calculate: "remainder", of: [{ from: { builtIn: "block.trials_done" } }, 3] },
          is: "=",
          right: 0,
        },
        do: [{ do: "event", name: "third" }],
      },
      { id: "never", name: "", when: { on: "answer", how: "early" }, do: [{ do: "event", name: "no" }] },
    ];
  });
  const { store, study } = await released(ruled);
  expect(await lastFired(store, study)).toBeNull();
  const { secret, session } = await startRehearsal(store, study, { participant: 1 }, "b");
  const { group, orders, participant, seed } = session;
  const { records } = simulateSession(ruled, participant, { group, orders }, seed, plainModel);
  for (let from = 0; from < records.length; from += 100)
    await appendRecords(store, secret, records.slice(from, from + 100));
  // More than are read at once.
  expect(await lastFired(store, study)).toEqual({
    fired: { each: { trials: 300, of: 300 }, third: { trials: 100, of: 300 } },
  });
  expect(await lastFired(store, { ...study, document: plainStudy() })).toBeNull();
});
