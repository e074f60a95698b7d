import { readFileSync } from "node:fs";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { summarize, withinIntervals, type Condition } from "./conditions";
import { deviation, mean } from "./describe";
import { valuesOf, type MeasureName } from "./measures";
import { addTrial, type People } from "./sums";

describe("conditions", () => {
  const trial = (person: string, cell: string, right: boolean | null, rt: number | null) => ({
    person,
    cell,
    right,
    rt,
  });
  const peopleOf = (trials: readonly ReturnType<typeof trial>[]): People => {
    const people: People = new Map();
    for (const { person, cell, ...scored } of trials) {
      const own = people.get(person) ?? new Map<string, never>();
      people.set(person, own);
      addTrial(own, cell, scored);
    }
    return people;
  };
  const summed = (trials: readonly ReturnType<typeof trial>[], conditions: Condition[], of: MeasureName = "mean") =>
    summarize(valuesOf(peopleOf(trials), of), conditions);
  /** Conditions by their levels, named by them. */
  const by = (...levels: string[][]): Condition[] => levels.map((each) => ({ cell: each.join("·"), levels: each }));

  it("average each person first, so that one with many trials does not outweigh another", () => {
    const trials = [...Array.from({ length: 9 }, () => trial("a", "x", true, 300)), trial("b", "x", true, 500)];
    expect(summed(trials, by(["x"])).cells[0]).toMatchObject({ persons: 2, mean: 400 });
    expect(summed(trials, by(["x"]), "accuracy").cells[0]).toMatchObject({ persons: 2, mean: 1 });
  });
  it("take the times they are given, and count wrong and missing answers in accuracy", () => {
    const trials = [
      trial("a", "x", true, 400),
      // Its time was left out.
      trial("a", "x", false, null),
      trial("a", "x", false, null),
      trial("a", "x", null, 700),
    ];
    expect(summed(trials, by(["x"])).cells[0]?.mean).toBe(550);
    expect(summed(trials, by(["x"]), "accuracy").cells[0]?.mean).toBeCloseTo(1 / 3, 12);
  });
  it("leave out what is not there instead of counting it as zero", () => {
    const [x, y] = summed([trial("a", "x", false, null), trial("a", "y", true, 500)], by(["x"], ["y"])).cells;
    expect([x?.mean, x?.persons, y?.mean, x?.sd]).toEqual([null, 0, 500, null]);
  });
  it("give within-person intervals as worked out by hand", () => {
    // Two persons, two conditions, freed of their own means: (350, 450) and (360, 440); SD √50, √(2/1), t(1) = 12.706.
    const [half] = withinIntervals([
      [300, 400],
      [510, 590],
    ]);
    const freed = [300 - 350 + 450, 510 - 550 + 450];
    expect(half).toBeCloseTo((12.7062 * (deviation(freed) ?? 0) * Math.SQRT2) / Math.SQRT2, 2);
  });
  describe("have the intervals R gives (tests/support/intervals.R)", () => {
    const rows = Papa.parse<Record<string, string>>(readFileSync("tests/support/intervals.csv", "utf8"), {
      header: true,
      skipEmptyLines: true,
    }).data;
    const [sides, groups] = [
      ["left", "right", "ahead"],
      ["early", "late"],
    ];
    const intervals = (conditions: Condition[], cellOf: (row: Record<string, string>) => string) => {
      const trials = rows.map((row) => trial(row["person"]!, cellOf(row), true, Number(row["rt"])));
      const { between, cells } = summed(trials, conditions);
      return { between, intervals: cells.map(({ interval }) => interval) };
    };
    const close = (values: number[]) => values.map((value) => expect.closeTo(value, 7) as number);

    it("within persons", () =>
      expect(intervals(by(...sides.map((side) => [side])), ({ side }) => side!)).toEqual({
        between: [false],
        intervals: close([18.9966810296, 19.0965122111, 13.3533878946]),
      }));
    it("between persons", () =>
      expect(intervals(by(...groups.map((group) => [group])), ({ group }) => group!)).toEqual({
        between: [true],
        intervals: close([167.24323774, 182.221358554]),
      }));
    it("within the persons of each group", () =>
      expect(
        intervals(
          by(...groups.flatMap((group) => sides.map((side) => [group, side]))),
          ({ group, side }) => `${group}·${side}`,
        ),
      ).toEqual({
        between: [true, false],
        intervals: close([35.2625076313, 38.8158937951, 30.9054337186, 41.9393498293, 40.7761982876, 23.6715220132]),
      }));
  });

  it("give no interval for one person, and no spread between persons where only their levels differ", () => {
    expect(withinIntervals([[300, 400]])).toEqual([null, null]);
    expect(
      withinIntervals([
        [300, 400],
        [500, 600],
        [700, 800],
      ])[1],
    ).toBeCloseTo(0, 9);
  });
  it("know the mean of nothing", () => expect([mean([]), deviation([1])]).toEqual([null, null]));
});
