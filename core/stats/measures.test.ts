import { describe, expect, it } from "vitest";
import { measureNames, valuesOf, type MeasureName } from "./measures";
import { addTrial, type People, type ScoredTrial, type Sums } from "./sums";

/** One person’s value of a measure in one condition. */
const of = (name: MeasureName, trials: ScoredTrial[]) => {
  const own = new Map<string, Sums>();
  for (const trial of trials) addTrial(own, "x", trial);
  return (
    valuesOf(new Map([["a", own]]), name)
      .get("a")
      ?.get("x") ?? null
  );
};
const many = (count: number, trial: ScoredTrial) => Array.from({ length: count }, () => trial);
const near = (value: number) => expect.closeTo(value, 9) as number;

describe("measures", () => {
  const detected = (hits: number, falseAlarms: number) => [
    ...many(hits, { right: true, rt: 400, isSignal: true }),
    ...many(20 - hits, { right: false, rt: 500, isSignal: true }),
    ...many(falseAlarms, { right: false, rt: 500, isSignal: false }),
    ...many(25 - falseAlarms, { right: true, rt: 450, isSignal: false }),
  ];
  it("of detection are those of R, without infinite ones (tests/support/factorial.R)", () => {
    expect([of("sensitivity", detected(17, 4)), of("criterion", detected(17, 4))]).toEqual([
      near(1.909497341097),
      near(-0.012672895553),
    ]);
    expect([of("sensitivity", detected(20, 0)), of("criterion", detected(20, 0))]).toEqual([
      near(4.0506542275423),
      near(0.0445747171239),
    ]);
  });
  it("of detection are less by √2 where one of two had to be chosen", () =>
    expect(of("choiceSensitivity", detected(17, 4))).toEqual(near(1.909497341097 / Math.sqrt(2))));
  it("of detection take no answer for not having noticed anything, and need trials of both sorts", () => {
    const silent = [
      ...detected(17, 4).slice(0, -1),
      // Too late to say anything: it was not said that something was there.
      { right: false, rt: null, isSignal: false, isAnswered: false },
    ];
    expect(of("sensitivity", silent)).toEqual(near(1.909497341097));
    expect(of("sensitivity", many(9, { right: true, rt: 400, isSignal: true }))).toBeNull();
    expect(of("criterion", many(9, { right: true, rt: 400 }))).toBeNull();
  });
  it("of speed and accuracy together are those of R", () => {
    const shares: [number, number][] = [
      [420, 95],
      [455, 90],
      [390, 85],
      [512, 97],
    ];
    const people: People = new Map(
      shares.map(([rt, right], person) => {
        const own = new Map<string, Sums>();
        for (const trial of [...many(right, { right: true, rt }), ...many(100 - right, { right: false, rt: null })])
          addTrial(own, "x", trial);
        return [String(person), own];
      }),
    );
    const found = (name: MeasureName) => [...valuesOf(people, name).values()].map((own) => own.get("x"));
    expect(found("balanced")).toEqual([1.232273300526, -0.612677210801, -0.253929844594, -0.36566624513].map(near));
    expect(found("inverse")).toEqual([420 / 0.95, 455 / 0.9, 390 / 0.85, 512 / 0.97].map(near));
  });
  it("of a column are its mean, without the trials that have nothing", () =>
    expect(
      of(
        "column",
        [2, null, 5].map((value) => ({ right: null, rt: null, value })),
      ),
    ).toBe(3.5));
  it("are nothing where there is nothing to measure", () => {
    for (const name of measureNames.filter((each) => each !== "trials"))
      expect(of(name, [{ right: null, rt: null }])).toBeNull();
    expect(of("inverse", [{ right: false, rt: 300 }])).toBeNull();
  });
});
