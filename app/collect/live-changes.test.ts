import fc from "fast-check";
import { expect, it } from "vitest";
import { changesBetween, withChanges, type LiveChanges } from "./live-changes";

type State = { order: string[]; sessions: Record<string, unknown>; counts: number; links: string[] };
const state: fc.Arbitrary<State> = fc
  .record({
    lines: fc.uniqueArray(fc.record({ id: fc.stringMatching(/^s[0-9]$/), trials: fc.nat(3) }), {
      selector: ({ id }) => id,
      maxLength: 8,
    }),
    counts: fc.nat(2),
    links: fc.array(fc.constantFrom("a", "b"), { maxLength: 2 }),
  })
  .map(({ lines, ...rest }) => ({
    ...rest,
    order: lines.map(({ id }) => id),
    sessions: Object.fromEntries(lines.map((line) => [line.id, line])),
  }));

it("what changed leads from any state to any other, and is nothing where they are the same", () => {
  fc.assert(
    fc.property(state, state, (before, now) => {
      const changes = changesBetween(before, now);
      const reached =
        changes === null ? before : withChanges(before, JSON.parse(JSON.stringify(changes)) as LiveChanges);
      expect(reached).toEqual(now);
    }),
  );
});

it("of many sessions only the line that changed is sent", () => {
  const lines = Object.fromEntries(Array.from({ length: 100 }, (_, at) => [`s${at}`, { id: `s${at}`, trials: 1 }]));
  const before = { order: Object.keys(lines), sessions: lines, counts: 1 };
  const now = { ...before, sessions: { ...lines, s7: { id: "s7", trials: 2 } } };
  expect(changesBetween(before, now)).toEqual({ set: {}, lines: { s7: { id: "s7", trials: 2 } } });
});
