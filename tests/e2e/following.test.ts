import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { StudyDocument } from "~/core/design/document";
import type { Adaptive } from "~/core/adaptive/specs";
import { boats, cells, keys } from "../support/boats";
import { launch, lookAround, openWindow, saved, storedStudy } from "../support/browser";
import { scene } from "../support/participant";
import { startServer, type Running } from "../support/server";
import { exportedFrom, importReleased, press } from "../support/short-study";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

const steps: Adaptive = {
  ...{ method: "staircase", least: 10, most: 100, scale: "linear", harder: "lower", curve: "logistic" },
  ...{ guess: 0.25, lapse: 0.02, spreadFrom: 5, spreadTo: 25, start: 60, moves: "up-down", down: 1, target: 0.75 },
  ...{ steps: [20, 10], endReversals: 3 },
};
/** The boats' size follows the answers; twelve trials, of which the staircase leaves some. */
const following = (): StudyDocument =>
  boats((block, document) => {
    document.variables = [{ id: "found", name: "size_found", type: "number", start: 0 }];
    block.table.columns.push({
      ...{ id: "size", name: "size", type: "number", factor: false },
      follows: { by: steps, keeps: "found" },
    });
    block.order = { method: "as-listed", passes: 3, limits: [] };
    const target = block.scenes.find(({ name }) => name === "target");
    for (const item of target?.items ?? [])
      if (item.kind === "text") Object.assign(item, { fontSize: { from: { column: "size" } } });
    const bye = document.parts["bye"];
    if (bye?.kind === "page")
      bye.flow = [
        {
          ...{ kind: "text", id: "t" },
          text: [{ as: "paragraph", runs: [{ text: "Found: " }, { ref: { variable: "found" } }] }],
        },
      ];
  });
async function begun(link: string): Promise<Page> {
  const { page } = await openWindow(browser);
  await page.goto(link);
  await press(page, "Start");
  await press(page, "Continue");
  return page;
}
/** How large the boat is that is on, in stage units of a hundredth of the shorter side. */
const sizeShown = (page: Page) =>
  page
    .locator("#stage .scene.shown [data-item]")
    .first()
    .evaluate((element) => {
      const size = Number.parseFloat(getComputedStyle(element.querySelector("p, div, span") ?? element).fontSize);
      return Math.round((100 * size) / Math.min(innerWidth, innerHeight));
    });

