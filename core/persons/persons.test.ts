import { describe, expect, it } from "vitest";
import type { Cell } from "../values/data-column";
import { normsFromCsv } from "./from-csv";
import { bandInWords, norm as normShape, type Norm } from "./norm";
import { standingIn } from "./standing";
import { splitHalf, trialScoreInWords } from "./trial-score";

const norm = (more: Partial<Norm>): Norm => ({
  ...{ score: "cost", name: "Harbour sample", source: "made up", year: 2024, better: "higher" },
  ...{ reliability: null, interval: "obtained", bands: [] },
  ...more,
});
const nobody = () => null;
const person = (cells: Record<string, Cell>) => (column: string) => cells[column] ?? null;
const moments = (mean: number, sd: number, isNormal = true) => ({ kind: "moments" as const, mean, sd, isNormal });
const everybody = (values: Norm["bands"][number]["values"]) => [{ n: 100, where: [], values }];

describe("a score against a norm sample", () => {
  it("stands by mean and standard deviation, with a percentile only where normality is stated", () => {
    // R: pnorm(1) * 100 = 84.13447
    const standing = standingIn(norm({ bands: everybody(moments(100, 15)) }), 115, nobody);
    expect(standing).toMatchObject({ z: 1, t: 60, stanine: 7, band: "everybody" });
    expect(standing.percentile).toBeCloseTo(84.13447460685, 9);
    const unstated = standingIn(norm({ bands: everybody(moments(100, 15, false)) }), 115, nobody);
    expect(unstated).toMatchObject({ z: 1, t: 60, percentile: null, stanine: null });
    const lower = standingIn(norm({ better: "lower", bands: everybody(moments(100, 15)) }), 115, nobody);
    expect(lower).toMatchObject({ z: -1, t: 40, stanine: 3 });
    expect(lower.percentile).toBeCloseTo(15.86552539315, 9);
  });

  it("stands by a published table, between its lines in proportion, and beyond it nowhere", () => {
    const table = norm({
      bands: everybody({
        kind: "table",
        steps: [
          { raw: 10, percentile: 5 },
          { raw: 20, percentile: 50 },
          { raw: 30, percentile: 97.5 },
        ],
      }),
    });
    expect(standingIn(table, 20, nobody)).toMatchObject({ percentile: 50, z: 0, t: 50, stanine: 5, from: null });
    expect(standingIn(table, 15, nobody).percentile).toBeCloseTo(27.5, 12);
    // R: qnorm(.975) = 1.959964
    expect(standingIn(table, 30, nobody).z).toBeCloseTo(1.95996398454, 9);
    expect(standingIn(table, 9, nobody)).toMatchObject({
      percentile: null,
      z: null,
      band: "everybody: below its table",
    });
    expect(standingIn(table, 31, nobody)).toMatchObject({ percentile: null, band: "everybody: above its table" });
  });

  it("stands by the study’s own sessions by mid-ranks, without the person", () => {
    const own = norm({
      bands: everybody({
        kind: "own",
        scores: [1, 2, 2, 3, 10].map((value, at) => ({ session: `s${at}`, value })),
      }),
    });
    // Somebody else: two of five below 2 and level with it: (1 + 2 / 2) / 5.
    expect(standingIn(own, 2, nobody, "new").percentile).toBe(40);
    // One of them: the other four are 1, 2, 3, 10.
    expect(standingIn(own, 2, nobody, "s1").percentile).toBe(100 * ((1 + 0.5) / 4));
    expect(standingIn(own, 2, nobody, "s1").z).toBeCloseTo((2 - 4) / Math.sqrt((9 + 4 + 1 + 36) / 3), 12);
    expect(standingIn({ ...own, better: "lower" }, 10, nobody, "new").percentile).toBe(100 * (0.5 / 5));
  });

  it("has the interval that is stated, from the reliability that is stated", () => {
    const around = (interval: Norm["interval"]) =>
      standingIn(norm({ reliability: 0.84, interval, bands: everybody(moments(100, 15)) }), 130, nobody);
    // SD √(1 − r) = 6; true score 100 + .84 × 30 = 125.2, its error 15 √(.84 × .16) = 5.499.
    expect(around("obtained").from).toBeCloseTo(130 - 1.959963984540054 * 6, 9);
    expect(around("obtained").to).toBeCloseTo(130 + 1.959963984540054 * 6, 9);
    const error = 1.959963984540054 * 15 * Math.sqrt(0.84 * 0.16);
    expect(around("true").from).toBeCloseTo(125.2 - error, 9);
    expect(around("true").to).toBeCloseTo(125.2 + error, 9);
  });

  it("is read in the band a person belongs to, and says where there is none", () => {
    const band = (from: number, to: number, sex: string, mean: number) => ({
      ...{ n: 50, values: moments(mean, 10) },
      where: [
        { column: "age", from, to },
        { column: "sex", is: sex },
      ],
    });
    const banded = norm({ bands: [band(20, 29, "f", 50), band(30, 39, "f", 60), band(20, 29, "m", 70)] });
    expect(standingIn(banded, 60, person({ age: 29, sex: "F" }))).toMatchObject({ z: 1, band: "age 20 to 29, sex f" });
    expect(standingIn(banded, 60, person({ age: "30", sex: "f" }))).toMatchObject({ z: 0 });
    expect(standingIn(banded, 60, person({ age: 29.5, sex: "f" }))).toMatchObject({
      z: null,
      band: "outside its bands",
    });
    expect(standingIn(banded, 60, person({ sex: "f" })).band).toBe("not known: age");
    expect(standingIn(banded, null, person({ age: 25, sex: "f" })).band).toBe("no score");
    const twice = norm({ bands: [band(20, 29, "f", 50), band(25, 39, "f", 60)] });
    expect(standingIn(twice, 60, person({ age: 27, sex: "f" })).band).toBe("in 2 bands");
  });
});

