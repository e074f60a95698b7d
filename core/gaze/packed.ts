/**
 * Samples of a tracker in columns of one length: times in milliseconds; places of each eye from −0.5 to 0.5 of the display, to the
 * right and downwards; pupils in millimetres; how far the eyes are, in centimetres. NaN where something was not seen.
 */
export type SampleColumns = {
  times: Float64Array;
  leftX: Float32Array;
  leftY: Float32Array;
  leftPupil: Float32Array;
  rightX: Float32Array;
  rightY: Float32Array;
  rightPupil: Float32Array;
  distance: Float32Array;
};
/** All but the times, in the order in which they are packed. */
export const packedColumns = [
  "leftX",
  "leftY",
  "leftPupil",
  "rightX",
  "rightY",
  "rightPupil",
  "distance",
] as const satisfies readonly (keyof SampleColumns)[];
type Packed = (typeof packedColumns)[number];

/** Bytes of a sample. */
export const sampleBytes = 8 + 4 * packedColumns.length;

/** Columns for so many samples. */
export const emptyColumns = (count: number): SampleColumns => ({
  times: new Float64Array(count),
  ...(Object.fromEntries(packedColumns.map((name) => [name, new Float32Array(count).fill(NaN)])) as Record<
    Packed,
    Float32Array
  >),
});

/** Samples as bytes: the times as doubles, then column after column as floats, all little-endian. */
export function packSamples(samples: SampleColumns): Uint8Array<ArrayBuffer> {
  const count = samples.times.length;
  const bytes = new Uint8Array(count * sampleBytes);
  const view = new DataView(bytes.buffer);
  for (let at = 0; at < count; at++) view.setFloat64(at * 8, samples.times[at] ?? NaN, true);
  packedColumns.forEach((name, index) => {
    const from = count * (8 + 4 * index);
    const column = samples[name];
    for (let at = 0; at < count; at++) view.setFloat32(from + at * 4, column[at] ?? NaN, true);
  });
  return bytes;
}

/** The samples that such bytes hold; null where they cannot be samples: not whole ones, or times that are none or go back. */
export function unpackSamples(bytes: Uint8Array): SampleColumns | null {
  if (bytes.byteLength % sampleBytes !== 0) return null;
  const count = bytes.byteLength / sampleBytes;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const samples = emptyColumns(count);
  for (let at = 0; at < count; at++) {
    const time = view.getFloat64(at * 8, true);
    if (!Number.isFinite(time) || time < (samples.times[at - 1] ?? -Infinity)) return null;
    samples.times[at] = time;
  }
  packedColumns.forEach((name, index) => {
    const from = count * (8 + 4 * index);
    const column = samples[name];
    for (let at = 0; at < count; at++) column[at] = view.getFloat32(from + at * 4, true);
  });
  return samples;
}

/** Pieces one after the other, as one. */
export function joinSamples(pieces: readonly SampleColumns[]): SampleColumns {
  const all = emptyColumns(pieces.reduce((sum, { times }) => sum + times.length, 0));
  let from = 0;
  for (const piece of pieces) {
    all.times.set(piece.times, from);
    for (const name of packedColumns) all[name].set(piece[name], from);
    from += piece.times.length;
  }
  return all;
}

/** The same samples at other times: `later` gives the new time of each. */
export const timedAnew = (samples: SampleColumns, later: (time: number) => number): SampleColumns => ({
  ...samples,
  times: samples.times.map(later),
});
