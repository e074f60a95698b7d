/** Refresh rates displays commonly have, in Hz. */
export const commonRates = [60, 75, 120, 144] as const;

/** Into how many frames a duration is turned, and how long they last: a scene is on for at least one frame. */
export function framesOf(ms: number, hertz: number): { frames: number; ms: number; off: number } {
  const frames = Math.max(1, Math.round((ms * hertz) / 1000));
  const lasts = (frames * 1000) / hertz;
  return { frames, ms: lasts, off: lasts - ms };
}

const signed = (ms: number) => `${ms > 0 ? "+" : "−"}${Math.abs(ms).toFixed(1)} ms`;

/** “9 frames at 60 Hz”, with what rounding adds or takes where it is a tenth of a millisecond or more. */
export function framesInWords(ms: number, hertz: number): string {
  const { frames, off } = framesOf(ms, hertz);
  return `${frames} ${frames === 1 ? "frame" : "frames"} at ${hertz} Hz${Math.abs(off) >= 0.05 ? ` (${signed(off)})` : ""}`;
}
