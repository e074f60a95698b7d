import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { creatures, drawing, drawn, own, second } from "../../tests/support/pools";
import { compile, drawPools } from "../compile/compile";
import { compileAttempt } from "../compile/plan";
import { compilePlanned } from "../compile/planned";
import { seedOf } from "../order/seed";
import type { StudyDocument } from "../design/document";
import { sessionDraws } from "./draw";

const oneGroup = (document: StudyDocument) => {
  document.groups = document.groups.slice(0, 1);
};
const trialsIn = (document: StudyDocument, participant: number, block = "boats", seed = document.settings.seed) => {
  const planned = compilePlanned(document, participant);
  const plan = compile(document, participant, seed, planned.group, planned.orders);
  const part = plan.parts.find((each) => each.part === block);
  return part?.kind === "block" ? part.trials : [];
};
const kindOf = (creature: unknown) => String(creature).replace(/\d/g, "");
const lengthOf = (creature: unknown) => 3 + ((Number(String(creature).replace(/\D/g, "")) - 1) % 5);
const sameKind = { column: "kind", to: { from: { column: "kind" } } };
const counted = (values: unknown[]) => {
  const counts = new Map<unknown, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  return counts;
};

describe("what is drawn from a pool", () => {
  it("fits the row, comes once in the block, and is the same for the same participant", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 300 }), fc.integer({ min: 1, max: 6 }), (participant, each) => {
        const study = drawing({ each, inPool: 6 }, (block) =>
          block.table.columns.push(drawn("seen", own({ where: [sameKind] }))),
        );
        const trials = trialsIn(study, participant);
        expect(trials).toHaveLength(2 * each);
        for (const { values } of trials) expect(kindOf(values["seen"])).toBe(values["kind"]);
        expect(new Set(trials.map(({ values }) => values["seen"])).size).toBe(2 * each);
        expect(trialsIn(structuredClone(study), participant)).toEqual(trials);
        for (const { fromPools, values } of trials) expect(fromPools).toEqual({ seen: values["seen"] });
      }),
      { numRuns: 40 },
    );
  });

  it("comes equally often over participants, exactly so after as many as the pool has rows", () => {
    const study = drawing({ each: 5, inPool: 12 }, (block, document) => {
      oneGroup(document);
      block.table.columns.push(drawn("seen", own({ where: [sameKind] })));
    });
    const seen = Array.from({ length: 12 }, (_, index) => trialsIn(study, index + 1)).flat();
    expect([...counted(seen.map(({ values }) => values["seen"])).values()]).toEqual(Array(24).fill(5));
  });

  it("comes equally often with each level, in lists that are turned against each other", () => {
    const levels = ["early", "late", "never"];
    const study = drawing({ each: 4, inPool: 12, levels }, (block, document) => {
      oneGroup(document);
      block.table.columns.push(drawn("seen", own({ where: [sameKind], balanced: "level" })));
    });
    const seen = Array.from({ length: 3 }, (_, index) => trialsIn(study, index + 1)).flat();
    const often = counted(seen.map(({ values }) => `${values["seen"]} ${values["level"]}`));
    expect(often.size).toBe(24 * 3);
    expect(new Set(often.values())).toEqual(new Set([1]));
    expect(study.groups.length).toBe(1);
    expect(
      new Set(Array.from({ length: 3 }, (_, index) => compilePlanned(study, index + 1).orders["boats-lists"])).size,
    ).toBe(3);
  });

  it("comes equally often with each level also where fewer are taken than there are", () => {
    const study = drawing({ each: 3, inPool: 12, levels: ["early", "late"] }, (block, document) => {
      oneGroup(document);
      block.table.columns.push(drawn("seen", own({ where: [sameKind], balanced: "level" })));
    });
    const seen = Array.from({ length: 24 }, (_, index) => trialsIn(study, index + 1)).flat();
    const often = counted(seen.map(({ values }) => `${values["seen"]} ${values["level"]}`));
    expect([...often.values()]).toEqual(Array(48).fill(6));
  });

  it("is near what another column drew, and never the same row", () => {
    const study = drawing({ each: 5, inPool: 12 }, (block) =>
      block.table.columns.push(
        drawn("first", own({ where: [sameKind] })),
        drawn("first_length", { with: "first", takes: { is: "value", column: "length" } }, "number"),
        drawn(
          "other",
          own({ where: [sameKind, { column: "length", within: 1, to: { from: { column: "first_length" } } }] }),
        ),
      ),
    );
    for (let participant = 1; participant <= 30; participant++) {
      const trials = trialsIn(study, participant);
      for (const { values } of trials) {
        expect(values["first_length"]).toBe(lengthOf(values["first"]));
        expect(Math.abs(lengthOf(values["other"]) - lengthOf(values["first"]))).toBeLessThanOrEqual(1);
      }
      const all = trials.flatMap(({ values }) => [values["first"], values["other"]]);
      expect(new Set(all).size).toBe(20);
    }
  });

  it("returns in another block as old, with the position it had, beside new ones that were not shown", () => {
    const study = drawing({ each: 3, inPool: 12, levels: ["x", "y"] }, (block, document) => {
      block.table.columns.push(drawn("seen", own({ where: [sameKind], once: "session" })));
      second(document, block, (copy) => {
        copy.table.columns = copy.table.columns.filter(({ id }) => id !== "seen");
        const before = { block: block.id, shown: { column: "level", is: "x" } };
        copy.table.columns.push(
          drawn("asked", own({ where: [sameKind], once: "session", before })),
          drawn("stood", { with: "asked", takes: { is: "position" } }, "number"),
          drawn("had", { with: "asked", takes: { is: "earlier", column: "level" } }),
        );
      });
    });
    for (let participant = 1; participant <= 20; participant++) {
      const first = trialsIn(study, participant);
      const shown = first.map(({ values }) => values["seen"]);
      const again = trialsIn(study, participant, "boats-2");
      expect(new Set(again.map(({ values }) => values["asked"])).size).toBe(12);
      for (const { values } of again) {
        const at = shown.indexOf(values["asked"] as string);
        expect(at >= 0).toBe(values["level"] === "x");
        expect(values["stood"]).toBe(at >= 0 ? at + 1 : null);
        expect(values["had"]).toBe(at >= 0 ? first[at]?.values["level"] : null);
      }
    }
  });

  it("does not come again in the session or in later sittings, where that is asked", () => {
    const study = drawing({ each: 2, inPool: 60 }, (block, document) => {
      block.table.columns.push(drawn("seen", own({ where: [sameKind], once: "sittings" })));
      second(document, block, () => undefined);
    });
    // More than are kept at a time.
    const all = Array.from({ length: 15 }, (_, index) => index + 1).flatMap((sitting) =>
      ["boats", "boats-2"].flatMap((block) =>
        trialsIn(study, 7, block, seedOf(study, sitting)).map(({ values }) => values["seen"]),
      ),
    );
    expect(new Set(all).size).toBe(120);
    expect(all).not.toContain(null);
  });

  it("may come again in another trial where only the trial is asked for", () => {
    const study = drawing({ each: 20, inPool: 3 }, (block) =>
      block.table.columns.push(drawn("one", own({ once: "trial" })), drawn("two", own({ once: "trial" }))),
    );
    const trials = trialsIn(study, 1);
    for (const { values } of trials) expect(values["one"]).not.toBe(values["two"]);
    expect(counted(trials.map(({ values }) => values["one"])).size).toBe(6);
  });

  it("is the same again in another attempt at the block, newly spread, and never what another block has", () => {
    const study = drawing({ each: 4, inPool: 12 }, (block, document) => {
      block.table.columns.push(drawn("seen", own({ where: [sameKind], once: "session" })));
      second(document, block, () => undefined);
    });
    const plan = compilePlanned(study, 3);
    const first = trialsIn(study, 3).map(({ values }) => values["seen"]);
    const again = compileAttempt(drawPools, study, plan, "boats", 2).map(({ values }) => values["seen"]);
    expect(again.toSorted()).toEqual(first.toSorted());
    expect(again).not.toEqual(first);
  });

  it("tells what lacks with its counts, and leaves those cells empty", () => {
    const study = drawing({ each: 8, inPool: 5 }, (block) =>
      block.table.columns.push(drawn("seen", own({ where: [sameKind] }))),
    );
    const { group, orders, seed } = compilePlanned(study, 1);
    const { lacking } = sessionDraws(study, { participant: 1, seed, group, orders }, []);
    expect(lacking).toHaveLength(2);
    expect(lacking[0]).toMatchObject({ needs: 8, has: 5, wanted: ["kind fish"], isProven: true });
    expect(trialsIn(study, 1).filter(({ values }) => values["seen"] === null)).toHaveLength(6);
  });

  it("leaves orders, durations and what other pools give as they were when a pool changes", () => {
    const study = (inPool: number) =>
      drawing({ each: 4 }, (block, document) => {
        document.pools = [creatures(inPool), { ...creatures(9), id: "others" }];
        block.table.columns.push(
          drawn("seen", own({ where: [sameKind] })),
          drawn("other", own({ pool: "others", where: [sameKind] })),
        );
      });
    const of = (inPool: number) =>
      trialsIn(study(inPool), 5).map(({ row, drawn: lasts, values }) => [row, lasts, values["other"]]);
    expect(of(9)).toEqual(of(17));
  });
});
