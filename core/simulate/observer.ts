import { shareRight } from "../adaptive/curve";
import type { Answered } from "../adaptive/posterior";
import { endsOf, placeOf } from "../adaptive/range";
import { adaptiveKind } from "../adaptive/registry";
import type { Adaptive } from "../adaptive/specs";
import { streamFor } from "../random/stream";

/**
 * The values one simulated observer is shown, and whether the answers are right: by the function that is fitted, with a
 * threshold so far from the hardest value to the easiest (0 to 1). It ends when enough was asked, or after `most` trials.
 */
export function observedBy(by: Adaptive, threshold: number, seed: string, most: number): Answered[] {
  const kind = adaptiveKind(by);
  const stream = streamFor(seed, "simulated observer");
  const { hardest, easiest } = endsOf(by);
  const location = hardest + threshold * (easiest - hardest);
  const spread = Math.sqrt(by.spreadFrom * by.spreadTo);
  const answered: Answered[] = [];
  while (answered.length < most && !kind.isDone(by, answered)) {
    const value = kind.next(by, answered);
    answered.push({ value, right: stream.unit() < shareRight(by, location, spread, placeOf(by, value)) });
  }
  return answered;
}
