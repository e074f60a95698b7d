import { afterEach, expect, it, vi } from "vitest";
import { isVariable } from "~/core/timing/frames";
import { RefreshWatch } from "./display";

/** A display that calls back at these intervals, over and over. */
function displayAt(...intervals: number[]) {
  let now = 1000;
  let index = 0;
  vi.stubGlobal("requestAnimationFrame", (callback: (stamp: number) => void) => {
    now += intervals[index++ % intervals.length] ?? 16;
    void Promise.resolve(now).then(callback);
    return index;
  });
}
afterEach(() => vi.unstubAllGlobals());

it.each([60, 75, 120, 144])("measures a display of %d Hz, also where some frames are dropped", async (hertz) => {
  const ms = 1000 / hertz;
  displayAt(ms, ms + 0.04, ms - 0.04, ms, 2 * ms, ms);
  const watch = new RefreshWatch();
  await watch.measure();
  expect(watch.frameMs).toBeCloseTo(ms, 1);
  expect(watch.spread).toBeLessThan(0.1);
});

it("finds a display that follows the drawing, and one that ceases to", async () => {
  displayAt(7, 11.5, 9.2, 14.1, 8.3, 19.7, 12.4, 10.3, 16);
  const watch = new RefreshWatch();
  await watch.measure();
  expect(watch.variable).toBe(true);
  let stamp = 5000;
  const frames = (interval: (frame: number) => number) => {
    watch.pause();
    for (let frame = 0; frame < 250; frame++) watch.frame((stamp += interval(frame)));
    return watch.changed();
  };
  expect(frames((frame) => 7 + ((frame * 5.3) % 13))).toBeNull();
  expect(frames((frame) => 8 + ((frame * 4.7) % 12))).toBeNull();
  for (let trial = 0; trial < 3 && watch.variable; trial++) frames(() => 1000 / 60);
  expect(watch.variable).toBe(false);
  expect(watch.frameMs).toBeCloseTo(1000 / 60, 2);
});

it("takes no display for variable whose frames are dropped or stamped to whole milliseconds", () => {
  expect(isVariable([7, 7, 7, 6, 7, 14, 7, 7, 21, 7], 6.944)).toBe(false);
  expect(isVariable([17, 16, 17, 33, 17, 50, 16, 33], 16.667)).toBe(false);
  expect(isVariable([17, 21, 25, 16, 12, 9, 17, 30], 17)).toBe(true);
});

it("tells when the refresh has changed, and not before it is sure", async () => {
  displayAt(1000 / 60);
  const watch = new RefreshWatch();
  await watch.measure();
  let stamp = 5000;
  const frames = (count: number, ms: number) => {
    watch.pause();
    for (let frame = 0; frame < count; frame++) watch.frame((stamp += ms));
    return watch.changed();
  };
  expect(frames(200, 1000 / 60)).toBeNull();
  expect(frames(30, 1000 / 144)).toBeNull();
  let told: number | null = null;
  for (let trial = 0; trial < 10 && told === null; trial++) told = frames(60, 1000 / 144);
  expect(told).toBeCloseTo(1000 / 144, 1);
});

it("takes the gap between two trials for no frame", () => {
  const watch = new RefreshWatch();
  for (let trial = 0; trial < 40; trial++) {
    watch.pause();
    watch.frame(trial * 1000);
    watch.frame(trial * 1000 + 1000 / 60);
    watch.frame(trial * 1000 + 2000 / 60);
  }
  expect(watch.changed()).toBeNull();
});
