import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { plannedAssignment } from "../allocate/allocate";
import { whyNot } from "../describe/why-not";
import type { Condition } from "../values/condition";
import { contextFor } from "../values/context";
import type { SessionRecord } from "../records/record";
import { plainModel, simulateSession } from "../simulate/participant";
import { Onlooker } from "./onlooker";

function watched(...[study, whose, seen]: [...ConstructorParameters<typeof Onlooker>, readonly SessionRecord[]]) {
  const onlooker = new Onlooker(study, whose);
  for (const record of seen) onlooker.see(record);
  return onlooker.tell();
}

const document = withBlock(plainStudy(), (block, study) => {
  study.variables = [{ id: "v", name: "shells", type: "number", start: 2 }];
  block.order.passes = 3;
  block.rules = [
    {
      ...{ id: "add", name: "one more", when: { on: "answer", how: "given" } },
      do: [{ do: "add", what: { variable: "v" }, to: 1 }],
    },
    {
      ...{ id: "slow", name: "", when: { on: "answer", how: "given" } },
      if: { left: { from: { builtIn: "last.rt_ms" } }, is: ">", right: 5000 },
      do: [{ do: "event", name: "slow" }],
    },
  ];
});
const by = { participant: 1, ...plannedAssignment(document, 1), seed: "s" };
const { records } = simulateSession(document, 1, plannedAssignment(document, 1), "s", {
  ...plainModel,
  errors: 0,
  lapses: 0,
});

describe("a session that is looked on at", () => {
  it("tells what values are after its records, and what each rule that was set off did or why it did not", () => {
    const { values, rules } = watched(document, by, records);
    expect(values.find(({ name }) => name === "shells")?.value).toBe("8");
    expect(rules.filter(({ did }) => did !== null).map(({ rule, did }) => `${rule}: ${did}`)).toEqual(
      Array.from({ length: 6 }, () => "one more: add 1 to shells"),
    );
    const [first] = rules.filter(({ did }) => did === null);
    expect(first?.rule).toBe("rule 2");
    expect(first?.trial).toBe(1);
    expect(first?.whyNot).toMatch(/^reaction time of this trial was \d+(\.\d+)?, not more than 5000$/);
  });

  it("tells of as far as it has come", () => {
    const until = records.findIndex(({ kind }) => kind === "trial") + 2;
    const { values, rules } = watched(document, by, records.slice(0, until));
    expect(values.find(({ name }) => name === "shells")?.value).toBe("4");
    expect(rules).toHaveLength(4);
  });

  it("does not stumble over records of something else", () => {
    const other = records.map((record) => ({ ...record, part: "gone" }));
    expect(watched(document, by, other as typeof records).rules).toBeInstanceOf(Array);
  });
});

describe("why a condition does not hold", () => {
  const block = firstBlock(document);
  const context = contextFor({ study: document, group: by.group, participant: 1 }, { variables: { v: 3 } });
  const why = (condition: Condition) => whyNot(condition, context, { document, block });
  const shells = (is: "=" | ">" | "<", right: number): Condition => ({ left: { from: { variable: "v" } }, is, right });
  it.each<[string, Condition, RegExp | ""]>([
    ["nothing where it holds", shells("=", 3), ""],
    ["the comparison with what stood there", shells(">", 5), /^shells was 3, not more than 5$/],
    [
      "the first that fails of all",
      { all: [shells("=", 3), shells("<", 2), shells(">", 9)] },
      /^shells was 3, not less than 2$/,
    ],
    [
      "each of any",
      { any: [shells("<", 2), shells(">", 9)] },
      /^shells was 3, not less than 2; shells was 3, not more than 9$/,
    ],
    ["what is not to be", { not: shells("=", 3) }, /^not so: not \(shells/],
  ])("names %s", (_, condition, says) => {
    if (says === "") expect(why(condition)).toBe("");
    else expect(why(condition)).toMatch(says);
  });
});
