import { soundLatency } from "./audio";

/**
 * When to start a sound on the audio clock so that it is heard at a moment of the page's clock, and when it will be heard:
 * at that moment, or as soon as the device can where that is past. The browser says which sample leaves the device when;
 * where it does not, the latency it reports stands in. Times of the page in ms, of the audio clock in s.
 */
export function audioTime(device: AudioContext, wanted: number): { when: number; heard: number } {
  const { contextTime = 0, performanceTime = 0 } = device.getOutputTimestamp();
  const known =
    performanceTime > 0
      ? { context: contextTime, page: performanceTime }
      : { context: device.currentTime, page: performance.now() + (soundLatency() ?? 0) };
  const when = Math.max(device.currentTime, known.context + (wanted - known.page) / 1000);
  return { when, heard: known.page + (when - known.context) * 1000 };
}
