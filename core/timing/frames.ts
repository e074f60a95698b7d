/** Refresh rates displays commonly have, in Hz. */
export const commonRates = [60, 75, 120, 144] as const;

/** Into how many frames a duration is turned, and how long they last: a scene is on for at least one frame. */
export function framesOf(ms: number, hertz: number): { frames: number; ms: number; off: number } {
  const frames = Math.max(1, Math.round((ms * hertz) / 1000));
  const lasts = (frames * 1000) / hertz;
  return { frames, ms: lasts, off: lasts - ms };
}

/**
 * Whether a display has no fixed refresh: more than a quarter of the intervals between frames (ms) are no whole multiple of
 * the usual one, by more than 12 % of it and more than a browser rounds its stamps (1.1 ms). Dropped frames are multiples.
 */
export function isVariable(intervals: ArrayLike<number>, usual: number): boolean {
  const most = Math.max(0.12 * usual, 1.1);
  let off = 0;
  for (let index = 0; index < intervals.length; index++) {
    const interval = intervals[index] ?? usual;
    if (Math.abs(interval - Math.max(1, Math.round(interval / usual)) * usual) > most) off++;
  }
  return off > intervals.length / 4;
}

const signed = (ms: number) => `${ms > 0 ? "+" : "−"}${Math.abs(ms).toFixed(1)} ms`;

/** “9 frames at 60 Hz”, with what rounding adds or takes where it is a tenth of a millisecond or more. */
export function framesInWords(ms: number, hertz: number): string {
  const { frames, off } = framesOf(ms, hertz);
  return `${frames} ${frames === 1 ? "frame" : "frames"} at ${hertz} Hz${Math.abs(off) >= 0.05 ? ` (${signed(off)})` : ""}`;
}
