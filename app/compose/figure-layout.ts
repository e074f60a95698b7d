import type { AnswerSpec } from "~/core/design/answer";
import type { Block } from "~/core/design/block";

/** The layout of Figure 1, in pixels: shared by the figure on screen and the one for the paper. */
export type FigureLayout = {
  width: number;
  height: number;
  scene: { wide: number; high: number };
  spots: { x: number; y: number }[];
  /** One for each answer whose window is sound. */
  windows: { answer: AnswerSpec; path: string; label: { right: number; top: number } }[];
};

const [left, top] = [118, 8];
/** Room for the longest duration beside the last scene, and least height of a scene's words. */
const [labelWidth, labelHeight] = [240, 37];

/**
 * Steps scenes down a diagonal inside a frame. Past four they become smaller, so that seven stand clear of each other;
 * with more the figure grows beyond the frame and is scrolled.
 */
export function figureLayout(block: Block, frame: { width: number; height: number }): FigureLayout {
  const count = block.scenes.length;
  const steps = Math.max(1, count - 1);
  const high = Math.max(58, 106 - Math.max(0, count - 4) * 16);
  const wide = Math.round(high * 1.6);
  const dx = Math.max(wide * 0.42, Math.min(150, (frame.width - left - wide - labelWidth) / steps));
  const dy = Math.max(labelHeight, Math.min(58, (frame.height - high - top - 10) / steps));
  const spots = block.scenes.map((_, index) => ({
    x: Math.round(left + index * dx),
    y: Math.round(top + index * dy),
  }));
  const width = Math.max(frame.width, left + steps * dx + wide + labelWidth);
  const height = Math.max(frame.height, top + steps * dy + high + 14);
  const labels = new Map<number, number>();
  const windows = block.answers.flatMap((answer, position) => {
    const [opens, closes] = [answer.opensWith, answer.closesWith].map((id) =>
      block.scenes.findIndex((scene) => scene.id === id),
    ) as [number, number];
    const first = spots[opens];
    const last = spots[closes];
    if (!first || !last || closes < opens) return [];
    const off = 7 + position * 6;
    let path = `M${first.x} ${first.y + position * 6}h${-off}V${first.y + high + off}`;
    for (let index = opens + 1; index <= closes; index++) {
      const spot = spots[index];
      if (spot) path += `H${spot.x - off}V${spot.y + high + off}`;
    }
    const end = closes + 1 < spots.length ? Math.min(wide, dx - 12 - off) : wide;
    path += `H${last.x + Math.max(20, end)}v-6`;
    const stacked = labels.get(opens) ?? 0;
    labels.set(opens, stacked + 1);
    const edge = closes > opens ? (spots[opens + 1]?.x ?? 0) - 17 : first.x - 14 + wide * 0.75;
    return [
      {
        answer,
        path,
        label: {
          right: Math.max(150, edge),
          top: Math.min(first.y + high + off + 6 + stacked * 54, height - 56),
        },
      },
    ];
  });
  return { width, height, scene: { wide, high }, spots, windows };
}
