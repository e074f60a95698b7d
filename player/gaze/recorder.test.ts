import { afterEach, describe, expect, it, vi } from "vitest";
import { emptyColumns, unpackSamples } from "~/core/gaze/packed";
import { GazeRecorder } from "./recorder";

const samples = (...times: number[]) => {
  const columns = emptyColumns(times.length);
  columns.times.set(times);
  return columns;
};

/** A server that stores the next piece, or does not answer for a while. */
function server() {
  const stored: number[][] = [];
  const state = { number: 0, through: 0 };
  const away = { times: 0 };
  vi.stubGlobal("fetch", async (_: string, init: RequestInit) => {
    if (away.times > 0) {
      away.times--;
      throw new TypeError("Failed to fetch");
    }
    if (init.method === "POST") {
      const piece = JSON.parse(init.body as string) as { number: number; through: number; samples: string };
      if (piece.number === state.number + 1 && piece.through > state.through) {
        const packed = new Blob([Uint8Array.from(atob(piece.samples), (each) => each.charCodeAt(0))]).stream();
        const bytes = await new Response(packed.pipeThrough(new DecompressionStream("gzip"))).arrayBuffer();
        stored.push([...(unpackSamples(new Uint8Array(bytes))?.times ?? [])]);
        Object.assign(state, { number: piece.number, through: piece.through });
      }
    }
    return Response.json(state);
  });
  return { stored, state, away };
}
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

describe("what was recorded of gaze", () => {
  it("is sent together, in its order, until the server has it", async () => {
    const { stored, state } = server();
    const recorder = new GazeRecorder("secret");
    await recorder.open();
    recorder.take(1, samples(10, 20), 0.1);
    recorder.take(2, samples(30), 0.1);
    // The same again is nothing new.
    recorder.take(2, samples(30), 0.1);
    await recorder.drained();
    expect(stored).toEqual([[10, 20, 30]]);
    expect(state).toEqual({ number: 1, through: 2 });
    expect(recorder.through).toBe(2);
  });
  it("is not sent twice where the server was away as the page was loaded, and the bridge sent all of it again", async () => {
    const { stored, state, away } = server();
    Object.assign(state, { number: 3, through: 2 });
    away.times = 1;
    const recorder = new GazeRecorder("secret");
    await expect(recorder.open()).rejects.toThrow();
    expect(recorder.through).toBe(0);
    recorder.take(1, samples(10), null);
    recorder.take(2, samples(20), null);
    recorder.take(3, samples(30), null);
    await recorder.drained();
    expect(stored).toEqual([[30]]);
    expect(state).toEqual({ number: 4, through: 3 });
  });
  it("is sent as it comes, also where the server was away as the page was loaded", async () => {
    vi.useFakeTimers({ toFake: ["setInterval", "clearInterval"] });
    const { stored, away } = server();
    away.times = 1;
    const recorder = new GazeRecorder("secret");
    await expect(recorder.open()).rejects.toThrow();
    recorder.take(1, samples(10), null);
    expect(recorder.isWaiting).toBe(true);
    vi.advanceTimersByTime(5000);
    await vi.waitFor(() => expect(recorder.isWaiting).toBe(false));
    expect(stored).toEqual([[10]]);
    await recorder.drained();
  });
  it("waits and tries again while the server does not answer", async () => {
    const { stored, away } = server();
    const recorder = new GazeRecorder("secret");
    await recorder.open();
    away.times = 1;
    recorder.take(1, samples(10), null);
    await recorder.drained();
    expect(stored).toEqual([[10]]);
  });
});
