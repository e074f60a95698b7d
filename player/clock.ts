/** Session time: milliseconds since the session's start, on the browser's own steady clock, kept over reloads. */
export type Clock = {
  /** Session time of a time stamp of this page (an event's or a frame's), to a thousandth of a millisecond. */
  at: (timeStamp: number) => number;
  now: () => number;
  /** By how many milliseconds the computer's clock had to be corrected, because it stood before what is recorded already. */
  correctedBy: number;
};

/**
 * `startedAt` is the wall-clock time of the session's start on this computer, in ms since 1970. Within a page times come
 * from the steady clock alone; only where a page takes over from an earlier one is the wall clock between them, and when
 * that was set back, time goes on from `notBefore`, the latest time that is recorded. In a
 * rehearsal it can pass so many `times` as fast.
 */
export function sessionClock(startedAt: number, notBefore = 0, times = 1): Clock {
  const said = (performance.timeOrigin + performance.now() - startedAt) * times;
  const correctedBy = Math.max(0, notBefore - said);
  const origin = startedAt - performance.timeOrigin - correctedBy / times;
  const at = (timeStamp: number) => Math.max(0, Math.round((timeStamp - origin) * times * 1000) / 1000);
  return { at, now: () => at(performance.now()), correctedBy };
}
