import { EventEmitter } from "node:events";
import type { Request, Response } from "express";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { bounded, mostBytesAnywhere, mostBytesTo, patienceMs } from "./bounds";

describe("the most that may be sent", () => {
  it.each([
    ["/sign-in", 100],
    ["/first-account.data", 100],
    ["/studies/amber-quay/history", 100],
    ["/studies/amber-quay/edits", 20 * 1024],
    ["/api/session/records", 4 * 1024],
    ["/studies/../edits/x", 100],
    ["/nowhere/studies", 100],
  ])("to %s is %d kB", (path, kilobytes) => expect(mostBytesTo(path)).toBe(kilobytes * 1024));
  it("is a file for a study or a medium", () => {
    for (const path of ["/studies", "/studies.data", "/studies/amber-quay/media"])
      expect(mostBytesTo(path)).toBeGreaterThan(100 * 1024 * 1024);
    expect(mostBytesAnywhere).toBeGreaterThanOrEqual(mostBytesTo("/studies"));
  });
});

describe("a body that comes slowly", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());
  const sent = (length: number) => {
    const request = Object.assign(new EventEmitter(), {
      path: "/sign-in",
      get: () => String(length),
      destroy: vi.fn(),
    });
    const next = vi.fn();
    bounded(request as unknown as Request, {} as Response, next);
    expect(next).toHaveBeenCalledOnce();
    return request;
  };

  it("is cut when its time is over", () => {
    const request = sent(50_000);
    vi.advanceTimersByTime(patienceMs(50_000) - 1);
    expect(request.destroy).not.toHaveBeenCalled();
    vi.advanceTimersByTime(1);
    expect(request.destroy).toHaveBeenCalledOnce();
  });
  it("is left alone once it is there, however long the answer takes", () => {
    const request = sent(50_000);
    request.emit("end");
    vi.advanceTimersByTime(600_000);
    expect(request.destroy).not.toHaveBeenCalled();
  });
  it("has more time the larger it is", () => expect(patienceMs(100_000_000)).toBeGreaterThan(30 * 60_000));
});
