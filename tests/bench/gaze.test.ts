import { afterAll, beforeAll, expect, it } from "vitest";
import type { Browser, Page } from "playwright-core";
import { WebSocket } from "ws";
import { startBridge } from "~/bridge/bridge";
import { simulatedTracker } from "~/bridge/simulated-tracker";
import { newGazeSettings } from "~/core/design/settings";
import { BridgeLink, type MakeSocket } from "~/player/bridge/link";
import { openedStore } from "~/server/database/open";
import { gazeOf } from "~/server/gaze";
import { launch, openWindow } from "~/tests/support/browser";
import { startServer, type Running } from "~/tests/support/server";
import { countedOf, exactness, exactnessHead, exactShare } from "../load/counted";
import { freshFolder, releasedAt } from "../load/long-study";
import { machineFacts, tableOf, watchSteal } from "../load/machine";
import { seenIn, watchPage } from "../load/recorder";
import { presentationStudy } from "../load/timed-study";

/**
 * Scenes of 50 to 500 ms while gaze of two eyes is recorded, by a bridge and a stand-in for a tracker that sends 1,200 samples a
 * second: whether all are on the server, what the longest task of the page was, and how exact the scenes were with and without it.
 */
const scenes = Number(process.env.LAPWING_SCENES ?? 800);
const rate = Number(process.env.LAPWING_RATE ?? 1200);
let browser: Browser;
const facts = machineFacts();
beforeAll(async () => {
  browser = await launch();
});
afterAll(() => browser.close());

async function serverFor(isWatched: boolean): Promise<{ server: Running; folder: string; token: string }> {
  const folder = freshFolder();
  const { token } = await releasedAt(
    folder,
    () => {
      const document = presentationStudy(Math.ceil(scenes / 4));
      if (isWatched) document.settings.gaze = { ...newGazeSettings(), points: "five" };
      document.settings.viewing = { distanceCm: 60, shorterSideCm: 30 };
      return document;
    },
    0,
  );
  return { server: await startServer({ folder }), folder, token };
}

/** Plays the study once; gives what its scenes were, and the longest task of the page while they were on. */
async function played(page: Page, address: string, token: string, setUp: () => Promise<void>) {
  await watchPage(page);
  await page.addInitScript(() => {
    const longest = { ms: 0 };
    Object.assign(globalThis, { longest });
    new PerformanceObserver((list) => {
      for (const { duration } of list.getEntries()) longest.ms = Math.max(longest.ms, duration);
    }).observe({ entryTypes: ["longtask"] });
  });
  await page.goto(`${address}/join/${token}`);
  await page.getByRole("button", { name: "Start" }).click();
  await page.getByRole("button", { name: "Continue" }).click();
  await setUp();
  await page.evaluate(() => ((globalThis as unknown as { longest: { ms: number } }).longest.ms = 0));
  await page.getByRole("button", { name: "Finish" }).waitFor({ timeout: scenes * 500 });
  const longest = await page.evaluate(() => (globalThis as unknown as { longest: { ms: number } }).longest.ms);
  const { scenes: seen } = await seenIn(page);
  await page.getByRole("button", { name: "Finish" }).click();
  await page.getByText("Your completion code").waitFor();
  return { counted: countedOf(seen), longest };
}

it("gaze", async () => {
  const steal = watchSteal();
  const plain = await serverFor(false);
  const without = await openWindow(browser);
  const before = await played(without.page, plain.server.address, plain.token, async () => undefined);
  await without.context.close();
  await plain.server.stop();

  const { server, folder, token } = await serverFor(true);
  const tracker = await simulatedTracker(0, { rate });
  const bridge = await startBridge({ port: 0, folder: freshFolder() });
  const make: MakeSocket = (address) =>
    new WebSocket(address, { origin: server.address }) as unknown as ReturnType<MakeSocket>;
  const link = await BridgeLink.reach(bridge.port, null, make);
  const secret = await link.pair(bridge.code());
  const settings = { kind: "tracker", adapter: "lines", host: "127.0.0.1", port: tracker.port } as const;
  await link.keep({ id: "eyes", name: "Eye tracker", settings });
  link.close();
  const { page, context } = await openWindow(browser);
  await context.addInitScript(
    (kept) => localStorage.setItem("lapwing-bridge", kept),
    JSON.stringify({ port: bridge.port, secret }),
  );
  const watched = await played(page, server.address, token, async () => {
    await page.getByRole("button", { name: "Calibrate" }).click();
    await page.getByRole("button", { name: /^Go on/ }).click({ timeout: 120_000 });
  });
  const store = openedStore(folder, undefined);
  const { id } = await store.db.selectFrom("session").select("id").executeTakeFirstOrThrow();
  const pieces = await store.db.selectFrom("gaze_piece").select(["count", "error_ms", "samples"]).execute();
  const { times } = await gazeOf(store, id);
  await store.close();
  await context.close();
  await bridge.stop();
  await tracker.stop();
  await server.stop();

  const lasted = ((times.at(-1) ?? 0) - (times[0] ?? 0)) / 1000;
  const expected = Math.round(lasted * rate) + 1;
  const bytes = pieces.reduce((sum, { samples }) => sum + samples.length, 0);
  console.log(
    [
      `gaze: ${facts}`,
      `${times.length.toLocaleString("en")} samples of two eyes in ${lasted.toFixed(1)} s, ${(times.length / lasted).toFixed(1)} a second; ${Math.abs(expected - times.length)} lost or doubled; ${(bytes / times.length).toFixed(1)} characters a sample on the server`,
      `clocks off by at most ${Math.max(...pieces.map(({ error_ms }) => error_ms ?? 0)).toFixed(2)} ms`,
      tableOf([exactnessHead, exactness("gaze recorded", watched.counted), exactness("no gaze", before.counted)]),
      `longest task of the page: ${watched.longest.toFixed(0)} ms with gaze, ${before.longest.toFixed(0)} ms without (only those over 50 ms are told)`,
      `ratio of the exact shares, with gaze to without: ${(exactShare(watched.counted) / exactShare(before.counted)).toFixed(5)}`,
      steal(),
    ].join("\n"),
  );
  // The tracker’s clock counts samples; ours is related to it to within a fraction of one.
  expect(Math.abs(expected - times.length)).toBeLessThanOrEqual(2);
});
