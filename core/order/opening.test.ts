import { describe, expect, it } from "vitest";
import { studyWithOpening } from "~/tests/support/forms";
import { compile } from "../compile/compile";
import { noPlace } from "./place";
import { openingOf, possibleLines, wronglyAbove } from "./opening";
import { partsFor } from "./parts";

const names = (nodes: readonly { part: string }[]) => nodes.map(({ part }) => part);
const study = studyWithOpening();
const { participant, group, orders } = noPlace;

describe("the pages before places are given", () => {
  it("are all that is played without a place, and come first for everybody", () => {
    expect(names(openingOf(study))).toEqual(["consent", "about", "habits"]);
    expect(names(partsFor(study, { ...noPlace, sitting: 1 }))).toEqual(["consent", "about", "habits"]);
    for (const each of ["early", "late"])
      expect(names(partsFor(study, { group: each, orders: {}, participant: 5, sitting: 1 })).slice(0, 3)).toEqual([
        "consent",
        "about",
        "habits",
      ]);
  });

  it("are drawn by when the participant began, with a place as without one", () => {
    const drawn = (plan: ReturnType<typeof compile>) => plan.parts.slice(0, 3);
    for (const entered of [1, 2, 7]) {
      const opening = compile(study, participant, "AB12", group, orders, entered);
      for (const number of [1, 4, 30])
        expect(drawn(compile(study, number, "AB12", "late", {}, entered))).toEqual(opening.parts);
    }
    const asked = new Map<string, number>();
    for (let entered = 1; entered <= 20; entered++) {
      const [, , habits] = compile(study, participant, "AB12", group, orders, entered).parts;
      if (habits?.kind !== "page") throw new Error("no page");
      for (const id of habits.form.sets.habits ?? []) asked.set(id, (asked.get(id) ?? 0) + 1);
    }
    expect([...asked.values()]).toEqual([10, 10, 10, 10, 10, 10]);
  });

  it("tell how long the whole session is before it has its place", () => {
    const [before, after] = [
      compile(study, participant, "AB12", group, orders, 3),
      compile(study, 1, "AB12", "early", {}, 3),
    ];
    expect(before.parts).toHaveLength(3);
    expect([before.trialCount, before.partCount]).toEqual([after.trialCount, after.partCount]);
  });

  it("can only be pages that all have: anything else is found, and nothing comes before places then", () => {
    expect(names(possibleLines(study))).toEqual([
      "consent",
      "about",
      "habits",
      ...names(possibleLines(study)).slice(3),
    ]);
    const [first, ...others] = study.runningOrder;
    const onlySome = {
      ...study,
      runningOrder: [{ ...first!, onlyGroups: ["early"] }, ...others] as typeof study.runningOrder,
    };
    expect(openingOf(onlySome)).toEqual([]);
    expect(wronglyAbove(onlySome)).toMatchObject([{ part: "consent" }]);
    const last = study.runningOrder.at(-1)!;
    if (last.kind !== "part") throw new Error("no part");
    const belowTrials = { ...study, allocation: { ...study.allocation, after: last.part } };
    expect(wronglyAbove(belowTrials).map((node) => study.parts[node.kind === "part" ? node.part : ""]?.kind)).toEqual([
      "block",
    ]);
  });
});
