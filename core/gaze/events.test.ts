import { describe, expect, it } from "vitest";
import { agreement } from "./agreement";
import { defaultEvents, eventsIn, eventsInWords, type EventSettings } from "./events";
import { interpolated, lostShare, meanOfEyes, samplingRate, smoothed, velocities, type Gaze } from "./samples";
import { plainViewer, saccadeMs, simulateGaze, type Viewer } from "./simulate";

const gaze = (x: readonly number[], everyMs = 10): Gaze => ({
  times: Float64Array.from(x, (_, at) => at * everyMs),
  x: Float64Array.from(x),
  y: new Float64Array(x.length),
});
const settings = (change: Partial<EventSettings>): EventSettings => ({ ...defaultEvents, ...change });

describe("samples", () => {
  it("fill short gaps along a line, and no longer ones", () => {
    const filled = interpolated(gaze([0, NaN, NaN, 3, NaN, NaN, NaN, 7]), 30);
    expect([...filled.x]).toEqual([0, 1, 2, 3, NaN, NaN, NaN, 7]);
    expect([...interpolated(gaze([NaN, 1, NaN]), 100).x]).toEqual([NaN, 1, NaN]);
  });
  it("are smoothed by medians, which take single outliers out and keep steps", () => {
    expect([...smoothed(gaze([1, 1, 9, 1, 1]), 3).x]).toEqual([1, 1, 1, 1, 1]);
    expect([...smoothed(gaze([1, 1, 1, 5, 5, 5]), 3).x]).toEqual([1, 1, 1, 5, 5, 5]);
    expect([...smoothed(gaze([1, NaN, 3]), 3).x]).toEqual([1, NaN, 3]);
  });
  it("tell their rate, what is lost, and how fast the eye moves", () => {
    const moving = gaze([0, 1, 2, 3, NaN]);
    expect(samplingRate(moving)).toBe(100);
    expect(lostShare(moving)).toBe(0.2);
    // One degree in 10 ms is 100 degrees a second.
    expect([...velocities(moving, 20)].map((speed) => Math.round(speed))).toEqual([100, 100, 100, NaN, NaN]);
  });
  it("of two eyes are their mean, or the one that was seen", () => {
    const { x } = meanOfEyes({ left: gaze([1, NaN, 3, NaN]), right: gaze([3, 5, NaN, NaN]) });
    expect([...x]).toEqual([2, 5, 3, NaN]);
  });
});

describe("events of a hand-made recording", () => {
  // 200 ms at 0°, 30 ms on the way, 200 ms at 6°.
  const still = (at: number, samples: number) => Array.from({ length: samples }, () => at);
  const step = gaze([...still(0, 20), 1.5, 3, 4.5, ...still(6, 20)]);
  it.each(["velocity", "dispersion"] as const)("are two fixations and the saccade between them, by %s", (by) => {
    const { fixations, saccades } = eventsIn(step, settings({ by, smoothing: 1 }));
    expect(fixations.map(({ x }) => Math.round(x))).toEqual([0, 6]);
    expect(fixations[0]?.from).toBe(0);
    expect(fixations[1]?.to).toBe(420);
    expect(saccades).toHaveLength(1);
    expect(saccades[0]?.amplitude).toBeGreaterThan(3);
    expect(saccades[0]?.peak).toBeGreaterThan(100);
  });
  it("are one fixation where it was cut by a short loss, and two where nothing is joined", () => {
    const cut = gaze([...still(1, 10), NaN, NaN, NaN, NaN, ...still(1, 10)]);
    expect(eventsIn(cut, settings({ gapMs: 0 })).fixations).toHaveLength(1);
    expect(eventsIn(cut, settings({ gapMs: 0, joinMs: 0 })).fixations).toHaveLength(2);
  });
  it("are none where nothing lasts long enough, or nothing was seen", () => {
    expect(eventsIn(gaze(still(1, 5)), settings({ leastMs: 60 })).fixations).toEqual([]);
    expect(eventsIn(gaze([NaN, NaN]), defaultEvents)).toEqual({ fixations: [], saccades: [] });
  });
  it("state all their settings", () => {
    expect(eventsInWords(defaultEvents)).toBe(
      "Fixations by velocity (I-VT): over 30°/s, told over 20 ms, is a saccade; at least 60 ms; gaps up to 75 ms filled; medians of 3 samples; fixations within 75 ms and 0.5° joined",
    );
  });
});

describe("a simulated viewer", () => {
  const told = (viewer: Partial<Viewer>, how: Partial<EventSettings>) => {
    const simulated = simulateGaze({ ...plainViewer, ms: 60_000, ...viewer });
    const both = meanOfEyes(simulated);
    const found = eventsIn(both, settings(how));
    return { simulated, found, kappa: agreement(both.times, simulated.truth, found) };
  };

  it("is the same each time, looks at targets by their chances, and moves along the main sequence", () => {
    const [once, again] = [simulateGaze(plainViewer), simulateGaze(plainViewer)];
    expect(once.left.x).toEqual(again.left.x);
    const { fixations, saccades } = simulateGaze({ ...plainViewer, ms: 600_000 }).truth;
    const at = (x: number) => fixations.filter((each) => Math.abs(each.x - x) < 1.5).length / fixations.length;
    // Never twice in a row, so that the two likely ones have a little less than two sixths each.
    expect(at(-8)).toBeGreaterThan(0.26);
    expect(at(-8)).toBeLessThan(0.36);
    for (const { from, to, amplitude, peak } of saccades) {
      expect(to - from).toBeCloseTo(saccadeMs(amplitude), 6);
      expect(peak).toBeLessThan(900);
    }
  });

  it.each([
    ["velocity", {}, {}, 0.9],
    ["velocity, with noise", { noise: 0.1, lost: 0.03 }, {}, 0.85],
    ["velocity, with one bad eye", { badEye: "left" }, {}, 0.7],
    // Dispersion takes the slow ends of saccades in, so that it agrees less.
    ["dispersion", {}, { by: "dispersion" }, 0.65],
    ["dispersion, with noise", { noise: 0.1, lost: 0.03 }, { by: "dispersion" }, 0.65],
  ] as const)("is understood by %s, as its truth says", (_, viewer, how, least) => {
    const { simulated, found, kappa } = told(viewer, how);
    expect(kappa).toBeGreaterThan(least);
    const ratio = found.fixations.length / simulated.truth.fixations.length;
    expect(ratio).toBeGreaterThan(0.85);
    expect(ratio).toBeLessThan(1.15);
  });
});
