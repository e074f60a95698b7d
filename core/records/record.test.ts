import fc from "fast-check";
import { expect, it } from "vitest";
import { anyStudy } from "~/tests/support/studies";
import { plannedAssignment } from "../allocate/allocate";
import { plainModel, simulateSession } from "../simulate/participant";
import type { SessionRecord } from "./record";
import { recordShape } from "./record";

type Anything = Record<string, unknown> | unknown[];
const isContainer = (value: unknown): value is Anything => typeof value === "object" && value !== null;
/** Every object within a value, the value itself first. */
const objectsIn = (value: unknown): Record<string, unknown>[] =>
  isContainer(value) ? [...(Array.isArray(value) ? [] : [value]), ...Object.values(value).flatMap(objectsIn)] : [];

it("takes every record that is made, and none with a field more, a field less or a field of another type", () => {
  fc.assert(
    fc.property(anyStudy, fc.nat(), fc.nat(), (document, which, index) => {
      const { records } = simulateSession(document, 1, plannedAssignment(document, 1), "s", plainModel);
      const record = records[which % Math.max(1, records.length)] as SessionRecord;
      expect(recordShape.fits(JSON.parse(JSON.stringify(record)))).toBe(true);
      const changed = (change: (object: Record<string, unknown>) => void) => {
        const copy = JSON.parse(JSON.stringify(record)) as SessionRecord;
        // What was drawn is keyed by items, so that any name may stand there.
        const objects: unknown[] = [copy, ...objectsIn({ ...copy, placed: undefined }).slice(1)];
        change(objects[index % objects.length] as Record<string, unknown>);
        return copy;
      };
      const told = (value: unknown) => JSON.stringify(value);
      const name = (object: Record<string, unknown>) => Object.keys(object)[index % Object.keys(object).length] ?? "";
      const a = changed((object) => (object.more = 1));
      expect(recordShape.fits(a), told(a)).toBe(false);
      const b = changed((object) => (object[name(object)] = { no: "such thing" }));
      expect(recordShape.fits(b), told(b)).toBe(false);
      const c = changed((object) => {
        const needed = Object.keys(object).filter((each) => !["ended", "place", "act", "heldMs"].includes(each));
        delete object[needed[index % needed.length] ?? ""];
      });
      expect(recordShape.fits(c), told(c)).toBe(false);
    }),
    { numRuns: 200 },
  );
});

it.each([null, 5, "trial", [], {}, { kind: "toString" }, { kind: "end" }, { kind: "end", number: 1, at: NaN }])(
  "is none: %j",
  (value) => expect(recordShape.fits(value)).toBe(false),
);
