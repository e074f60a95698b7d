import { describe, expect, it } from "vitest";
import type { Sitting } from "../design/sittings";
import { dueAfter, nextSitting, sittingState, type LastSitting } from "./sittings";

const sittings: Sitting[] = [
  { id: "a", name: "First", reminder: "" },
  { id: "b", name: "A week later", due: { from: 6, until: 8, late: "may" }, reminder: "" },
  { id: "c", name: "A month later", due: { from: 28, until: 35, late: "may-not" }, reminder: "" },
  { id: "d", name: "Once more", reminder: "" },
];
/** Ended in Berlin late on 27 November. */
const last = (sitting: number, more: Partial<LastSitting> = {}): LastSitting => ({
  ...{ sitting, isOver: true, isFinished: true, endedAt: Date.parse("2026-11-27T21:00:00Z") },
  ...more,
});
const at = (iso: string) => ({ now: Date.parse(iso), zone: "Europe/Berlin" });

describe("the next sitting", () => {
  it.each<[string, LastSitting, string, number | string, string]>([
    ["the moment before its first day", last(1), "2026-12-02T22:59:59Z", "early", "waiting"],
    ["as its first day begins", last(1), "2026-12-02T23:00:00Z", 2, "due"],
    ["in the evening of its last day", last(1), "2026-12-05T22:59:59Z", 2, "due"],
    ["on the day after, where it may be late", last(1), "2026-12-05T23:00:00Z", 2, "overdue"],
    ["in the evening of its last day, where it may not", last(2), "2027-01-01T22:59:59Z", 3, "due"],
    ["on the day after, where it may not", last(2), "2027-01-01T23:00:00Z", "over", "missed"],
    ["at once, where nothing is said of it", last(3), "2026-11-27T21:00:01Z", 4, "due"],
    ["after the last one", last(4), "2027-11-27T21:00:00Z", "all-done", "done"],
    [
      "while the one before goes on",
      last(1, { isOver: false, isFinished: false }),
      "2026-12-04T12:00:00Z",
      "unfinished",
      "under-way",
    ],
    ["after one was screened out", last(1, { isFinished: false }), "2026-12-04T12:00:00Z", "all-done", "done"],
  ])("%s", (_, before, now, expected, state) => {
    const found = nextSitting({ sittings }, before, at(now));
    expect("why" in found ? found.why : found.sitting).toBe(expected);
    expect(sittingState({ sittings }, before, at(now)).state).toBe(state);
  });

  it("is due on days counted in the time zone, over the turn of the year too", () => {
    const late = Date.parse("2026-12-30T23:30:00Z");
    expect(dueAfter(sittings[1]!, late, "Europe/Berlin")).toEqual({
      from: "2027-01-06",
      until: "2027-01-08",
      mayBeLate: true,
    });
    expect(dueAfter(sittings[1]!, late, "UTC").from).toBe("2027-01-05");
  });

  it("is always the next one in a study that says nothing of sittings", () => {
    const before = last(7, { isOver: false, isFinished: false });
    expect(nextSitting({ sittings: [] }, before, at("2026-11-28T00:00:00Z"))).toEqual({ sitting: 8 });
  });
});
