import type { Measured } from "./measured";

export const interruptedColumns = ["attempt", "trial_interrupted"];

/** Trials during which something came between: they were finished all the same, or broken off and shown again. */
export function wereInterrupted(data: Measured): Uint8Array {
  const marks = data.areWord("trial_interrupted", (word) => word !== null && word !== "");
  const attempts = data.numbers("attempt");
  for (let row = 0; row < marks.length; row++) if ((attempts[row] as number) > 1) marks[row] = 1;
  return marks;
}
