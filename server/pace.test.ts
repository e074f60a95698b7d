import { expect, it } from "vitest";
import { PaceKeeper } from "./pace";

it("lets a burst through, then so many a second, each sender by itself", () => {
  const keeper = new PaceKeeper({ burst: 3, perSecond: 2 });
  expect([0, 1, 2, 3].map((ms) => keeper.allows("a", ms))).toEqual([true, true, true, false]);
  expect(keeper.allows("b", 3)).toBe(true);
  expect([600, 601].map((ms) => keeper.allows("a", ms))).toEqual([true, false]);
  expect(keeper.allows("a", 100_000, 4)).toBe(false);
  expect(keeper.allows("a", 100_000, 3)).toBe(true);
});

it("counts what was given back as not asked, and never more than the burst", () => {
  const keeper = new PaceKeeper({ burst: 5, perSecond: 0 });
  for (let times = 0; times < 20; times++) {
    expect(keeper.allows("a", 0, 5)).toBe(true);
    keeper.giveBack("a", 5);
  }
  keeper.giveBack("a", 5);
  keeper.giveBack("unknown", 5);
  expect([keeper.allows("a", 0, 5), keeper.allows("a", 0, 1)]).toEqual([true, false]);
});

it("remembers no more senders than it is told to", () => {
  const keeper = new PaceKeeper({ burst: 1, perSecond: 0 }, 2);
  for (const sender of ["a", "b", "c"]) keeper.allows(sender, 0);
  expect(keeper.allows("a", 0)).toBe(true);
  expect(keeper.allows("c", 0)).toBe(false);
});
