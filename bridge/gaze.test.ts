import { appendFile, mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, describe, expect, it } from "vitest";
import { WebSocket } from "ws";
import type { BridgeDevice } from "../core/bridge/messages";
import type { SampleColumns } from "../core/gaze/packed";
import { BridgeLink, type MakeSocket } from "../player/bridge/link";
import { startBridge } from "./bridge";
import { simulatedTracker, type SimulatedTrackerOptions } from "./simulated-tracker";

const undone: (() => Promise<unknown>)[] = [];
afterEach(async () => {
  for (const undo of undone.splice(0).toReversed()) await undo().catch(() => undefined);
});
const until = async (isSo: () => boolean) => {
  while (!isSo()) await new Promise((resolve) => setTimeout(resolve, 5));
};
const fromLab: MakeSocket = (address) =>
  new WebSocket(address, { origin: "http://lab.example" }) as unknown as ReturnType<MakeSocket>;

const eyesAt = (port: number): BridgeDevice => ({
  ...{ id: "eyes", name: "Eye tracker" },
  settings: { kind: "tracker", adapter: "lines", host: "127.0.0.1", port },
});
type Piece = { number: number; samples: SampleColumns };
async function folder(): Promise<string> {
  const path = await mkdtemp(join(tmpdir(), "lapwing-gaze-"));
  undone.push(() => rm(path, { recursive: true, force: true }));
  return path;
}
async function bridgeIn(at: string) {
  const bridge = await startBridge({ port: 0, folder: at });
  undone.push(() => bridge.stop());
  return bridge;
}
async function trackerAt(options: SimulatedTrackerOptions = {}, port = 0) {
  const tracker = await simulatedTracker(port, { rate: 500, ...options });
  undone.push(() => tracker.stop());
  return tracker;
}
async function reached(port: number, secret: string | null) {
  const link = await BridgeLink.reach(port, secret, fromLab);
  undone.push(async () => link.close());
  const pieces: Piece[] = [];
  link.onGaze = (number, samples) => void pieces.push({ number, samples });
  return { link, pieces };
}
async function withTracker(options: SimulatedTrackerOptions = {}) {
  const at = await folder();
  const bridge = await bridgeIn(at);
  const tracker = await trackerAt(options);
  const { link, pieces } = await reached(bridge.port, null);
  const secret = await link.pair(bridge.code());
  await link.keep(eyesAt(tracker.port));
  return { at, bridge, tracker, link, pieces, secret };
}
const numbers = (pieces: readonly Piece[]) => pieces.map(({ number }) => number);
const upTo = (count: number, from = 1) => Array.from({ length: count }, (_, index) => from + index);

describe("an eye tracker on the bridge", () => {
  it("is tested in place: samples a second, and whether eyes are seen", async () => {
    const { link, tracker } = await withTracker();
    const test = await link.test("eyes", 1);
    expect(test.problem).toBeNull();
    expect(test.rate).toBeGreaterThan(450);
    expect(test.seen).toBeGreaterThan(0.5);
    await tracker.stop();
    expect((await link.test("eyes", 1)).problem).toContain("nothing listens at its port");
    const blind = await trackerAt({ lost: 1 });
    await link.keep(eyesAt(blind.port));
    expect((await link.test("eyes", 1)).problem).toContain("no eye is seen");
  });

  it("gives pieces in their order, at times that go on, with a drifting clock of its own", async () => {
    const { link, pieces } = await withTracker({ driftPpm: 200 });
    const from = performance.timeOrigin + performance.now();
    await link.start("s1 x", { session: "s1", have: 0 });
    link.look([{ x: 0.2, y: -0.1, chance: 1 }]);
    await until(() => pieces.length >= 12);
    // It looks where it was told that there is something.
    await until(() => (pieces.at(-1)?.samples.leftX.find((x) => !Number.isNaN(x)) ?? 0) > 0.1);
    await link.stop();
    const till = performance.timeOrigin + performance.now();
    expect(numbers(pieces)).toEqual(upTo(pieces.length));
    const times = pieces.flatMap(({ samples }) => [...samples.times]);
    expect(times.every((time, index) => time >= (times[index - 1] ?? -Infinity))).toBe(true);
    expect(times[0]).toBeGreaterThan(from - 50);
    expect(times.at(-1)).toBeLessThan(till + 50);
    const ended = pieces.length;
    await link.exchange();
    expect(pieces).toHaveLength(ended);
  });

  it("sends what is not safe elsewhere again to a page that was loaded anew, and goes on with its numbers", async () => {
    const { bridge, link, pieces, secret } = await withTracker();
    await link.start("s1 x", { session: "s1", have: 0 });
    await until(() => pieces.length >= 6);
    link.close();
    const again = await reached(bridge.port, secret);
    await again.link.start("s1 y", { session: "s1", have: 4 });
    await until(() => again.pieces.length >= 10);
    expect(numbers(again.pieces)).toEqual(upTo(again.pieces.length, 5));
    for (const { number, samples } of again.pieces) {
      const known = pieces.find((piece) => piece.number === number);
      if (known) expect(samples).toEqual(known.samples);
    }
    // Of another session nothing is there yet.
    await again.link.stop();
    const other = await reached(bridge.port, secret);
    await other.link.start("s2 z", { session: "s2", have: 0 });
    await until(() => other.pieces.length >= 2);
    expect(numbers(other.pieces).slice(0, 2)).toEqual([1, 2]);
  });

  it("has kept on its disk what it recorded when it was stopped in the middle, without what was cut off", async () => {
    const { at, bridge, link, pieces, secret } = await withTracker();
    await link.start("s1 x", { session: "s1", have: 0 });
    await until(() => pieces.length >= 5);
    await bridge.stop();
    await appendFile(join(at, "gaze", "s1.gaze"), Uint8Array.of(200, 0, 0, 0, 9, 9));
    const again = await bridgeIn(at);
    const back = await reached(again.port, secret);
    await back.link.start("s1 y", { session: "s1", have: 0 });
    await until(() => back.pieces.length >= pieces.length + 3);
    expect(numbers(back.pieces)).toEqual(upTo(back.pieces.length));
    expect(back.pieces.slice(0, pieces.length)).toEqual(pieces);
  });

  it("that is lost and found again goes on, and the gap is known by its times", async () => {
    const { link, pieces, tracker } = await withTracker();
    await link.start("s1 x", { session: "s1", have: 0 });
    await until(() => pieces.length >= 3);
    await tracker.stop();
    await until(() => link.devices[0]?.state === "lost");
    const before = pieces.length;
    await trackerAt({}, tracker.port);
    await until(() => pieces.length >= before + 3);
    expect(numbers(pieces)).toEqual(upTo(pieces.length));
    const times = pieces.flatMap(({ samples }) => [...samples.times]);
    expect(Math.max(...times.slice(1).map((time, index) => time - (times[index] ?? 0)))).toBeGreaterThan(100);
  });
});
