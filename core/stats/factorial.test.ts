import { readFileSync } from "node:fs";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import type { Condition } from "./conditions";
import { differences, holm } from "./differences";
import { factorial } from "./factorial";
import type { Values } from "./measures";

type Row = Record<"person" | "group" | "crew" | "side" | "wind" | "rt", string>;
type Factor = "group" | "crew" | "side" | "wind";
const rows = Papa.parse<Row>(readFileSync("tests/support/factorial.csv", "utf8"), {
  header: true,
  skipEmptyLines: true,
}).data;
const levels: Record<Factor, string[]> = {
  group: ["early", "late"],
  crew: ["north", "south"],
  side: ["left", "right", "ahead"],
  wind: ["calm", "gale"],
};

/** Each person’s mean in the conditions of some factors. */
function by(...factors: Factor[]): { values: Values; conditions: Condition[] } {
  const conditions = factors
    .reduce<string[][]>(
      (found, factor) => found.flatMap((each) => levels[factor].map((level) => [...each, level])),
      [[]],
    )
    .map((each) => ({ cell: each.join("·"), levels: each }));
  const found = new Map<string, Map<string, number[]>>();
  for (const row of rows) {
    const own = found.get(row.person) ?? new Map<string, number[]>();
    const cell = factors.map((factor) => row[factor]).join("·");
    found.set(row.person, own.set(cell, [...(own.get(cell) ?? []), Number(row.rt)]));
  }
  const mean = (numbers: number[]) => numbers.reduce((sum, number) => sum + number, 0) / numbers.length;
  return {
    values: new Map(
      [...found].map(([person, own]) => [person, new Map([...own].map(([cell, all]) => [cell, mean(all)]))]),
    ),
    conditions,
  };
}
const near = (value: number) => expect.closeTo(value, 8) as number;

describe("differences are those of R (tests/support/factorial.R)", () => {
  it("within persons, at each level of another factor, after Holm, and over all", () => {
    const { values, conditions } = by("side", "wind");
    const [left, right, ahead, all] = differences(values, conditions, { factor: 1, from: "gale", less: "calm" });
    expect(left).toEqual({
      at: ["left"],
      persons: [13],
      difference: near(26.4407692307692),
      low: near(1.9748187111382),
      high: near(50.9067197504002),
      t: near(2.3546801167625),
      df: 12,
      p: near(0.0364017108464),
      holm: near(0.03640171084642),
      effects: [
        { name: "d_z", value: near(0.6530707614079) },
        { name: "d_av", value: near(0.5352725127121) },
      ],
    });
    expect([right?.holm, ahead?.holm]).toEqual([near(0.02201813427814), near(0.00886343857365)]);
    expect(all).toMatchObject({
      at: [null],
      t: near(5.17562776429),
      p: near(0.000230996487184),
      effects: [{ value: near(1.43546086822) }, { value: near(0.716643254299) }],
    });
    const [turned] = differences(values, conditions, { factor: 1, from: "calm", less: "gale" });
    expect([turned?.difference, turned?.low]).toEqual([near(-26.4407692307692), near(-50.9067197504002)]);
  });
  it("between persons, also where these have several conditions", () => {
    const welch = {
      persons: [8, 5],
      difference: near(-21.75975),
      low: near(-79.992762487384),
      high: near(36.473262487385),
      t: near(-0.871423559895),
      df: near(7.516399112147),
      p: near(0.410491428777),
      effects: [{ name: "d_s", value: near(-0.518094779772) }],
    };
    const alone = by("group");
    const asked = { from: "late", less: "early" };
    expect(differences(alone.values, alone.conditions, { factor: 0, ...asked })).toMatchObject([{ at: [], ...welch }]);
    const both = by("wind", "group");
    const found = differences(both.values, both.conditions, { factor: 1, ...asked });
    expect(found.map(({ at }) => at)).toEqual([["calm"], ["gale"], [null]]);
    expect(found[2]).toMatchObject(welch);
  });
  it("are not told of nobody, of one person, or where nobody differs", () => {
    const conditions = [
      { cell: "x", levels: ["x"] },
      { cell: "y", levels: ["y"] },
    ];
    const of = (...pairs: [number | null, number | null][]) =>
      differences(
        new Map(pairs.map(([x, y], person) => [String(person), new Map([["x", x] as const, ["y", y] as const])])),
        conditions,
        { factor: 0, from: "y", less: "x" },
      );
    expect([of(), of([1, 2]), of([1, 2], [3, 4]), of([1, 2], [2, null])]).toEqual([[], [], [], []]);
    expect(of([1, 2], [3, 5], [4, null])).toMatchObject([{ persons: [2], difference: 1.5 }]);
  });
  it("after Holm never fall below those that are smaller, nor rise above 1", () =>
    expect(holm([0.04, 0.01, 0.6, 0.03])).toEqual([0.09, 0.04, 0.6, 0.09].map(near)));
});

