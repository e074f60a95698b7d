import { describe, expect, it } from "vitest";
import { newWavePlan, wavePlan, wavePlanProblem, whyNotBeginIn, type WavePlan, type WaveStanding } from "./wave";

const moment = (iso: string, zone = "Europe/Berlin") => ({ at: new Date(iso).toISOString(), zone });
const plan = (more: Partial<WavePlan> = {}): WavePlan => ({ ...newWavePlan("Spring"), ...more });
const standing = (more: Partial<WaveStanding> = {}): WaveStanding => ({
  ...{ state: "open", finished: 0, underWay: 0, now: Date.parse("2026-12-01T12:00:00Z") },
  ...more,
});

describe("beginning in a wave", () => {
  it.each<[string, Partial<WavePlan>, Partial<WaveStanding>, ReturnType<typeof whyNotBeginIn>]>([
    ["at any time", {}, {}, null],
    ["while it is paused", {}, { state: "paused" }, "closed"],
    ["after it was closed", {}, { state: "closed" }, "closed"],
    ["a moment before it opens", { from: moment("2026-12-01T12:00:00.001Z") }, {}, "early"],
    ["as it opens", { from: moment("2026-12-01T12:00:00Z") }, {}, null],
    ["as it is over", { until: moment("2026-12-01T12:00:00Z") }, {}, "over"],
    ["the last one wanted", { target: 3 }, { finished: 2, underWay: 9 }, null],
    ["one too many", { target: 3 }, { finished: 3 }, "full"],
    ["one too many, where it is closed by hand", { target: 3, closes: "by-hand" }, { finished: 3 }, null],
    ["while those under way would fill it", { target: 3, closes: "under-way" }, { finished: 1, underWay: 2 }, "full"],
    ["after one of them has left", { target: 3, closes: "under-way" }, { finished: 1, underWay: 1 }, null],
    ["without a target", { closes: "under-way" }, { finished: 99, underWay: 9 }, null],
    ["paused before anything else", { target: 3 }, { finished: 3, state: "paused" }, "closed"],
  ])("%s", (_, more, stands, why) => {
    expect(whyNotBeginIn(plan(more), standing(stands))).toBe(why);
  });
});

it("a plan is refused without a name, with an unknown time zone, or when it is over before it opens", () => {
  expect(wavePlan.fits(plan({ from: moment("2026-12-01T12:00:00Z"), target: 40 }))).toBe(true);
  expect(wavePlan.fits(plan({ target: 0 }))).toBe(false);
  expect(wavePlan.fits({ ...plan(), places: "moon" })).toBe(false);
  expect(wavePlanProblem(plan({ name: "  " }))).toBe("A wave needs a name.");
  expect(wavePlanProblem(plan({ until: moment("2026-12-01T12:00:00Z", "Sea/North") }))).toBe(
    "“Sea/North” is no time zone.",
  );
  const backwards = plan({ from: moment("2026-12-02T12:00:00Z"), until: moment("2026-12-01T12:00:00Z") });
  expect(wavePlanProblem(backwards)).toBe("It would be over before it opens.");
  expect(wavePlanProblem(plan())).toBeNull();
});
