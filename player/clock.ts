/** Session time: milliseconds since the session's start, on the browser's own steady clock, kept over reloads. */
export type Clock = {
  /** Session time of a time stamp of this page (an event's or a frame's), to a thousandth of a millisecond. */
  at: (timeStamp: number) => number;
  now: () => number;
};

/** `startedAt` is the wall-clock time of the session's start on this computer, in ms since 1970. */
export function sessionClock(startedAt: number): Clock {
  const origin = startedAt - performance.timeOrigin;
  const at = (timeStamp: number) => Math.max(0, Math.round((timeStamp - origin) * 1000) / 1000);
  return { at, now: () => at(performance.now()) };
}

/** The display's frame length in milliseconds: the median of `count` intervals between frames. */
export function measureFrame(count = 24): Promise<number> {
  return new Promise((resolve) => {
    const stamps: number[] = [];
    const frame = (stamp: number) => {
      stamps.push(stamp);
      if (stamps.length <= count) return void requestAnimationFrame(frame);
      const intervals = stamps
        .slice(1)
        .map((each, index) => each - (stamps[index] ?? each))
        .sort((a, b) => a - b);
      resolve(intervals[Math.floor(intervals.length / 2)] ?? 1000 / 60);
    };
    requestAnimationFrame(frame);
  });
}
