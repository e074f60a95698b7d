import { fourHead, fourOf } from "./machine";
import { lengths } from "./timed-study";

/** A scene as it was counted: how long it should have been on and was, in ms, and in how many frames. */
export type Counted = { planned: number; frames: number; lasted: number };
const frame = 1000 / 60;

/**
 * A scene's length is one of few; the planned one is told by the trial's row, which the recorder does not know, so the nearest of
 * them is taken: they lie at least three frames apart.
 */
const nearest = (ms: number) =>
  [...new Set(lengths)].reduce((best, each) => (Math.abs(each - ms) < Math.abs(best - ms) ? each : best), 50);
export const countedOf = (scenes: readonly { onset: number; end: number }[]): Counted[] =>
  scenes.map(({ onset, end }) => ({
    planned: nearest(end - onset),
    frames: Math.round((end - onset) / frame),
    lasted: end - onset,
  }));

const offOf = ({ frames, planned }: Counted) => frames - Math.round(planned / frame);
/** The share of scenes that had just the frames they should have. */
export const exactShare = (counted: readonly Counted[]): number =>
  counted.filter((each) => offOf(each) === 0).length / counted.length;

/** A line of a table of how exact scenes were, and its head. */
export const exactnessHead = [
  ...["", "scenes", "exact", "1 late", "more late", "early"],
  ...fourHead.map((each) => `off ${each}`),
];
export function exactness(name: string, counted: readonly Counted[]): (string | number)[] {
  const off = counted.map(offOf);
  return [
    name,
    counted.length,
    `${(exactShare(counted) * 100).toFixed(3)} %`,
    off.filter((each) => each === 1).length,
    off.filter((each) => each > 1).length,
    off.filter((each) => each < 0).length,
    ...fourOf(
      counted.map(({ lasted, planned }) => Math.abs(lasted - planned)),
      3,
    ),
  ];
}
