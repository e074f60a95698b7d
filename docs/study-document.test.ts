import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { preflight } from "../core/check/preflight";
import { parseStudyText } from "../core/design/parse";
import { plainModel, simulateSession } from "../core/simulate/participant";

it("the example in the format's description is read, has nothing to mend, and plays", () => {
  const example = /```json\n([\s\S]*?)```/.exec(readFileSync("docs/study-document.md", "utf8"))?.[1] ?? "";
  const parsed = parseStudyText(example);
  if (!parsed.ok) throw new Error(parsed.mistakes.join("\n"));
  expect(preflight(parsed.document)).toEqual([]);
  for (const group of ["g1", "g2"]) {
    const { records, finished } = simulateSession(parsed.document, 1, { group, orders: {} }, "4F2A", {
      ...plainModel,
      errors: 0,
      lapses: 0,
    });
    expect(finished).toBe(true);
    const trials = records.flatMap((record) => (record.kind === "trial" ? [record] : []));
    expect(trials).toHaveLength(16);
    const key = { g1: "f", g2: "j" }[group];
    expect(
      trials
        .filter(({ row }) => row === "r1")
        .every(({ answers: [first] }) => first?.given?.value === key && first?.right),
    ).toBe(true);
  }
});
