import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { SessionRecord } from "~/core/records/record";
import type { LogChunk } from "~/core/records/log";
import { TakenOver, type Kept, type Outbox, type Remembered } from "./outbox";
import { Sender } from "./sender";

const record = (number: number): SessionRecord => ({
  kind: "page",
  number,
  part: "p",
  shown: number,
  done: number + 1,
});

const session: Remembered = { entry: "e", secret: "secret", session: "s-1", startedAt: 0, owner: "me" };
const only = (...records: SessionRecord[]): Kept => ({ records, log: [] });

type Disk = Outbox & { kept: Map<number, SessionRecord>; log: Set<LogChunk>; isFull: boolean; owner: string };

/** A disk that keeps records in memory and can be full. */
function disk(): Disk {
  const kept = new Map<number, SessionRecord>();
  const log = new Set<LogChunk>();
  const self = {
    kept,
    log,
    isFull: false,
    owner: "me",
    remembered: () => Promise.resolve(null),
    remember: () => Promise.resolve(),
    forget: () => Promise.resolve(),
    add: ({ owner }: Remembered, given: Kept) => {
      if (owner !== self.owner) return Promise.reject(new TakenOver());
      if (self.isFull) return Promise.reject(new Error("quota"));
      for (const each of given.records) kept.set(each.number, each);
      for (const chunk of given.log) log.add(chunk);
      return Promise.resolve();
    },
    waiting: () => Promise.resolve({ records: [...kept.values()], log: [...log] }),
    acknowledge: (_: string, upTo: number, sent: LogChunk[]) => {
      for (const number of kept.keys()) if (number <= upTo) kept.delete(number);
      for (const chunk of sent) log.delete(chunk);
      return Promise.resolve();
    },
  };
  return self;
}

/** A server that stores by number and fails as often as it is told to. */
const server = {
  stored: new Map<number, SessionRecord>(),
  log: 0,
  failures: 0,
  garbled: 0,
  strange: 0,
  superseded: false,
  /** Records and pieces it takes at once, and the record it will not take. */
  most: Infinity,
  unfit: 0,
  requests: 0,
};
const answer = (init: { body: string }): Response => {
  if (server.strange-- > 0) return Response.json({ ok: true });
  const sent = JSON.parse(init.body) as Kept;
  server.requests++;
  if (sent.records.length + sent.log.length > server.most)
    return Response.json({ reason: "Too much at once. Send fewer records." }, { status: 413 });
  if (sent.records.some(({ number }) => number === server.unfit))
    return Response.json({ reason: "It does not fit." }, { status: 400 });
  server.log += sent.log.length;
  for (const each of sent.records) server.stored.set(each.number, server.stored.get(each.number) ?? each);
  let acknowledged = 0;
  while (server.stored.has(acknowledged + 1)) acknowledged++;
  // The records are stored, but the participant never hears of it.
  if (server.garbled-- > 0) return new Response("<html>a proxy's page</html>");
  return Response.json({ acknowledged, finished: false, code: null, superseded: server.superseded });
};

beforeEach(() => {
  vi.useFakeTimers();
  Object.assign(server, { stored: new Map(), log: 0, failures: 0, garbled: 0, strange: 0, superseded: false });
  Object.assign(server, { most: Infinity, unfit: 0, requests: 0 });
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
  const sender = new Sender(box, session);
  for (let number = 1; number <= count; number++) await sender.keep(only(record(number)));
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
  Object.assign(server, { failures: 7, garbled: 3, strange: 2 });
  const box = disk();
  await keepAll(box, 5);
  expect([server.stored.size, box.kept.size]).toEqual([5, 0]);
});

it("keeps on disk what the server has not acknowledged", async () => {
  server.failures = 1000;
  const box = disk();
  const sender = new Sender(box, session);
  await sender.keep(only(record(1), record(2)));
  await vi.advanceTimersByTimeAsync(60_000);
  expect([box.kept.size, server.stored.size]).toEqual([2, 0]);
});

it("sends also what a full disk would not take", async () => {
  const box = disk();
  box.isFull = true;
  await keepAll(box, 3);
  expect([...server.stored.keys()]).toEqual([1, 2, 3]);
});