describe("generalised η²", () => {
  it("has the squares of measured factors in what it is a share of (Olejnik & Algina, 2003, formula 11)", () => {
    const { values, conditions } = by("wind", "group");
    const plain = factorial(values, conditions)?.effects ?? [];
    // Its own squares by all errors, for each effect: η² / (1 − η²).
    const ratios = plain.map(({ etaG }) => etaG / (1 - etaG));
    const ofGroup = plain.map(({ factors }) => factors.includes(1));
    const measured = ratios.reduce((sum, ratio, at) => sum + (ofGroup[at] ? ratio : 0), 0);
    const told = factorial(values, conditions, [1])?.effects ?? [];
    expect(told.map(({ etaG }) => etaG)).toEqual(
      ratios.map((ratio, at) => near(ratio / (1 + measured + (ofGroup[at] ? 0 : ratio)))),
    );
    expect(told.map(({ f }) => f)).toEqual(plain.map(({ f }) => f));
  });
});

describe("the analysis of variance is that of R (tests/support/factorial.R)", () => {
  const told = (factors: Factor[]) => {
    const { values, conditions } = by(...factors);
    return Object.fromEntries(
      (factorial(values, conditions)?.effects ?? []).map(
        ({ factors: of, df, dfError, f, p, epsilon, corrected, etaG }) => [
          of.map((factor) => factors[factor]).join(":"),
          [df, dfError, f, p, epsilon ?? 1, corrected ?? p, etaG],
        ],
      ),
    );
  };
  it("within persons", () =>
    expect(told(["side", "wind"])).toEqual({
      side: [2, 24, 7.6903687032, 0.00262499676, 0.8316510373, 0.004882711977, 0.0627629668].map(near),
      wind: [1, 12, 26.7871227544, 0.0002309964872, 1, 0.0002309964872, 0.0996717019].map(near),
      "side:wind": [2, 24, 0.5343848357, 0.5928415842, 0.8011369211, 0.5558034678, 0.0043560603].map(near),
    }));
  it("within persons and between groups of unlike size", () =>
    expect(told(["side", "group", "wind"])).toEqual({
      side: [2, 22, 6.163711439, 0.007491974454, 0.8446250964, 0.01153536082, 0.0587688485].map(near),
      group: [1, 11, 0.8259144641, 0.3829363934, 1, 0.3829363934, 0.0546559969].map(near),
      wind: [1, 11, 93.6198125485, 1.026691475e-6, 1, 1.026691475e-6, 0.1292825652].map(near),
      "side:group": [2, 22, 0.4213940132, 0.6613163844, 0.8446250964, 0.6288645224, 0.0042505685].map(near),
      "side:wind": [2, 22, 0.2686166105, 0.7669073518, 0.820611557, 0.7244495268, 0.0024627082].map(near),
      "group:wind": [1, 11, 23.6234862751, 0.0005023469109, 1, 0.0005023469109, 0.03611312].map(near),
      "side:group:wind": [2, 22, 0.8360175244, 0.4467431912, 0.820611557, 0.4282265912, 0.00762504].map(near),
    }));
  it("between two ways of grouping, whose cells differ in size", () => {
    const found = told(["group", "crew", "wind"]);
    expect(found["group"]?.slice(0, 4)).toEqual([1, 9, 1.6625141867, 0.2294133873].map(near));
    expect(found["group:crew"]?.slice(0, 4)).toEqual([1, 9, 3.9294472078, 0.07876950844].map(near));
    expect(found["group:crew:wind"]?.slice(0, 4)).toEqual([1, 9, 0.0266982753, 0.8738168598].map(near));
  });
  it("takes the persons that have all conditions, and says how many lack some", () => {
    const { values, conditions } = by("wind");
    const lacking = new Map([...values, ["z", new Map([["calm", 400]])]]);
    expect(factorial(lacking, conditions)).toMatchObject({ persons: 13, lacking: 1 });
    expect(factorial(new Map([["z", new Map([["calm", 400]])]]), conditions)).toBeNull();
    const same = new Map(
      ["a", "b"].map((person) => [person, new Map([["calm", 400] as const, ["gale", 410] as const])]),
    );
    expect(factorial(same, conditions)).toBeNull();
  });
});
