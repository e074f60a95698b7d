import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { anyStudy, plainStudy } from "~/tests/support/studies";
import { unruly } from "~/tests/support/unruly";
import { plannedAssignment } from "../allocate/allocate";
import type { StudyDocument } from "../design/document";
import { Shown } from "./shown";

const whose = (document: StudyDocument) => ({
  participant: 1,
  group: plannedAssignment(document, 1).group,
  orders: {},
  seed: "s",
});

describe("what was shown", () => {
  it("is each scene as it came on, with the values it had then, whatever was pressed meanwhile", () => {
    fc.assert(
      fc.property(anyStudy, fc.nat(), (document, seed) => {
        const { machine, records, shown } = unruly(document, seed);
        const again = new Shown(document, whose(document), JSON.parse(JSON.stringify(records)));
        expect(again.followed).toBe(records.length);
        const scenes = again.moments.flatMap((moment, index) => {
          const { seen } = moment;
          const before = again.moments[index - 1]?.seen;
          if (seen.kind !== "scene" || (before?.kind === "scene" && before.onset === seen.onset)) return [];
          return [{ moment, scene: seen.scene, at: seen.onset }];
        });
        expect(scenes.map(({ scene, at }) => [scene, at])).toEqual(shown.map(({ scene, at }) => [scene, at]));
        for (let index = 0; index < scenes.length; index += Math.max(1, Math.floor(scenes.length / 9)))
          expect(again.machine.context(again.stateAt(scenes[index]!.moment))).toEqual(
            machine.context(shown[index]!.state),
          );
        // Every moment is found by its time, and between two of them the earlier one holds.
        for (const [index, { at }] of again.moments.entries())
          if ((again.moments[index + 1]?.at ?? Infinity) > at) expect(again.at(at)).toBe(index);
        expect(again.at(-1)).toBe(0);
        expect(again.at(1e9)).toBe(again.moments.length - 1);
      }),
      { numRuns: 100 },
    );
  });

  it("ends with nothing, after the last scene and after the last page", () => {
    const document = plainStudy();
    const { records } = unruly(document, 3);
    const { moments } = new Shown(document, whose(document), records);
    expect(moments.at(-1)?.seen).toEqual({ kind: "nothing" });
    expect(moments[0]).toEqual({ at: 0, record: 0, event: -1, seen: { kind: "nothing" } });
  });

  it("goes as far as the records follow the plan", () => {
    const document = plainStudy();
    const { records } = unruly(document, 4);
    const other = records.map((record, index) =>
      index === 2 && "row" in record ? { ...record, row: "a row of another plan" } : record,
    );
    const cut = new Shown(document, whose(document), other);
    expect(cut.followed).toBe(2);
    expect(Math.max(...cut.moments.map(({ record }) => record))).toBe(1);
    expect(new Shown(document, whose(document), records.slice(1)).followed).toBe(0);
  });
});