it("tells up to where all is acknowledged and what the trouble is", async () => {
  server.failures = 1;
  const told: [number, string | null][] = [];
  const sender = new Sender(disk(), session);
  sender.onProgress = (acknowledged, trouble) => told.push([acknowledged, trouble]);
  await sender.keep(only(record(1)));
  await vi.advanceTimersByTimeAsync(5000);
  expect(told).toEqual([
    [0, "no network"],
    [1, null],
  ]);
});

it("sends what was logged along with the records, also where nothing else waits", async () => {
  const box = disk();
  const sender = new Sender(box, session);
  const chunk = (number: number): LogChunk => ({ opening: "a", number, entries: [{ at: 1, what: "opened" }] });
  await sender.keep({ records: [record(1)], log: [chunk(1)] });
  await sender.keep({ records: [], log: [chunk(2)] });
  await sender.drained();
  expect([server.log, box.log.size]).toEqual([2, 0]);
});

it("keeps and sends nothing more once another window has the session", async () => {
  const box = disk();
  const sender = new Sender(box, session);
  const lost: string[] = [];
  sender.onLost = (to) => lost.push(to);
  await sender.keep(only(record(1)));
  await sender.drained();
  box.owner = "another window";
  void sender.keep(only(record(2)));
  await vi.advanceTimersByTimeAsync(5000);
  expect([lost, [...server.stored.keys()], box.kept.size]).toEqual([["window"], [1], 0]);
});

it("sends what it still has and stops when the session goes on at another computer", async () => {
  server.superseded = true;
  const box = disk();
  const sender = new Sender(box, session);
  const lost: string[] = [];
  sender.onLost = (to) => lost.push(to);
  await sender.keep(only(record(1)));
  await vi.advanceTimersByTimeAsync(5000);
  expect([lost, box.kept.size]).toEqual([["computer"], 0]);
});

it("does not wait out a pause when the network is back", async () => {
  server.failures = 6;
  const sender = new Sender(disk(), session);
  await sender.keep(only(record(1)));
  await vi.advanceTimersByTimeAsync(20_000);
  expect([server.stored.size, server.failures]).toEqual([0, 0]);
  sender.nudge();
  await vi.advanceTimersByTimeAsync(50);
  expect(server.stored.size).toBe(1);
});

it("sends less at once where the server says that it is too much", async () => {
  server.most = 7;
  const box = disk();
  await keepAll(box, 250);
  expect([server.stored.size, box.kept.size]).toEqual([250, 0]);
});

it("sends no more at once than goes through", async () => {
  const box = disk();
  const sender = new Sender(box, session);
  server.failures = 1;
  const long = (number: number): SessionRecord => ({ ...record(number), part: "p".repeat(40_000) }) as SessionRecord;
  await sender.keep(only(...Array.from({ length: 30 }, (_, index) => long(index + 1))));
  await vi.advanceTimersByTimeAsync(5000);
  expect([server.stored.size, server.requests]).toEqual([30, 5]);
});

it("a record that the server will not take keeps no other back, stays here, and is tried again", async () => {
  server.unfit = 3;
  const box = disk();
  const sender = new Sender(box, session);
  const told: (string | null)[] = [];
  sender.onProgress = (_, trouble) => told.push(trouble);
  const log: LogChunk[] = [{ opening: "a", number: 1, entries: [] }];
  await sender.keep({ records: Array.from({ length: 40 }, (_, index) => record(index + 1)), log });
  await vi.advanceTimersByTimeAsync(10_000);
  expect(server.stored.size).toBe(39);
  expect([box.kept.has(3), box.kept.size, box.log.size]).toEqual([true, 38, 0]);
  expect(told.at(-1)).toBe("It does not fit.");
  const before = server.requests;
  await vi.advanceTimersByTimeAsync(60_000);
  expect(server.requests - before).toBeLessThan(60);
  server.unfit = 0;
  await vi.advanceTimersByTimeAsync(20_000);
  expect([server.stored.size, box.kept.size]).toEqual([40, 0]);
});

it("comes to its end also where the disk does not let go of what is acknowledged", async () => {
  const box = { ...disk(), acknowledge: () => Promise.reject(new Error("disk")) };
  const sender = new Sender(box, session);
  const log: LogChunk[] = [{ opening: "a", number: 1, entries: [] }];
  await sender.keep({ records: [record(1), record(2)], log });
  const drained = sender.drained();
  await vi.advanceTimersByTimeAsync(2000);
  expect((await drained)?.acknowledged).toBe(2);
  expect(server.requests).toBeLessThan(4);
});
