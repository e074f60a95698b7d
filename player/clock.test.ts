import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { sessionClock } from "./clock";

/** A page that was opened at a moment of the wall clock (ms since 1970) and has been open for so long. */
const page = (openedAt: number, since: number) =>
  vi.stubGlobal("performance", { timeOrigin: openedAt, now: () => since });
beforeEach(() => page(1_000_000, 0));
afterEach(() => vi.unstubAllGlobals());

it("counts from the session's start, also in a page that was opened later", () => {
  page(1_060_000, 500.1234);
  const clock = sessionClock(1_000_000, 59_000);
  expect(clock.now()).toBe(60_500.123);
  expect(clock.at(501)).toBe(60_501);
  expect(clock.correctedBy).toBe(0);
});

it("goes on from the latest record where the computer's clock was set back meanwhile", () => {
  page(400_000, 10);
  const clock = sessionClock(1_000_000, 59_000);
  expect(clock.now()).toBe(59_000);
  expect(clock.at(15)).toBe(59_005);
  expect(clock.correctedBy).toBe(658_990);
});
