import { cpus, totalmem } from "node:os";
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { quantile } from "~/core/timing/report";

/** What the figures were measured on. */
export function machineFacts(): string {
  const chromium = (() => {
    try {
      return execFileSync("/usr/bin/chromium", ["--version"], {
        encoding: "utf8",
        stdio: ["ignore", "pipe", "ignore"],
      });
    } catch {
      return "no Chromium";
    }
  })();
  const [load] = readFileSync("/proc/loadavg", "utf8").split(" ");
  return `${cpus().length} cores, ${cpus()[0]?.model.trim() ?? "unknown"}, ${Math.round(totalmem() / 2 ** 30)} GiB, Node.js ${process.version}, ${chromium.trim()}, load before ${load}`;
}

/** Time the machine's cores spent since it began, and how much of it other machines took (steal), in ticks. */
function ticks(): { all: number; stolen: number } {
  const [line = ""] = readFileSync("/proc/stat", "utf8").split("\n");
  const numbers = line.split(/\s+/).slice(1, 9).map(Number);
  return { all: numbers.reduce((sum, each) => sum + each, 0), stolen: numbers[7] ?? 0 };
}

/** Call what it gives at the end: the share of the time meanwhile that other machines took from this one, in words. */
export function watchSteal(): () => string {
  const before = ticks();
  return () => {
    const after = ticks();
    const share = (after.stolen - before.stolen) / Math.max(1, after.all - before.all);
    return `${(share * 100).toFixed(1)} % of the processors' time was taken by other machines`;
  };
}

/** Rows of a table in plain text, columns as wide as they need. */
export function tableOf(rows: (string | number)[][]): string {
  const texts = rows.map((row) => row.map(String));
  const widths = texts[0]?.map((_, column) => Math.max(...texts.map((row) => row[column]?.length ?? 0))) ?? [];
  return texts
    .map((row) =>
      row
        .map((text, column) => (column === 0 ? text.padEnd(widths[column] ?? 0) : text.padStart(widths[column] ?? 0)))
        .join("  "),
    )
    .join("\n");
}

/** Median, 95th, 99th percentile and largest of a list, written with so many decimals. */
export function fourOf(values: readonly number[], decimals = 1): string[] {
  const sorted = values.toSorted((a, b) => a - b);
  return [0.5, 0.95, 0.99, 1].map((share) => (sorted.length ? quantile(sorted, share).toFixed(decimals) : "–"));
}
export const fourHead = ["median", "95 %", "99 %", "most"];

/** Chance that can be repeated: the seed is printed with what it was used for (mulberry32). */
export function seededChance(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}
