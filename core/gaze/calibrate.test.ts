import { describe, expect, it } from "vitest";
import { streamFor } from "../random/stream";
import { calibrate, calibrated, pointsOf, validationPoints, type PointLook, type Place } from "./calibrate";
import { isGoodEnough, validate } from "./validate";

const half = { x: 80, y: 50 };
const unitsPerDegree = 3;
/** What a tracker makes of a place: squeezed, shifted and bent, the right eye otherwise than the left. */
const distorted = ({ x, y }: Place, by: 1 | -1): Place => ({
  x: 0.93 * x + 4 * by + 0.0015 * x * x,
  y: 1.05 * y - 2 + 0.002 * x * y * by,
});
function look(at: Place, { noise = 0.2, lostLeft = false, aside = { x: 0, y: 0 } } = {}): PointLook {
  const chance = streamFor("look", String(at.x), String(at.y));
  const jitter = () => (chance.unit() - 0.5) * noise * 2;
  const eye = (by: 1 | -1, isLost: boolean) => {
    const places = Array.from({ length: 60 }, () => {
      const there = distorted({ x: at.x + aside.x, y: at.y + aside.y }, by);
      return isLost ? { x: NaN, y: NaN } : { x: there.x + jitter(), y: there.y + jitter() };
    });
    return { x: places.map(({ x }) => x), y: places.map(({ y }) => y) };
  };
  return { ...at, left: eye(1, lostLeft), right: eye(-1, false) };
}

describe("a calibration", () => {
  it.each(["nine", "thirteen"] as const)("of %s points takes out what the tracker bends", (count) => {
    const calibration = calibrate(pointsOf(count, half).map((at) => look(at)));
    const found = validate(
      validationPoints(half).map((at) => look(at)),
      calibration,
      unitsPerDegree,
    );
    expect(found.worst).toBeLessThan(0.25);
    const before = validate(
      validationPoints(half).map((at) => look(at)),
      null,
      unitsPerDegree,
    );
    expect(before.all.left?.accuracy).toBeGreaterThan(1);
    expect(isGoodEnough(found, 0.5)).toBe(true);
  });
  it("of five points takes out what is straight, of one the shift alone", () => {
    const straight = (at: Place) => {
      const known = look(at, { noise: 0 });
      const eye = { x: known.left.x.map(() => at.x * 0.9 + 3), y: known.left.y.map(() => at.y * 1.1 - 2) };
      return { ...at, left: eye, right: eye };
    };
    const five = calibrate(pointsOf("five", half).map(straight));
    expect(validate(validationPoints(half).map(straight), five, unitsPerDegree).worst).toBeCloseTo(0, 6);
    const one = calibrate(pointsOf("one", half).map(straight));
    expect(one.left).toEqual({ x: [-3], y: [2] });
    expect(calibrated(one.left ?? { x: [], y: [] }, { x: 10, y: 10 })).toEqual({ x: 7, y: 12 });
  });
  it("of an eye that was not seen is none, and the other eye tells alone", () => {
    const calibration = calibrate(pointsOf("nine", half).map((at) => look(at, { lostLeft: true })));
    expect(calibration.left).toBeNull();
    const found = validate(
      validationPoints(half).map((at) => look(at, { lostLeft: true })),
      calibration,
      unitsPerDegree,
    );
    expect(found.all.left).toBeNull();
    expect(found.all.both?.accuracy).toBe(found.all.right?.accuracy);
  });
  it("leaves a point out that was not seen, and needs enough of them", () => {
    const points = pointsOf("nine", half);
    const blind = (from: number) => calibrate(points.map((at, index) => look(at, { lostLeft: index >= from })));
    expect(blind(8).left?.x).toHaveLength(6);
    expect(blind(6).left?.x).toHaveLength(4);
    expect(blind(4).left).toBeNull();
  });
  it("is told wrong at the point at which somebody looked elsewhere", () => {
    const points = pointsOf("nine", half);
    const calibration = calibrate(points.map((at) => look(at)));
    const shown = validationPoints(half).map((at, index) => look(at, index === 1 ? { aside: { x: 12, y: 0 } } : {}));
    const { points: told, worst } = validate(shown, calibration, unitsPerDegree);
    expect(told.map(({ both }) => (both?.accuracy ?? 0) > 1)).toEqual([false, true, false, false]);
    expect(worst).toBeGreaterThan(3);
  });
  it("knows no accuracy where a point was not seen at all", () => {
    const unseen = { x: [NaN, NaN], y: [NaN, NaN] };
    const found = validate([{ x: 0, y: 0, left: unseen, right: unseen }], null, 3);
    expect(found).toMatchObject({ worst: null, all: { both: null } });
    expect(isGoodEnough(found, 5)).toBe(false);
  });
  it("tells precision from sample to sample and as a spread", () => {
    const zigzag = { x: [0, 3, 0, 3], y: [0, 0, 0, 0] };
    const { all } = validate([{ x: 1.5, y: 0, left: zigzag, right: zigzag }], null, 3);
    expect(all.both).toEqual({ accuracy: 0, rms: 1, sd: 0.5, lost: 0 });
  });
});