describe("a table of norms", () => {
  it("is read with its bands, ranges and words, from any separators", () => {
    const read = normsFromCsv("\uFEFFage_from;age_to;sex;mean;sd;n\n20;29;f;512,5;80;40\n30;39;f;540;90;\n", true);
    expect(read).toEqual({
      ok: true,
      bands: [
        {
          n: 40,
          where: [
            { column: "age", from: 20, to: 29 },
            { column: "sex", is: "f" },
          ],
          values: { kind: "moments", mean: 512.5, sd: 80, isNormal: true },
        },
        {
          n: null,
          where: [
            { column: "age", from: 30, to: 39 },
            { column: "sex", is: "f" },
          ],
          values: { kind: "moments", mean: 540, sd: 90, isNormal: true },
        },
      ],
    });
    if (!read.ok) throw new Error("not read");
    expect(read.bands.map(bandInWords)).toEqual(["age 20 to 29, sex f", "age 30 to 39, sex f"]);
    expect(normShape.fits(norm({ bands: read.bands }))).toBe(true);
    const table = normsFromCsv("raw,percentile\n30,99\n10,1\n20,50\n", false);
    expect(table.ok && table.bands[0]?.values).toEqual({
      kind: "table",
      steps: [
        { raw: 10, percentile: 1 },
        { raw: 20, percentile: 50 },
        { raw: 30, percentile: 99 },
      ],
    });
  });

  it.each([
    ["a,b\n1,2\n", "should name the columns raw and percentile, or mean and sd"],
    ["", "should name the columns"],
    ["raw,percentile,mean\n1,2,3\n", "both percentiles and means"],
    ["mean,sd\n", "no lines below the first"],
    ["mean,sd\n5,x\n", "Line 2: sd is “x”; it should be a number."],
    ["mean,sd\n5,0\n", "Line 2: sd is 0; it is above 0."],
    ["mean,sd,n\n5,1,2.5\n", "Line 2: n is “2.5”; it is a whole number."],
    ["mean,sd\n5,1\n6,1\n", "Line 3: there is a line for the same persons already (line 2)."],
    ["raw,percentile\n1,20\n2,120\n", "Line 3: percentile is 120; it lies between 0 and 100."],
    ["raw,percentile\n1,20\n", "needs two raw scores"],
    ["raw,percentile\n1,20\n1,30\n", "the raw score 1 is there twice"],
    ["raw,percentile\n1,20\n2,50\n3,40\n", "go up and down"],
  ])("that cannot be one is told line by line: %j", (text, says) => {
    const read = normsFromCsv(text, false);
    expect(read.ok ? [] : read.problems.join("\n")).toContain(says);
  });
});

describe("a score over trials", () => {
  it("is said in words", () => {
    const score = {
      measure: "median" as const,
      numbers: null,
      signal: null,
      where: [{ column: "part", level: "Main" }],
    };
    expect(trialScoreInWords({ ...score, contrast: { column: "neighbours", of: "against", less: "with" } })).toBe(
      "median reaction time, neighbours against less with, where part is Main",
    );
    expect(trialScoreInWords({ ...score, where: [], contrast: null, measure: "column", numbers: "sure" })).toBe(
      "mean of sure",
    );
  });

  it("has a reliability by halves, stepped up to its whole length", () => {
    // R: cor(c(1, 2, 3, 4), c(2, 1, 4, 3)) = .6; 2 × .6 / 1.6 = .75
    const told = splitHalf([
      [1, 2],
      [2, 1],
      [3, 4],
      [4, 3],
      [5, null],
    ]);
    expect(told?.n).toBe(4);
    expect(told?.r).toBeCloseTo(0.6, 12);
    expect(told?.whole).toBeCloseTo(0.75, 12);
    expect(
      splitHalf([
        [1, 2],
        [2, 1],
      ]),
    ).toBeNull();
    expect(
      splitHalf([
        [1, 2],
        [1, 1],
        [1, 3],
      ]),
    ).toBeNull();
  });
});
