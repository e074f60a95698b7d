import { describe, expect, it } from "vitest";
import { centreNames, centreOf } from "./centre";

describe("the middle of a person's times", () => {
  // In R: x <- c(412, 388, 455.5, 1290, 397, 421, 203, 430, 415, 402, 399, 441)
  const times = [412, 388, 455.5, 1290, 397, 421, 203, 430, 415, 402, 399, 441];

  it.each([
    // mean(x); median(x); mean(x, trim = 0.1); exp(mean(log(x)))
    ["mean", 471.125],
    ["median", 413.5],
    ["trimmed", 416.05],
    ["geometric", 430.24002854167],
  ] as const)("is the %s that R gives", (by, expected) => expect(centreOf(times, by)).toBeCloseTo(expected, 6));

  it("is nothing without times, and the time itself where there is one", () => {
    for (const by of centreNames) {
      expect(centreOf([], by)).toBeNull();
      expect(centreOf([398], by)).toBeCloseTo(398, 9);
    }
    expect(centreOf([398, 0], "geometric")).toBeNull();
    expect(centreOf([398, 402], "median")).toBe(400);
  });
});
