import { readFileSync } from "node:fs";
import { cpus, loadavg } from "node:os";
import { expect, it } from "vitest";
import { simulateSession } from "~/core/simulate/participant";
import type { SessionData } from "~/core/run/session-data";
import { demoModel } from "~/demo/add-demo";
import { newSecret } from "~/server/chance";
import { launch } from "../support/browser";
import { serverWithSessions } from "../support/many-sessions";

/**
 * The live view of Collect over 5,000 sessions: how long until the first sessions are seen in Chromium, how many bytes each
 * update has, and how long after a record is acknowledged it is told.
 */
const sessions = 5000;
const updates = 25;
const quantile = (sorted: number[], share: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
const spread = (values: number[]) => {
  const sorted = values.toSorted((a, b) => a - b);
  return (
    [0.5, 0.95].map((share) => quantile(sorted, share).toFixed(0)).join(" / ") + ` (most ${sorted.at(-1)?.toFixed(0)})`
  );
};
/** Time of the processors that other machines took so far, and all of it, in ticks. */
function taken(): [number, number] {
  const ticks = (readFileSync("/proc/stat", "utf8").split("\n")[0] ?? "").trim().split(/\s+/).slice(1).map(Number);
  return [ticks[7] ?? 0, ticks.slice(0, 8).reduce((sum, each) => sum + each, 0)];
}

it("tells of 5,000 sessions as they go on", async () => {
  const before = taken();
  const { server, code, link, cookie } = await serverWithSessions(sessions, 20);
  const at = (path: string) => `${server.address}${path}`;
  const browser = await launch();
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const [name = "", value = ""] = cookie.split("=");
  await context.addCookies([{ name, value, url: server.address }]);
  const firsts: number[] = [];
  for (let time = 0; time < 7; time++) {
    const page = await context.newPage();
    const asked = performance.now();
    await page.goto(at(`/studies/${code}/collect`), { waitUntil: "commit" });
    await page.locator("tr[data-session-state]").first().waitFor();
    firsts.push(performance.now() - asked);
    await page.close();
  }
  const page = await (await fetch(at(`/studies/${code}/collect`), { headers: { cookie } })).text();

  const listening = new AbortController();
  const stream = await fetch(at(`/studies/${code}/collecting`), {
    headers: { cookie, accept: "text/event-stream" },
    signal: listening.signal,
  });
  const events: { bytes: number; at: number }[] = [];
  const reading = (async () => {
    let text = "";
    for await (const piece of stream.body!.pipeThrough(
      new TextDecoderStream() as never,
    ) as unknown as AsyncIterable<string>) {
      text += piece;
      for (let end = text.indexOf("\n\n"); end >= 0; end = text.indexOf("\n\n")) {
        const event = text.slice(0, end);
        if (event.startsWith("data:")) events.push({ bytes: Buffer.byteLength(event), at: performance.now() });
        text = text.slice(end + 2);
      }
    }
  })().catch(() => undefined);

  const secret = newSecret();
  const post = (path: string, body: unknown, headers = {}) =>
    fetch(at(path), {
      ...{ method: "POST", body: JSON.stringify(body) },
      headers: { "Content-Type": "application/json", ...headers },
    });
  const started = (await (await post(`/api/join/${link}`, { secret })).json()) as SessionData;
  const { records } = simulateSession(started.document, started.participant, started, started.seed, demoModel);
  const delays: number[] = [];
  const [whole] = events;
  for (const record of records.slice(0, updates)) {
    const told = events.length;
    const answer = await post(
      "/api/session/records",
      { records: [record], log: [] },
      { Authorization: `Bearer ${secret}` },
    );
    expect(answer.status).toBe(200);
    const acknowledged = performance.now();
    await expect.poll(() => events.length, { timeout: 10_000, interval: 20 }).toBeGreaterThan(told);
    delays.push((events.at(-1)?.at ?? 0) - acknowledged);
  }
  listening.abort();
  await reading;
  const [others, all] = taken().map((now, index) => now - (before[index] ?? 0)) as [number, number];
  console.log(
    [
      `${cpus().length} cores, ${cpus()[0]?.model ?? ""}, Node.js ${process.version}, load ${loadavg()[0]?.toFixed(2)}; ${((100 * others) / all).toFixed(1)} % of the processors' time was taken by other machines`,
      `${sessions} sessions; the page has ${Math.round(page.length / 1024)} kB, the first event ${Math.round((whole?.bytes ?? 0) / 1024)} kB`,
      `ms until the first sessions are seen in Chromium, ${firsts.length} times: median / 95 % ${spread(firsts)}`,
      `bytes an update, ${delays.length} records: median / 95 % ${spread(events.slice(1).map(({ bytes }) => bytes))}`,
      `ms from the acknowledgement to the update: median / 95 % ${spread(delays)}`,
    ].join("\n"),
  );
  await browser.close();
  await server.stop();
});
