import { describe, expect, it } from "vitest";
import { plainStudy } from "~/tests/support/studies";
import { blocksInOrder } from "../design/lookup";
import type { SceneEnd, SceneRecord, TrialRecord } from "../records/record";
import { spreadOf, TimingGatherer } from "./report";
import { verdict } from "./verdict";

const document = plainStudy();
const [block] = blocksInOrder(document);
if (!block) throw new Error("no block");
const scene = block.scenes[0]?.id ?? "";
const facts = (participant: number) => ({
  session: `s-${participant}`,
  participant,
  browser: "b",
  display: {
    refreshMs: 1000 / 60,
    refreshSd: 0,
    width: 1,
    height: 1,
    pixelRatio: 1,
    isolated: true,
    soundLatencyMs: null,
  },
});
const shown = (frames: number, planned: number, by: SceneEnd["by"] = "time"): SceneRecord => ({
  scene,
  onset: 1000,
  end: 1000 + (frames * 1000) / 60,
  planned: (planned * 1000) / 60,
  ended: { by, frames, planned },
});
const trial = (...scenes: SceneRecord[]): TrialRecord => ({
  kind: "trial",
  number: 1,
  part: block.id,
  trial: 1,
  pass: 1,
  row: "r",
  scenes,
  answers: [],
  lateFrames: 0,
  observed: [],
  placed: {},
});

describe("the timing report", () => {
  it("counts scenes by how many frames they were off, and leaves those out that an answer ended", () => {
    const timing = new TimingGatherer();
    timing.add(facts(1), document, trial(shown(9, 9), shown(10, 9), shown(12, 9), shown(8, 9), shown(3, 90, "answer")));
    const report = timing.report();
    expect(report).toMatchObject({ count: 4, exact: 1, early: 1, lateByOne: 1, lateByMore: 1, uncounted: 0 });
    expect(report.scenes[0]?.deviation.largest).toBeCloseTo(50, 6);
    expect(report.scenes[0]?.measured.median).toBeCloseTo(150, 6);
  });

  it("keeps scenes on a display without a fixed refresh apart, and tells them in milliseconds", () => {
    const timing = new TimingGatherer();
    const unframed = (ms: number): SceneRecord => ({
      ...{ scene, onset: 0, end: ms, planned: 150 },
      ended: { by: "time", frames: 11, planned: null },
    });
    timing.add(facts(1), document, trial(unframed(151), unframed(149), unframed(155)));
    expect(timing.report()).toMatchObject({ count: 0, exact: 0, unframed: { count: 3, deviation: { largest: 5 } } });
    expect(verdict(timing.report())).toEqual([
      "3 timed scenes were on a display without a fixed refresh, where no number of frames is planned; they were off by 1.0 ms in the median and 5.0 ms at most.",
    ]);
    timing.add(facts(2), document, trial(shown(9, 9)));
    expect(timing.report()).toMatchObject({ count: 1, exact: 1, scenes: [{ count: 1, unframed: 3 }] });
    expect(verdict(timing.report())).toHaveLength(3);
  });

  it("leaves out trials in which the participant looked away, and says so", () => {
    const timing = new TimingGatherer();
    timing.add(facts(1), document, trial(shown(9, 9)));
    timing.add(facts(1), document, { ...trial(shown(400, 9)), interrupted: "focus" });
    expect(timing.report()).toMatchObject({ count: 1, exact: 1, lateByMore: 0, interrupted: 1 });
    expect(verdict(timing.report()).at(-1)).toBe(
      "Left out is one trial in which the participant looked away or left full screen.",
    );
  });

  it("says in a sentence where the late scenes lie", () => {
    const timing = new TimingGatherer();
    for (let participant = 1; participant <= 6; participant++)
      timing.add(facts(participant), document, trial(...Array.from({ length: 100 }, () => shown(9, 9))));
    timing.add(facts(7), document, trial(...Array.from({ length: 5 }, () => shown(10, 9)), shown(9, 9)));
    timing.add(facts(2), document, trial(shown(10, 9)));
    expect(verdict(timing.report())).toEqual([
      "99.0 % of 607 timed scenes lasted exactly as many frames as planned; 6 one frame late, 5 of them in the session of participant 7, whose computer was busy or slow.",
      "None was off by more than one frame.",
      "The display ran at 60 Hz.",
    ]);
  });

  it("never rounds up to all", () => {
    const timing = new TimingGatherer();
    timing.add(facts(1), document, trial(...Array.from({ length: 4999 }, () => shown(9, 9)), shown(10, 9)));
    expect(verdict(timing.report())[0]).toMatch(/^99\.9 % of 5,000/);
  });

  it("says so where nothing was timed or nothing was counted", () => {
    const timing = new TimingGatherer();
    expect(verdict(timing.report())).toEqual(["No scene with a time of its own has been played yet."]);
    timing.add(facts(1), document, trial({ scene, onset: 0, end: 100, planned: 100 }));
    expect(verdict(timing.report())[0]).toMatch(/before frames were counted/);
  });

  it("takes quantiles by nearest rank", () => {
    expect(spreadOf(Array.from({ length: 100 }, (_, index) => 100 - index))).toEqual({
      median: 50,
      p95: 95,
      p99: 99,
      largest: 100,
    });
    expect(spreadOf([])).toBeNull();
  });
});
