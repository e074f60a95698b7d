import { afterEach, expect, it, vi } from "vitest";
import { audioTime } from "./audio-time";

afterEach(() => vi.unstubAllGlobals());
const device = (currentTime: number, output: { contextTime?: number; performanceTime?: number }) =>
  ({ currentTime, getOutputTimestamp: () => output }) as unknown as AudioContext;

it("starts a sound so that it is heard when it is wanted, where that can still be reached", () => {
  // What leaves the device at 1000 ms of the page is the sample at 2 s; the next that can be given is at 2.03 s.
  const known = device(2.03, { contextTime: 2, performanceTime: 1000 });
  expect(audioTime(known, 1100)).toEqual({ when: 2.1, heard: 1100 });
  const late = audioTime(known, 1010);
  expect(late.when).toBe(2.03);
  expect(late.heard).toBeCloseTo(1030, 6);
});

it("takes the reported latency where the browser does not say what is heard now", () => {
  vi.stubGlobal("performance", { now: () => 500 });
  const { when, heard } = audioTime(device(7, { contextTime: 0, performanceTime: 0 }), 520);
  expect(when).toBeCloseTo(7.02, 6);
  expect(heard).toBeCloseTo(520, 6);
});
