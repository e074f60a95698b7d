import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { streamFor } from "../random/stream";
import { ClockTie, ownTime, relateClocks, type Exchange } from "./clock";

/** Exchanges with a clock that goes by `there`, each so many milliseconds, on ways that take unequally long. */
function exchanged(there: (own: number) => number, count: number, everyMs: number, seed = "ways"): Exchange[] {
  const chance = streamFor(seed);
  return Array.from({ length: count }, (_, index) => {
    const sent = index * everyMs;
    const [out, back] = [0.2 + chance.unit() ** 4 * 8, 0.2 + chance.unit() ** 4 * 8];
    return { sent, there: there(sent + out), received: sent + out + back };
  });
}

describe("another clock", () => {
  it("that drifts by 50 ppm is related to within what is said of it, over an hour", () => {
    const drifting = (own: number) => 981_000 + own * (1 + 50e-6);
    const relation = relateClocks(exchanged(drifting, 1800, 2000));
    expect(relation?.drift).toBeCloseTo(50e-6, 6);
    for (const own of [0, 60_000, 1_800_000, 3_600_000]) {
      const told = ownTime(relation as NonNullable<typeof relation>, drifting(own));
      expect(Math.abs(told.at - own)).toBeLessThanOrEqual(told.uncertainty);
      expect(Math.abs(told.at - own)).toBeLessThan(0.2);
      expect(told.uncertainty).toBeLessThan(1);
    }
  });

  it("is known to half the round trip by a single exchange", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 50, noNaN: true }),
        fc.double({ min: 0, max: 50, noNaN: true }),
        fc.double({ min: -1e6, max: 1e6, noNaN: true }),
        (out, back, offset) => {
          const relation = relateClocks([{ sent: 1000, there: 1000 + out + offset, received: 1000 + out + back }]);
          const told = ownTime(relation as NonNullable<typeof relation>, 1000 + out + offset);
          expect(Math.abs(told.at - 1000 - out)).toBeLessThanOrEqual(told.uncertainty + 1e-6);
        },
      ),
    );
  });

  it("that jumps begins anew, and times after the jump are right again", () => {
    const jumping = (own: number) => own * (1 + 50e-6) + (own > 30_000 ? 250 : 0);
    const tie = new ClockTie();
    for (const exchange of exchanged(jumping, 30, 2000)) tie.add(exchange);
    expect(tie.jumps).toHaveLength(1);
    expect(tie.jumps[0]?.at).toBeGreaterThan(30_000);
    expect(tie.jumps[0]?.at).toBeLessThan(33_000);
    expect(tie.jumps[0]?.by).toBeCloseTo(250, -1);
    const told = ownTime(tie.relation as NonNullable<typeof tie.relation>, jumping(58_000));
    expect(Math.abs(told.at - 58_000)).toBeLessThan(1);
  });

  it("that only drifts is not said to jump", () => {
    const tie = new ClockTie();
    for (const exchange of exchanged((own) => own * (1 - 50e-6), 600, 1000, "other ways")) tie.add(exchange);
    expect(tie.jumps).toEqual([]);
  });

  it("is not known without an exchange", () => expect(relateClocks([])).toBeNull());
});
