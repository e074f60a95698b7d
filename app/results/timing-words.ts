import type { Spread } from "~/core/timing/report";

export const plainMs = (ms: number): string => ms.toFixed(1);
export const signedMs = (ms: number): string => `${ms < 0 ? "−" : ""}${Math.abs(ms).toFixed(1)}`;

/** Median, 95th, 99th percentile and the largest, in this order. */
export const quantilesInWords = (
  { median, p95, p99, largest }: Spread,
  write: (ms: number) => string = plainMs,
): string => [median, p95, p99, largest].map(write).join(" · ");
