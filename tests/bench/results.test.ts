import { cpus } from "node:os";
import { expect, it } from "vitest";
import { serverWithSessions } from "../support/many-sessions";

/** How long Results take over 2,000 sessions of the demo study, first and again by other columns, and how long others wait meanwhile. */
const sessions = 2000;
const questions = [
  ["first", "by=neighbours&and=direction"],
  ["by other columns", "by=direction&and="],
  ["by group", "by=group&and=neighbours"],
  ["timing", "tab=timing"],
] as const;
const quantile = (sorted: number[], share: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;

it("answers about 2,000 sessions while others are served", async () => {
  const { server, code, cookie, rows } = await serverWithSessions(sessions);
  const lines = [`${cpus().length} cores, ${cpus()[0]?.model ?? ""}, Node.js ${process.version}; ${rows} rows`];
  const get = async (path: string) => {
    const answer = await fetch(`${server.address}${path}`, { headers: { cookie } });
    expect(answer.status).toBe(200);
    return (await answer.arrayBuffer()).byteLength;
  };
  for (const [name, query] of questions) {
    const waits: number[] = [];
    let isDone = false;
    const others = (async () => {
      while (!isDone) {
        const asked = performance.now();
        await (await fetch(`${server.address}/healthz`)).arrayBuffer();
        waits.push(performance.now() - asked);
        await new Promise((resolve) => setTimeout(resolve, 10));
      }
    })();
    const asked = performance.now();
    const bytes = await get(`/studies/${code}/results.data?${query}`);
    const took = performance.now() - asked;
    isDone = true;
    await others;
    waits.sort((a, b) => a - b);
    lines.push(
      `${name.padEnd(18)} ${(took / 1000).toFixed(2)} s, ${Math.round(bytes / 1024)} kB; others waited ${[
        0.5, 0.95, 0.99,
      ]
        .map((share) => quantile(waits, share).toFixed(1))
        .join(" / ")} ms (median, 95 %, 99 %), most ${(waits.at(-1) ?? 0).toFixed(1)} ms of ${waits.length}`,
    );
  }
  console.log(lines.join("\n"));
  await server.stop();
});
