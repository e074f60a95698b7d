import { expect, it } from "vitest";
import { countedIds } from "~/tests/support/studies";
import { hasErrors, preflight } from "../../check/preflight";
import { shownTable } from "../../export/tables/table";
import { trialColumns, trialSource } from "../../export/tables/trials";
import { plainModel, simulateSession } from "../../simulate/participant";
import { hasFollowing } from "../lookup";
import { parseStudy } from "../parse";
import { starters } from "./registry";
import { studyFrom } from "./starter";

it.each(starters.map((starter) => [starter.title, starter] as const))(
  "%s is complete: nothing to mend, plays to its end, and its data come out",
  (title, starter) => {
    const document = studyFrom(starter, countedIds(), title, "AB12");
    expect(parseStudy(JSON.parse(JSON.stringify(document)))).toEqual({ ok: true, document });
    expect(preflight(document).filter(({ level }) => level !== "note")).toEqual([]);
    expect(hasErrors(preflight(document))).toBe(false);
    const group = document.groups[0]!.id;
    const { finished, records } = simulateSession(document, 1, { group, orders: {} }, "AB12", {
      ...plainModel,
      errors: 0,
      lapses: 0,
    });
    expect(finished).toBe(true);
    const trials = records.flatMap((record) => (record.kind === "trial" ? [record] : []));
    expect(trials.length).toBeGreaterThanOrEqual(6);
    const facts = {
      study: "a-b",
      release: 1,
      wave: "",
      session: "s",
      participant: 1,
      sitting: 1,
      group,
      orders: {},
      pilot: false,
      state: "finished",
      isExcluded: false,
    } as const;
    // Trials that are only looked at ask nothing.
    const asked = trials.filter(({ answers }) => answers.length > 0);
    const sources = asked.map((trial) => trialSource(document, facts, trial, 1));
    const { header, rows } = shownTable(trialColumns([document]), sources);
    const answers = rows.map((row) => row[header.indexOf("answer")]);
    expect(answers.every((answer) => answer !== null)).toBe(true);
    // Where values follow the answers, simulated participants come to their limits.
    expect(trials.some(({ answers: [first] }) => first?.right === false)).toBe(hasFollowing(document));
  },
);

it("eight designs are offered, each saying what it measures", () => {
  expect(starters.map(({ measures }) => measures.split(":")[0])).toEqual([
    "Choice between two",
    "Go or wait",
    "Search among others",
    "Remember a list",
    "Memory",
    "Judge on a scale",
    "A threshold",
    "Follow a moving thing",
  ]);
});