describe("a value that follows the answers", () => {
  it("is shown as the answers make it, also after a reload, ends the block, and is in the data with its threshold", async () => {
    const { code, link } = importReleased(server, following());
    const page = await begun(link);
    // Right, right, wrong (trial 3 has F), right.
    let done = await scene(page, "target", 0);
    expect(await sizeShown(page)).toBe(60);
    await page.keyboard.press("f");
    done = await scene(page, "target", done);
    expect(await sizeShown(page)).toBe(40);
    await page.reload();
    await press(page, "Continue where you left off");
    await scene(page, "target", done - 1);
    expect(await sizeShown(page)).toBe(40);
    await page.keyboard.press("j");
    done = await keys(page, "jj", done);
    // Up from 20 to 30, down to 20; a wrong answer is the third reversal.
    await keys(page, "j", done);
    await page.getByText(/^Found: \d/).waitFor();
    const told = await page.getByText(/^Found: \d/).textContent();
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    const { "trials.csv": trials, "thresholds.csv": thresholds } = await exportedFrom(server, browser, code);
    expect(cells(trials, "trial", "size", "is_right")).toEqual([
      "1 60 yes",
      "2 40 yes",
      "3 20 no",
      "4 30 yes",
      "5 20 no",
    ]);
    expect(cells(thresholds, "column", "level", "method", "trials_counted", "reversals", "is_done")).toEqual([
      "size  staircase 5 3 yes",
    ]);
    const [found] = thresholds ?? [];
    expect(told).toBe(`Found: ${found?.["threshold"]}`);
    expect(Number(found?.["threshold_from"])).toBeLessThan(Number(found?.["threshold"]));
    expect(Number(found?.["threshold_to"])).toBeGreaterThan(Number(found?.["threshold"]));
    await page.close();
  });

  it("is written as sentences in Compose, seen in Rehearse, and told in Results", async () => {
    const { page } = await openWindow(browser);
    await lookAround(page, server.address);
    await page.goto(`${server.address}/studies`);
    await page.getByRole("button", { name: "New study" }).click();
    await page.getByLabel("Title").fill("Lamps on the pier");
    await page.getByText("The faintest lamp").click();
    await page.getByRole("button", { name: "Create study" }).click();
    await page.waitForURL("**/compose");
    const code = page.url().split("/")[4] ?? "";
    await page.getByTitle("Settings of column brightness").click();
    await page.getByRole("img", { name: /trials, \d+ right/ }).waitFor();
    await page.getByLabel("First value").fill("40");
    // What cannot stand there is marked, and what stood there before holds.
    await page.getByLabel("Steps", { exact: true }).fill("0.3, x");
    await expect.poll(() => page.getByLabel("Steps", { exact: true }).getAttribute("aria-invalid")).toBe("true");
    await page.getByText("Numbers greater than 0, with commas between, at most 12.").waitFor();
    await page.getByLabel("Steps", { exact: true }).fill("0.3, 0.15");
    await page.getByRole("button", { name: /^What makes it harder/ }).click();
    await page.getByRole("menuitem", { name: "3 right answers in a row make" }).click();
    await page.getByText("which leads to 86.3 % right").waitFor();
    await page.getByRole("button", { name: /^Levels/ }).click();
    await page.getByRole("menuitem", { name: "all trials together" }).click();
    await saved(page);
    const column = Object.values((await storedStudy(page, server.address, code)).parts)
      .flatMap((part) => (part.kind === "block" ? part.table.columns : []))
      .find(({ name }) => name === "brightness");
    expect(column?.follows).toMatchObject({ by: { start: 40, steps: [0.3, 0.15], down: 3 } });
    expect(column?.follows?.each).toBeUndefined();
    await page.getByRole("button", { name: /^Method/ }).click();
    await page.getByRole("menuitem", { name: "by Bayesian estimation" }).click();
    await page.getByText(/At first the threshold is/).waitFor();
    await page.keyboard.press("Escape");
    await page.goto(`${server.address}/studies/${code}/rehearse`);
    const [played] = await Promise.all([
      page.context().waitForEvent("page"),
      page.getByRole("button", { name: "Play in a new tab" }).click(),
    ]);
    await press(played, "Begin");
    for (let trial = 1; trial <= 3; trial++) {
      await played.locator(`#stage[data-scene="dark"][data-trial="${trial}"]`).waitFor();
      await played.keyboard.press("f");
    }
    await page.getByRole("tab", { name: "Values" }).click();
    await page.getByText("block.trials_done").waitFor();
    await page.getByText("No rule has been set off yet.").waitFor();
    await page.getByRole("tab", { name: "Thresholds" }).click();
    await page.getByText(/Bayesian estimation, [1-9] trials? counted/).waitFor();
    await page.getByRole("img", { name: /^[1-9] trial/ }).waitFor();
    await page.goto(`${server.address}/studies/brass-tide/results?tab=thresholds`);
    await page
      .getByText(/brightness, left/)
      .first()
      .waitFor();
    await page.getByRole("combobox", { name: "participant" }).selectOption("4");
    await page.waitForURL(/participant=4/);
    await expect.poll(() => page.getByRole("img", { name: /trials/ }).count()).toBe(2);
    await page.close();
  });
});

describe("trials that come again", () => {
  it("come until each was right so often, as one sentence says, and the data count their showings", async () => {
    const { page: designing } = await openWindow(browser);
    await lookAround(designing, server.address);
    await designing.goto(`${server.address}/studies/brass-tide/compose`);
    await designing.getByRole("tab", { name: /^Until good enough/ }).click();
    await designing.getByRole("button", { name: "Let wrong trials come again" }).click();
    await designing.getByRole("button", { name: /^How often right/ }).click();
    await designing.getByRole("menuitem", { name: "right twice" }).click();
    await designing.getByRole("button", { name: /^When it comes again/ }).click();
    await designing.getByRole("menuitem", { name: "after so many others:" }).click();
    await designing.getByLabel("Other trials between").fill("2");
    await saved(designing);
    const lamps = Object.values((await storedStudy(designing, server.address, "brass-tide")).parts).find(
      (part) => part.kind === "block",
    );
    expect(lamps?.kind === "block" && lamps.order.again).toEqual({ rightTimes: 2, inARow: false, gaps: [2], most: 3 });
    await designing.close();

    const study = boats((block) => {
      block.order.again = { rightTimes: 1, inARow: false, gaps: [1], most: 3 };
    });
    const { code, link } = importReleased(server, study);
    const page = await begun(link);
    // One is wrong and comes again after two; four is wrong twice.
    await keys(page, "jjffffj");
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    const { "trials.csv": trials } = await exportedFrom(server, browser, code);
    expect(cells(trials, "trial", "row", "showing", "is_right")).toEqual([
      "1 1 1 no",
      "2 2 1 yes",
      "3 1 2 yes",
      "4 3 1 yes",
      "5 4 1 no",
      "6 4 2 no",
      "7 4 3 yes",
    ]);
    await page.close();
  });
});
