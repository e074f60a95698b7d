import Papa from "papaparse";
import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { launch, lookAround, openWindow } from "../support/browser";
import { scene } from "../support/participant";
import { startServer, type Running } from "../support/server";
import { answer, begin, cliOf, press, releaseShortStudy, startWaders, type Row } from "../support/short-study";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

const parse = (text: string) => Papa.parse<Row>(text.trimEnd(), { header: true }).data;
const cli = (...args: string[]) => cliOf(server, ...args);
/** Its trials wait for whatever a test does between two answers on a busy machine, such as starting a server. */
const shortStudy = () =>
  releaseShortStudy(server, {}, (_, { scenes }) => {
    const target = scenes.find(({ name }) => name === "target");
    if (target) target.lasts = { kind: "until-answer", atMostMs: 60_000 };
  });
const exported = async (page: Page, code: string): Promise<Row[]> =>
  parse(await (await page.request.get(`${server.address}/studies/${code}/trials.csv`)).text());

/** A participant's window that stands before the first trial of the short study. */
async function begun(link: string) {
  const opened = await openWindow(browser);
  await begin(opened.page, link);
  return opened;
}

/** What is exported once the participant has pressed the last button and got the code. */
async function exportedAfterEnd(page: Page, code: string, patience = 30_000): Promise<Row[]> {
  await page.getByRole("button", { name: "Finish" }).click();
  await page.getByText("Your completion code").waitFor({ timeout: patience });
  const researcher = await openWindow(browser);
  await lookAround(researcher.page, server.address);
  return exported(researcher.page, code);
}

