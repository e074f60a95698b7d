import type { Browser } from "playwright-core";
import { afterAll, beforeAll, expect, it } from "vitest";
import { launch, lookAround, newStudyInCompose, openWindow, saved } from "../support/browser";
import { freePort, startServer, type Running } from "../support/server";
import { answer, begin, exportedFrom, press, releaseShortStudy } from "../support/short-study";

/*
 * In a laboratory without TLS browsers hold things back that they give to localhost and to pages over TLS: locks, digests,
 * the clipboard, finer clocks. Here the same server is reached under a name that is not this machine's own.
 */
let browser: Browser;
let server: Running;
let address: string;
beforeAll(async () => {
  [browser, server] = await Promise.all([
    launch("--host-resolver-rules=MAP harbour.test 127.0.0.1"),
    freePort().then((port) => startServer({ demo: true, port, env: { LAPWING_URL: `http://harbour.test:${port}` } })),
  ]);
  address = `http://harbour.test:${server.port}`;
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

/** Everything the page complained of but that there is no TLS. */
const besides = (complaints: string[]) =>
  complaints.filter((each) => !each.startsWith("The Cross-Origin-Opener-Policy"));

it("a participant takes part over plain HTTP, in one window at a time, and loses nothing", async () => {
  const { code, link } = releaseShortStudy(server, {});
  const { page, context, complaints } = await openWindow(browser);
  const join = link.replace(/^http:\/\/[^/]+/, address);
  await begin(page, join);
  expect(await page.evaluate(() => [isSecureContext, "locks" in navigator, crossOriginIsolated])).toEqual([
    false,
    false,
    false,
  ]);
  await answer(page, 0, 3);
  const second = await context.newPage();
  await second.goto(join);
  await second.getByText("open in another window").waitFor();
  await press(second, "Continue here instead");
  await page.getByText("open in another window").waitFor();
  await press(second, "Continue where you left off");
  await answer(second, 3, 8);
  await press(second, "Finish");
  await second.getByText("Your completion code").waitFor();
  expect(besides(complaints)).toEqual([]);
  const files = await exportedFrom(server, browser, code);
  expect(files["trials.csv"]?.map(({ trial }) => trial)).toEqual(["1", "2", "3", "4", "5", "6", "7", "8"]);
  expect(files["sessions.csv"]?.[0]).toMatchObject({ state: "finished", clock_step_ms: "0.1" });
  await context.close();
});

it("a researcher designs over plain HTTP", async () => {
  const { page, context, complaints } = await openWindow(browser);
  await lookAround(page, address);
  await newStudyInCompose(page, address, "Boats without locks");
  await page.getByRole("button", { name: "Column", exact: true }).click();
  await page.getByLabel("Name", { exact: true }).fill("tide");
  await saved(page);
  await page.reload();
  await page.locator(".dsg-cell").getByText("tide").waitFor();
  expect(besides(complaints)).toEqual([]);
  await context.close();
});
