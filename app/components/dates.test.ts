import { expect, it } from "vitest";
import { timeOfDay, whenInWords } from "./dates";

const now = Date.parse("2026-11-23T00:30:00Z");
it.each([
  ["2026-11-23T00:10:00Z", 0, "today, 00:10"],
  ["2026-11-22T23:50:00Z", 0, "yesterday"],
  ["2026-11-22T23:50:00Z", -60, "today, 00:50"],
  ["2026-11-23T00:10:00Z", 300, "today, 19:10"],
  ["2026-11-19T12:00:00Z", 0, "19 Nov"],
  ["2025-02-03T12:00:00Z", 0, "3 Feb 2025"],
])("%s, %d minutes behind UTC, is %s", (iso, offset, words) => expect(whenInWords(iso, now, offset)).toBe(words));
it("a time of day follows the clock", () => expect(timeOfDay("2026-11-23T00:10:00Z", -330)).toBe("05:40"));
