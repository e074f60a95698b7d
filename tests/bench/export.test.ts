import { cpus } from "node:os";
import { expect, it } from "vitest";
import { serverWithSessions } from "../support/many-sessions";

/** The export over HTTP from the production build: rows per second, and how long others wait for an answer meanwhile. */
const sessions = [250, 1000];
const runs = 7;
const quantile = (sorted: number[], share: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;

it.each(sessions)("exports %d sessions of the demo study", async (count) => {
  const { server, code, cookie, rows } = await serverWithSessions(count);
  const origin = server.address;
  const lines = [
    `${cpus().length} cores, ${cpus()[0]?.model ?? ""}, Node.js ${process.version}; ${rows} rows, ${runs} runs`,
  ];
  for (const path of ["trials.csv", "data"]) {
    const speeds: number[] = [];
    const waits: number[] = [];
    for (let run = 0; run < runs; run++) {
      let isDone = false;
      const others = (async () => {
        while (!isDone) {
          const asked = performance.now();
          await (await fetch(`${origin}/healthz`)).arrayBuffer();
          waits.push(performance.now() - asked);
          await new Promise((resolve) => setTimeout(resolve, 10));
        }
      })();
      const start = performance.now();
      const response = await fetch(`${origin}/studies/${code}/${path}`, { headers: { cookie } });
      const bytes = (await response.arrayBuffer()).byteLength;
      speeds.push((rows / (performance.now() - start)) * 1000);
      isDone = true;
      await others;
      expect(response.status).toBe(200);
      expect(bytes).toBeGreaterThan(rows);
    }
    speeds.sort((a, b) => a - b);
    waits.sort((a, b) => a - b);
    const [low, middle, high] = [0, 0.5, 1].map((share) => Math.round(quantile(speeds, share)).toLocaleString("en"));
    const wait = [0.5, 0.99, 1].map((share) => quantile(waits, share).toFixed(1)).join(" / ");
    lines.push(
      `${path}: ${low} / ${middle} / ${high} rows/s (lowest, median, highest); another request waited ${wait} ms (median, 99th percentile, most; ${waits.length} asked)`,
    );
  }
  await server.stop();
  console.log(lines.join("\n"));
});
