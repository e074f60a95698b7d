import { createServer, type AddressInfo } from "node:net";
import { afterEach, describe, expect, it } from "vitest";
import { joinSamples, type SampleColumns } from "../../core/gaze/packed";
import type { Attached } from "../listen";
import { NoLine } from "../lines/line";
import type { Tracker, TrackerAdapter } from "./tracker";

const until = async (isSo: () => boolean) => {
  while (!isSo()) await new Promise((resolve) => setTimeout(resolve, 5));
};

/** What every adapter of a tracker has to do, tried on a stand-in that speaks as the tracker’s program does. */
export function trackerSuite(
  name: string,
  adapter: TrackerAdapter,
  standIn: (rate: number) => Promise<Attached & { port: number }>,
): void {
  const undone: (() => Promise<unknown>)[] = [];
  afterEach(async () => {
    for (const undo of undone.splice(0).toReversed()) await undo();
  });
  async function opened(rate: number) {
    const device = await standIn(rate);
    undone.push(() => device.stop());
    const heard: SampleColumns[] = [];
    const lost: string[] = [];
    const tracker: Tracker = await adapter.open(
      { host: "127.0.0.1", port: device.port },
      { samples: (samples) => heard.push(samples), lost: (why) => lost.push(why) },
    );
    undone.push(() => tracker.close());
    return { device, tracker, heard, lost, count: () => joinSamples(heard).times.length };
  }

  describe(`the adapter ${name}`, () => {
    it("says what it reached, and tells a clock that goes on", async () => {
      const { tracker, heard } = await opened(300);
      expect(tracker).toMatchObject({ rate: 300, name: expect.stringMatching(/\S/) as string });
      const [first, second] = [await tracker.clock(), await tracker.clock()];
      expect(second).toBeGreaterThanOrEqual(first);
      expect(heard).toEqual([]);
    });
    it("gives samples in their order and at their rate from its beginning to its end", async () => {
      const { tracker, heard, count } = await opened(500);
      const before = await tracker.clock();
      tracker.begin();
      await until(() => count() >= 200);
      tracker.end();
      // What was on its way when it was told to end has come before the clock is told.
      await tracker.clock();
      const ended = count();
      await tracker.clock();
      expect(count()).toBe(ended);
      const { times, leftX, rightX } = joinSamples(heard);
      expect(times[0]).toBeGreaterThanOrEqual(before);
      const steps = [...times].slice(1).map((time, at) => time - (times[at] ?? 0));
      expect(Math.min(...steps)).toBeGreaterThan(0);
      expect(((times.length - 1) * 1000) / ((times.at(-1) ?? 0) - (times[0] ?? 0))).toBeCloseTo(500, -1);
      expect(leftX.some((x) => !Number.isNaN(x)) && rightX.some((x) => !Number.isNaN(x))).toBe(true);
    });
    it("tells that it was lost, once", async () => {
      const { device, tracker, lost } = await opened(300);
      tracker.begin();
      await device.stop();
      await until(() => lost.length > 0);
      expect(lost[0]).toMatch(/closed the connection/);
      await tracker.close();
      expect(lost).toHaveLength(1);
    });
    it("tells a wrong port, and something else that listens there, in words", async () => {
      const hearing = { samples: () => undefined, lost: () => undefined };
      const other = createServer((socket) => socket.resume().end("220 post office\r\n"));
      await new Promise<void>((resolve) => other.listen(0, "127.0.0.1", resolve));
      const { port } = other.address() as AddressInfo;
      await expect(adapter.open({ host: "127.0.0.1", port }, hearing)).rejects.toThrow("it is no eye tracker");
      await new Promise((resolve) => other.close(resolve));
      const closed = adapter.open({ host: "127.0.0.1", port }, hearing);
      await expect(closed).rejects.toThrow("nothing listens at its port");
      await expect(closed).rejects.toBeInstanceOf(NoLine);
    });
  });
}
