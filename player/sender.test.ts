import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { SessionRecord } from "~/core/run/records";
import type { Outbox } from "./outbox";
import { Sender } from "./sender";

const record = (number: number): SessionRecord => ({
  kind: "page",
  number,
  part: "p",
  shown: number,
  done: number + 1,
});

/** A disk that keeps records in memory and can be full. */
function disk(): Outbox & { kept: Map<number, SessionRecord>; isFull: boolean } {
  const kept = new Map<number, SessionRecord>();
  const self = {
    kept,
    isFull: false,
    remembered: () => Promise.resolve(null),
    remember: () => Promise.resolve(),
    forget: () => Promise.resolve(),
    add: (_: string, records: SessionRecord[]) => {
      if (self.isFull) return Promise.reject(new Error("quota"));
      for (const each of records) kept.set(each.number, each);
      return Promise.resolve();
    },
    waiting: () => Promise.resolve([...kept.values()]),
    acknowledge: (_: string, upTo: number) => {
      for (const number of kept.keys()) if (number <= upTo) kept.delete(number);
      return Promise.resolve();
    },
  };
  return self;
}

/** A server that stores by number and fails as often as it is told to. */
const server = { stored: new Map<number, SessionRecord>(), failures: 0, garbled: 0 };
const answer = (init: { body: string }): Response => {
  const sent = JSON.parse(init.body) as SessionRecord[];
  for (const each of sent) server.stored.set(each.number, server.stored.get(each.number) ?? each);
  let acknowledged = 0;
  while (server.stored.has(acknowledged + 1)) acknowledged++;
  // The records are stored, but the participant never hears of it.
  if (server.garbled-- > 0) return new Response("<html>a proxy's page</html>");
  return Response.json({ acknowledged, finished: false, code: null });
};

beforeEach(() => {
  vi.useFakeTimers();
  Object.assign(server, { stored: new Map(), failures: 0, garbled: 0 });
  vi.stubGlobal("fetch", (_: string, init: { body: string }) =>
    server.failures-- > 0 ? Promise.reject(new TypeError("no network")) : Promise.resolve(answer(init)),
  );
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

/** Keeps records one after the other and waits, with time passing, until all are acknowledged. */
async function keepAll(box: ReturnType<typeof disk>, count: number): Promise<void> {
  const sender = new Sender(box, "secret", "s-1");
  for (let number = 1; number <= count; number++) await sender.keep([record(number)]);
  let isDone = false;
  const drained = sender.drained().then(() => (isDone = true));
  while (!isDone) await vi.advanceTimersByTimeAsync(1000);
  await drained;
}

it("brings every record to the server and lets go of it only then", async () => {
  const box = disk();
  await keepAll(box, 250);
  expect([...server.stored.keys()].toSorted((a, b) => a - b)).toEqual(
    Array.from({ length: 250 }, (_, index) => index + 1),
  );
  expect(box.kept.size).toBe(0);
});

it("goes on trying while the network fails, and while answers make no sense", async () => {
  Object.assign(server, { failures: 7, garbled: 3 });
  const box = disk();
  await keepAll(box, 5);
  expect([server.stored.size, box.kept.size]).toEqual([5, 0]);
});

it("keeps on disk what the server has not acknowledged", async () => {
  server.failures = 1000;
  const box = disk();
  const sender = new Sender(box, "secret", "s-1");
  await sender.keep([record(1), record(2)]);
  await vi.advanceTimersByTimeAsync(60_000);
  expect([box.kept.size, server.stored.size]).toEqual([2, 0]);
});

it("sends also what a full disk would not take", async () => {
  const box = disk();
  box.isFull = true;
  await keepAll(box, 3);
  expect([...server.stored.keys()]).toEqual([1, 2, 3]);
});

it("tells how many records wait and what the trouble is", async () => {
  server.failures = 1;
  const told: [number, string | null][] = [];
  const sender = new Sender(disk(), "secret", "s-1");
  sender.onProgress = (waiting, trouble) => told.push([waiting, trouble]);
  await sender.keep([record(1)]);
  await vi.advanceTimersByTimeAsync(5000);
  expect(told).toEqual([
    [1, "no network"],
    [0, null],
  ]);
});
