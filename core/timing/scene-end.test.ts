import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { countsFrom, endsAt, foreseenEnd, plannedEnd } from "./scene-end";

/** The frame, counted from the onset, with which a scene ends on a display whose frames last `trueMs`. */
function endingFrame(lastsMs: number, measuredMs: number, trueMs: number, jitter: (frame: number) => number): number {
  const end = plannedEnd(1000, lastsMs, measuredMs);
  for (let frame = 1; ; frame++) if (endsAt(end, 1000 + frame * trueMs + jitter(frame), measuredMs)) return frame;
}

describe("a scene with a time of its own", () => {
  it("is on for the whole frames nearest to its time, whatever stamps and the measured frame are off by", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 5000 }),
        fc.constantFrom(60, 75, 85, 100, 120, 144, 240),
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.integer({ min: 0, max: 1000 }),
        (lastsMs, hertz, off, phase) => {
          const trueMs = 1000 / hertz;
          // An eighth of a frame over the whole scene and a tenth in a single stamp: together less than the quarter there is.
          const measuredMs = trueMs * (1 + (off * 0.125) / Math.max(1, lastsMs / trueMs));
          const jitter = (frame: number) => Math.sin(frame * 7 + phase) * 0.1 * trueMs;
          expect(endingFrame(lastsMs, measuredMs, trueMs, jitter)).toBe(plannedEnd(0, lastsMs, measuredMs).frames);
        },
      ),
      { numRuns: 2000 },
    );
  });

  it("is on for one frame at least", () => expect(endingFrame(1, 16, 16, () => 0)).toBe(1));

  it("ends with the frame nearest to its due time where frames have no fixed length", () => {
    const end = plannedEnd(0, 25, 16);
    expect([16.9, 17].map((stamp) => endsAt(end, stamp, 16, true))).toEqual([false, true]);
    expect([foreseenEnd(end, 16, true), foreseenEnd(end, 16, false)]).toEqual([25, 32]);
  });
});

describe("the next scene's time counts", () => {
  const before = plannedEnd(0, 25, 10);
  it.each([
    ["from its own onset", undefined, "time", undefined],
    ["from when the one before was to end, in a trial timed as a whole", "trial", "time", 25],
    ["from its own onset after an answer", "trial", "answer", undefined],
    ["from its own onset after media", "trial", "media", undefined],
  ] as const)("%s", (_, timedFrom, by, from) => expect(countsFrom({ timedFrom }, before, by)).toBe(from));

  it("so that rounding to frames does not add up", () => {
    let end = plannedEnd(0, 25, 10);
    let frames = end.frames;
    for (let scene = 2; scene <= 40; scene++) {
      const onset = frames * 10;
      end = plannedEnd(onset, 25, 10, countsFrom({ timedFrom: "trial" }, end, "time"));
      frames += end.frames;
      expect(Math.abs(frames * 10 - scene * 25)).toBeLessThanOrEqual(5);
    }
  });
});
