import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { anyStudy, firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { plannedAssignment } from "../allocate/allocate";
import { compile } from "../compile/compile";
import { newKeys } from "../devices/keys/keys";
import { streamFor } from "../random/stream";
import { exGaussian } from "./distributions";
import { plainModel, simulateSession, type AnswerModel } from "./participant";

describe("a simulated participant", () => {
  it("plays every study to its end through the real machine, each planned trial once", () => {
    fc.assert(
      fc.property(anyStudy, fc.integer({ min: 1, max: 99 }), (document, participant) => {
        const group = plannedAssignment(document, participant).group;
        const { records, finished } = simulateSession(document, participant, { group, orders: {} }, "AB12", plainModel);
        const trials = records.flatMap((record) => (record.kind === "trial" ? [record.trial] : []));
        expect(finished).toBe(true);
        expect(trials).toEqual(
          Array.from({ length: compile(document, participant, "AB12", group).trialCount }, (_, index) => index + 1),
        );
        expect(records.map(({ number }) => number)).toEqual(records.map((_, index) => index + 1));
      }),
      { numRuns: 60 },
    );
  });

  it("is the same for the same seed and another for another", () => {
    const document = plainStudy();
    const run = (seed: string) =>
      simulateSession(document, 1, { group: document.groups[0]!.id, orders: {} }, seed, plainModel).records;
    expect(run("a")).toEqual(run("a"));
    expect(run("a")).not.toEqual(run("b"));
  });

  it("shows each scene for whole frames nearest to its plan", () => {
    const document = plainStudy();
    for (const record of simulateSession(document, 1, { group: document.groups[0]!.id, orders: {} }, "s", plainModel)
      .records) {
      if (record.kind !== "trial") continue;
      const frames = (record.scenes[0]!.end - record.scenes[0]!.onset) / (1000 / 60);
      expect(frames).toBeCloseTo(30, 3);
    }
  });

  it.each([
    ["scene", [7, 7]],
    ["trial", [7, 6]],
  ] as const)("counts a scene's time from the %s, as the player does", (from, frames) => {
    const document = withBlock(plainStudy(), (block) => {
      block.scenes = block.scenes.slice(0, 1).concat({ ...block.scenes[0]!, id: "second" });
      for (const scene of block.scenes) scene.lasts = { kind: "ms", ms: 110 };
      block.answers = [];
      if (from === "trial") block.timedFrom = from;
    });
    const { records } = simulateSession(document, 1, { group: document.groups[0]!.id, orders: {} }, "s", plainModel);
    const trial = records.find((record) => record.kind === "trial");
    expect(trial?.kind === "trial" && trial.scenes.map(({ ended }) => ended?.frames)).toEqual(frames);
  });

  it("answers a copied block by its own answers, though its scenes have the ids of the original's", () => {
    const document = withBlock(plainStudy(), (block, whole) => {
      const again = { ...structuredClone(block), id: "again", name: "Again" };
      again.answers[0]!.by = [newKeys(["p", "q"])];
      again.answers[0]!.right = "q";
      whole.parts["again"] = again;
      whole.runningOrder.push({ kind: "part", part: "again" });
    });
    const { records } = simulateSession(document, 1, { group: document.groups[0]!.id, orders: {} }, "s", {
      ...plainModel,
      lapses: 0,
      errors: 0,
    });
    const given = records.flatMap((record) =>
      record.kind === "trial" && record.part === "again" ? [record.answers[0]?.given?.value] : [],
    );
    expect(given.length).toBeGreaterThan(1);
    expect(new Set(given)).toEqual(new Set(["q"]));
  });

  it("shows the effect that is asked for", () => {
    const document = withBlock(plainStudy(), (block) => block.table.rows.forEach((row) => (row.copies = 200)));
    const column = firstBlock(document).table.columns[0]!;
    const model: AnswerModel = {
      ...plainModel,
      personSd: 0,
      lapses: 0,
      errors: 0,
      effects: [{ column: column.name, level: "ferry", addMs: 80, addErrors: 0.3, sdMs: 0 }],
    };
    const { records } = simulateSession(document, 1, { group: document.groups[0]!.id, orders: {} }, "s", model);
    const of = (row: string) =>
      records.flatMap((record) => (record.kind === "trial" && record.row === row ? [record] : []));
    const [gull, ferry] = firstBlock(document).table.rows.map(({ id }) => of(id));
    const average = (list: typeof gull = []) =>
      list.reduce((sum, { answers }) => sum + (answers[0]?.given?.rt ?? 0), 0) / list.length;
    expect(average(ferry) - average(gull)).toBeGreaterThan(60);
    expect(average(ferry) - average(gull)).toBeLessThan(100);
    expect(gull?.every(({ answers }) => answers[0]?.right === true)).toBe(true);
    expect((ferry?.filter(({ answers }) => answers[0]?.right === false).length ?? 0) / 200).toBeCloseTo(0.3, 1);
  });

  it("breaks off where it is told to", () => {
    const document = plainStudy();
    const { finished, records } = simulateSession(
      document,
      1,
      { group: document.groups[0]!.id, orders: {} },
      "s",
      plainModel,
      1,
    );
    expect([finished, records.filter(({ kind }) => kind === "trial").length]).toEqual([false, 1]);
  });
});

it("ex-Gaussian times have the mean and spread of their parameters", () => {
  const stream = streamFor("ex-gaussian");
  const times = Array.from({ length: 20_000 }, () => exGaussian(400, 40, 90, stream));
  const average = times.reduce((sum, time) => sum + time, 0) / times.length;
  const spread = Math.sqrt(times.reduce((sum, time) => sum + (time - average) ** 2, 0) / times.length);
  expect(Math.abs(average - 490)).toBeLessThan(3);
  expect(Math.abs(spread - Math.hypot(40, 90))).toBeLessThan(3);
});
