import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { inOneWindow } from "./one-window";

beforeEach(() => vi.stubGlobal("navigator", {}));
afterEach(() => vi.unstubAllGlobals());
const forever = () => new Promise<void>(() => undefined);
const told = () => {
  const events: string[] = [];
  return { events, tell: (event: string) => void events.push(event) };
};

it("without locks, runs at once where no other window answers", async () => {
  const { events, tell } = told();
  await inOneWindow(
    "alone",
    async () => tell("work"),
    async () => tell("asked"),
    () => tell("lost"),
  );
  expect(events).toEqual(["work"]);
});

it("without locks, a second window asks before it takes over, and the first one hears of it", async () => {
  const [first, second] = [told(), told()];
  void inOneWindow(
    "both",
    () => (first.tell("work"), forever()),
    async () => first.tell("asked"),
    () => first.tell("lost"),
  );
  await vi.waitFor(() => expect(first.events).toEqual(["work"]));
  let allow: () => void = () => undefined;
  void inOneWindow(
    "both",
    () => (second.tell("work"), forever()),
    () => (second.tell("asked"), new Promise<void>((resolve) => (allow = resolve))),
    () => second.tell("lost"),
  );
  await vi.waitFor(() => expect(second.events).toEqual(["asked"]));
  expect(first.events).toEqual(["work"]);
  allow();
  await vi.waitFor(() => expect(first.events).toEqual(["work", "lost"]));
  expect(second.events).toEqual(["asked", "work"]);
});
