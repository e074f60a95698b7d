import type { Measured, Standing } from "./measured";

/** The trials of each group whose times are in, by their places, in their order. */
export function* timedGroups(
  data: Measured,
  { group, count }: { group: Int32Array; count: number },
  { timed }: Standing,
  isTaken: (row: number) => boolean = () => true,
): Generator<{ rows: Uint32Array; times: Float64Array }> {
  const { rt } = data;
  const starts = new Uint32Array(count + 1);
  const isIn = new Uint8Array(group.length);
  for (let row = 0; row < group.length; row++) {
    if (timed[row] !== 1 || Number.isNaN(rt[row] as number) || !isTaken(row)) continue;
    isIn[row] = 1;
    const next = (group[row] as number) + 1;
    starts[next] = (starts[next] as number) + 1;
  }
  for (let at = 0; at < count; at++) starts[at + 1] = (starts[at + 1] as number) + (starts[at] as number);
  const places = starts.slice();
  const rows = new Uint32Array(starts[count] as number);
  for (let row = 0; row < group.length; row++) {
    if (isIn[row] !== 1) continue;
    const own = group[row] as number;
    const place = places[own] as number;
    rows[place] = row;
    places[own] = place + 1;
  }
  for (let at = 0; at < count; at++) {
    const own = rows.subarray(starts[at], starts[at + 1]);
    if (own.length === 0) continue;
    const times = new Float64Array(own.length);
    for (let index = 0; index < own.length; index++) times[index] = rt[own[index] as number] as number;
    yield { rows: own, times };
  }
}
