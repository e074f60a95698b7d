import { describe, expect, it } from "vitest";
import { LiveViewer, plainLiveViewer } from "./live-viewer";

describe("a viewer who is watched", () => {
  const watch = (options: Partial<typeof plainLiveViewer>, ms: number, then?: (viewer: LiveViewer) => void) => {
    const viewer = new LiveViewer({ ...plainLiveViewer, ...options });
    then?.(viewer);
    return Array.from({ length: ms / 2 }, (_, at) => viewer.sample(at * 2));
  };
  const there = { x: 6, y: -3, chance: 1 };
  it("looks at what there is, and in the same way each time", () => {
    const seen = watch({ isBent: false }, 3000, (viewer) => viewer.look([there], 0));
    const late = seen.slice(500).flatMap(({ left }) => left ?? []);
    const mean = (of: "x" | "y") => late.reduce((sum, each) => sum + each[of], 0) / late.length;
    expect([mean("x"), mean("y")]).toEqual([expect.closeTo(6, 0), expect.closeTo(-3, 0)]);
    expect(watch({ isBent: false }, 3000, (viewer) => viewer.look([there], 0))).toEqual(seen);
  });
  it("goes from one thing to another as often as they draw it", () => {
    const seen = watch({ isBent: false, noise: 0 }, 60_000, (viewer) =>
      viewer.look([there, { x: -8, y: 2, chance: 1 }, { x: 0, y: 0, chance: 2 }], 0),
    );
    const near = (x: number) => seen.filter(({ right }) => right && Math.abs(right.x - x) < 1.5).length / seen.length;
    expect(near(0)).toBeGreaterThan(0.3);
    expect(near(6)).toBeGreaterThan(0.15);
    expect(near(-8)).toBeGreaterThan(0.15);
  });
  it("has a bad eye, blinks, and looks away from one point where that is asked for", () => {
    const lost = watch({ badEye: "left" }, 20_000);
    const share = (eye: "left" | "right") => lost.filter((each) => each[eye] === null).length / lost.length;
    expect(share("left")).toBeGreaterThan(0.3);
    expect(share("right")).toBeLessThan(0.1);
    expect(share("right")).toBeGreaterThan(0.005);
    const away = watch({ isBent: false, looksAwayAt: 1 }, 2000, (viewer) => viewer.look([there], 0)).at(-1);
    expect(Math.hypot((away?.right?.x ?? 6) - 6, (away?.right?.y ?? -3) + 3)).toBeGreaterThan(4);
  });
});
