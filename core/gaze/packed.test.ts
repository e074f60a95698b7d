import { describe, expect, it } from "vitest";
import { emptyColumns, joinSamples, packSamples, sampleBytes, timedAnew, unpackSamples } from "./packed";

const samples = (times: number[]) => {
  const columns = emptyColumns(times.length);
  columns.times.set(times);
  columns.leftX.set(times.map((time) => time / 100));
  return columns;
};

describe("packed samples", () => {
  it("are the same when they are unpacked, and pieces of them joined", () => {
    const bytes = packSamples(samples([1, 2.5, 4]));
    expect(bytes).toHaveLength(3 * sampleBytes);
    const back = unpackSamples(bytes);
    expect([...(back?.times ?? [])]).toEqual([1, 2.5, 4]);
    expect(back?.leftX[2]).toBeCloseTo(0.04, 6);
    expect(back?.rightPupil[0]).toBeNaN();
    expect(packSamples(joinSamples([samples([1]), samples([2.5, 4])]))).toEqual(bytes);
    expect([...timedAnew(samples([1, 2]), (time) => time * 2).times]).toEqual([2, 4]);
  });
  it("are none with bytes left over, or with times that are none or go back", () => {
    expect(unpackSamples(packSamples(samples([1, 2])).subarray(1))).toBeNull();
    expect(unpackSamples(packSamples(samples([2, 1])))).toBeNull();
    expect(unpackSamples(packSamples(samples([NaN])))).toBeNull();
  });
});