describe("a session", () => {
  it("that ends by closing the tab in trial 5 goes on there on the same computer, each trial once", async () => {
    const { code, link } = shortStudy();
    const { context, page } = await begun(link);
    await answer(page, 0, 4);
    expect(await scene(page, "target", 4)).toBe(5);
    await page.close();

    const again = await context.newPage();
    await again.goto(link);
    await again.getByRole("button", { name: "Continue where you left off" }).click();
    expect(await scene(again, "target", 0)).toBe(5);
    await answer(again, 4, 8);
    const rows = await exportedAfterEnd(again, code);
    expect(rows.map(({ trial }) => trial)).toEqual(["1", "2", "3", "4", "5", "6", "7", "8"]);
    expect(new Set(rows.map(({ session }) => session)).size).toBe(1);
    const onsets = rows.map(({ target_onset_ms: onset }) => Number(onset));
    expect(onsets).toEqual(onsets.toSorted((a, b) => a - b));
  });

  it("keeps every record while the network is away and sends all of them afterwards", async () => {
    const { code, link } = shortStudy();
    const { context, page } = await begun(link);
    await answer(page, 0, 2);
    await context.setOffline(true);
    await answer(page, 2, 8);
    await page.getByRole("button", { name: "Finish" }).click();
    await page.getByText(/Your answers are safe on this computer/).waitFor();
    await page.waitForEvent("requestfailed");
    await context.setOffline(false);
    await page.getByText("Your completion code").waitFor({ timeout: 40_000 });
    const researcher = await openWindow(browser);
    await lookAround(researcher.page, server.address);
    expect((await exported(researcher.page, code)).map(({ trial }) => trial)).toEqual([
      "1",
      "2",
      "3",
      "4",
      "5",
      "6",
      "7",
      "8",
    ]);
  });

  it("survives the server being killed and started again", async () => {
    const { code, link } = shortStudy();
    const { page } = await begun(link);
    await answer(page, 0, 3);
    await server.stop("SIGKILL");
    await answer(page, 3, 6);
    server = await startServer({ demo: true, folder: server.folder, port: server.port });
    await answer(page, 6, 8);
    expect((await exportedAfterEnd(page, code, 40_000)).map(({ trial }) => trial)).toEqual([
      "1",
      "2",
      "3",
      "4",
      "5",
      "6",
      "7",
      "8",
    ]);
  });

  it("is open in one window only", async () => {
    const { link } = shortStudy();
    const { context, page } = await openWindow(browser);
    await page.goto(link);
    await page.getByRole("button", { name: "Start" }).click();
    await page.getByRole("button", { name: "Continue" }).waitFor();
    const second = await context.newPage();
    await second.goto(link);
    await second.getByText("This study is open in another window").waitFor();
  });

  it("plays the order that the sequence command and the ribbon show for its participant", async () => {
    const researcher = await openWindow(browser);
    await lookAround(researcher.page, server.address);
    const { code, link } = shortStudy();
    const orders: string[][] = [];
    for (const participant of [1, 2]) {
      const { page, context } = await begun(link);
      await answer(page, 0, 8);
      await page.getByRole("button", { name: "Finish" }).click();
      await page.getByText("Your completion code").waitFor();
      await context.close();
      orders[participant] = (await exported(researcher.page, code))
        .filter((row) => row.participant === String(participant))
        .map(({ row }) => row ?? "");
    }
    const planned = parse(cli("sequence", "tests/support/eight-trials.lapwing.json", "--participants", "1-2"));
    await researcher.page.goto(`${server.address}/studies/${code}/compose`);
    for (const participant of [1, 2]) {
      expect(orders[participant]).toEqual(
        planned.filter((row) => row.participant === String(participant)).map(({ row }) => row),
      );
      await researcher.page.locator(`[data-ribbon="${participant}"]`).waitFor();
      const ticks = await researcher.page
        .locator("[data-tick]")
        .evaluateAll((all) => all.map((tick) => tick.getAttribute("data-row")));
      expect(ticks).toEqual(orders[participant]);
      await researcher.page.getByRole("button", { name: "Next participant" }).click();
    }
    expect(orders[1]).not.toEqual(orders[2]);
  });

  it("of a rehearsal is played as the chosen participant in a new tab and shown as pilot", async () => {
    const { code } = shortStudy();
    const { context, page, complaints } = await openWindow(browser);
    await lookAround(page, server.address);
    await page.goto(`${server.address}/studies/${code}/rehearse`);
    await page.getByRole("textbox", { name: "Participant" }).fill("5");
    const [played] = await Promise.all([
      context.waitForEvent("page"),
      page.getByRole("button", { name: "Play in a new tab" }).click(),
    ]);
    await played.getByText("pilot", { exact: true }).waitFor();
    await played.getByRole("button", { name: "Continue" }).click();
    await answer(played, 0, 3);
    await page.bringToFront();
    await expect
      .poll(() => page.locator("[data-rehearsal-records] tbody tr").count(), { timeout: 10_000 })
      .toBeGreaterThanOrEqual(2);
    const first = await page.locator("[data-rehearsal-records] tbody tr").first().locator("td").allTextContents();
    const sequence = parse(cli("sequence", "tests/support/eight-trials.lapwing.json", "--participants", "5"));
    expect(first[3]).toBe(sequence[0]?.row);
    const header = await page.locator("[data-rehearsal-records] thead th").allTextContents();
    expect(first[header.indexOf("pilot")]).toBe("yes");
    expect(complaints).toEqual([]);
    // Rehearsals are not in the export unless asked for.
    expect(await exported(page, code)).toEqual([]);
  });

  it("of a rehearsal is played within the page, paused by a click beside it, with its values beside it", async () => {
    const { code } = shortStudy();
    const { context, page } = await openWindow(browser);
    await lookAround(page, server.address);
    await page.goto(`${server.address}/studies/${code}/rehearse`);
    await page.getByRole("button", { name: "Play here" }).click();
    const here = page.frameLocator('iframe[title="The study as it is rehearsed"]');
    await here.getByText("pilot", { exact: true }).waitFor();
    await here.getByRole("button", { name: "Continue" }).click();
    const frame = page.frames().find((each) => new URL(each.url()).pathname === "/play")!;
    let done = 0;
    for (let trial = 1; trial <= 3; trial++) {
      done = await scene(frame, "target", done);
      await page.keyboard.press("f");
    }
    await scene(frame, "target", done);
    await page.getByRole("tab", { name: "Values" }).click();
    const doneNow = page.locator('dt:text-is("session.trials_done") + dd');
    await expect.poll(() => doneNow.innerText()).toBe("3");
    // The window was left: the trial is played to its end, then the study waits.
    await frame.locator("#stage").click();
    await page.keyboard.press("f");
    await here.getByText("The study is waiting for you").waitFor();
    await expect.poll(() => doneNow.innerText()).toBe("4");
    await here.getByRole("button", { name: "Continue" }).click();
    await scene(frame, "target", done);
    await page.getByRole("button", { name: "Close", exact: true }).click();
    await page.locator('iframe[title="The study as it is rehearsed"]').waitFor({ state: "detached" });
    // No other site may put it into a page of its own.
    const { headers } = await fetch(`${server.address}/play`);
    expect(headers.get("content-security-policy")).toContain("frame-ancestors 'self'");
    await context.close();
  });

  it("gives feedback on this trial's own answer, also when there is none", async () => {
    const { page, context } = await openWindow(browser);
    await page.goto(`${server.address}/join/demo-waders`);
    await startWaders(page);
    await page.getByRole("checkbox", { name: "I have read this and want to take part." }).check();
    await press(page, "Begin");
    const left = (await page.getByText("when it walks upriver").locator("strong").textContent()) ?? "";
    await page.getByRole("button", { name: "Try it" }).click();
    const feedback = () => page.locator(".scene.shown .text:not([hidden])").allInnerTexts();
    let trial = await scene(page, "flock");
    await page.keyboard.press(left);
    trial = await scene(page, "word", trial - 1);
    expect((await feedback()).join()).toMatch(/^(Right: \d+ ms|It walked the other way)$/);
    await scene(page, "word", trial);
    expect(await feedback()).toEqual(["Too slow: answer a little sooner"]);
    await context.close();
  });

  it("shows participants a page without the researcher's framework, isolated, with timers at full resolution", async () => {
    const { page } = await openWindow(browser);
    const scripts: string[] = [];
    page.on("response", (response) => {
      if (response.request().resourceType() === "script") scripts.push(response.url());
    });
    await page.goto(`${server.address}/join/demo-waders`);
    await page.getByRole("button", { name: "Start" }).waitFor();
    expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
    expect(scripts.every((url) => new URL(url).pathname.startsWith("/player/"))).toBe(true);
    // The player, and what it shares with the kinds of things that only studies using them load; how large all of it may be
    // is checked with the build.
    expect(scripts.length).toBeLessThanOrEqual(6);
  });

  it("tells on a link that leads nowhere what to do", async () => {
    const { page } = await openWindow(browser);
    const response = await page.goto(`${server.address}/join/nowhere`);
    expect(response?.status()).toBe(404);
    await page.getByText("This link does not lead to a study that is open").waitFor();
  });
});
