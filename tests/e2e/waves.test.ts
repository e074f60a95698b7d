import { createHash } from "node:crypto";
import { strFromU8, unzipSync } from "fflate";
import type { Page } from "playwright-core";
import { expect, it } from "vitest";
import { saved } from "~/tests/support/browser";
import { choose, collecting, collectingScreens, playToEnd, stored, visitor } from "~/tests/support/collecting";
import { exportedFrom } from "~/tests/support/short-study";

const screens = collectingScreens();
const wave = (page: Page, name: string) =>
  page.getByRole("group", { name: "Waves" }).getByRole("button", { name, exact: true });
async function playAndLeave(link: string) {
  const page = await visitor(screens, link);
  await playToEnd(page);
  await page.context().close();
}

it("two waves have links and sessions of their own, which the data name and Results tells apart", async () => {
  const { code, link, page } = await collecting(screens);
  await page.getByRole("button", { name: "Wave", exact: true }).click();
  await page.getByLabel("What it is called").fill("Retest");
  await page.getByRole("button", { name: "Make the wave" }).click();
  await wave(page, "Retest").and(page.locator('[aria-pressed="true"]')).waitFor();
  await expect.poll(() => page.locator("[data-entry-link]").textContent()).not.toBe(link);
  const retest = (await page.locator("[data-entry-link]").textContent()) ?? "";
  await playAndLeave(retest);
  await playAndLeave(retest);
  await playAndLeave(link);
  await expect.poll(() => page.locator('tr[data-session-state="finished"]').count()).toBe(2);
  await wave(page, "First wave").click();
  await expect.poll(() => page.locator('tr[data-session-state="finished"]').count()).toBe(1);
  const { "trials.csv": trials = [] } = await exportedFrom(screens.server, screens.browser, code);
  expect(trials.map((row) => row.wave).sort()).toEqual(["First wave", "Retest", "Retest"]);
  await page.getByRole("link", { name: "Results" }).click();
  await page.getByText("3 sessions in").waitFor();
  await page.getByLabel("Wave").selectOption({ label: "Retest" });
  await page.getByText("2 sessions in").waitFor();
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    page
      .getByRole("tab", { name: "export" })
      .click()
      .then(() => page.getByRole("link", { name: /Trials alone/ }).click()),
  ]);
  expect(file.url()).toMatch(/trials\.csv\?wave=wave-/);
});

it("a wave is paused at once with a reason, closes itself at its target, and is removed while nothing was begun in it", async () => {
  const { link, page } = await collecting(screens);
  await page.getByRole("button", { name: "Pause or close" }).click();
  await page.getByLabel("What people read who come meanwhile").fill("The tide is too high. Come back on Monday.");
  await stored(page, () => page.getByRole("button", { name: "Pause it now" }).click());
  await (await visitor(screens, link)).getByText("The tide is too high. Come back on Monday.").waitFor();
  await page.getByText("Paused: no one can begin in this wave.").waitFor();
  await stored(page, () => page.getByRole("button", { name: "Open the wave again" }).click());
  await choose(page, /^Wanted/, /so many finished/);
  await stored(page, () => page.getByLabel("Wanted sessions").fill("1"));
  await playAndLeave(link);
  await page.getByText("1 finished of 1, 1 started").waitFor();
  await (await visitor(screens, link)).getByText("This study has all the participants it needs.").waitFor();
  await choose(page, /^At the target/, "stays open then");
  await (await visitor(screens, link)).getByRole("button", { name: "Start" }).waitFor();

  await page.getByRole("button", { name: "Wave", exact: true }).click();
  await page.getByLabel("What it is called").fill("By mistake");
  await page.getByRole("button", { name: "Make the wave" }).click();
  await page.getByRole("button", { name: "Remove this wave" }).click();
  await page.locator(`[data-entry-link]:text("${link}")`).waitFor();
  await expect.poll(() => wave(page, "By mistake").count()).toBe(0);
});

it("a release says who froze it and what it is known by, compares with another, is played, downloaded and made a study of", async () => {
  const { code, link, page } = await collecting(screens);
  await page.getByLabel("Title of the study").fill("Boats in fog");
  await saved(page);
  await page.getByRole("button", { name: "Release this version" }).click();
  const dialog = page.getByRole("dialog", { name: "Release 2" });
  await dialog.getByText("Title: “Boats in fog”.").waitFor();
  await dialog.getByLabel("In your own words, instead of the list above").fill("The fog has come.");
  await expect.poll(() => dialog.getByLabel("First wave").isChecked()).toBe(true);
  await dialog.getByRole("button", { name: "Release it" }).click();
  await page.getByRole("button", { name: "Release it runs: release 2" }).waitFor();
  // The link is the same, and leads to what the wave runs now.
  await (await visitor(screens, link)).getByRole("heading", { name: "Boats in fog" }).waitFor();

  await page.getByRole("button", { name: /^Release 2/ }).click();
  await dialog.getByText(/^Frozen today.* by demo researcher\. The fog has come\.$/).waitFor();
  await dialog.getByLabel("Compare with").selectOption({ label: "release 1" });
  const row = dialog.getByRole("row").nth(1);
  await expect.poll(() => row.getByRole("cell").allTextContents()).toEqual(["title", "Eight boats", "Boats in fog"]);
  const known = await dialog.locator("span.select-all").textContent();
  const file = await page.request.get(`${screens.server.address}/studies/${code}/file?release=2`);
  const text = unzipSync(new Uint8Array(await file.body()))["study.lapwing.json"] ?? new Uint8Array();
  expect(createHash("sha256").update(text).digest("hex")).toBe(known);
  expect((JSON.parse(strFromU8(text)) as { title: string }).title).toBe("Boats in fog");
  expect((await page.request.get(`${screens.server.address}/studies/${code}/file?release=7`)).status()).toBe(404);

  await dialog.getByRole("button", { name: "Make a new study of it" }).click();
  await page.waitForURL("**/plan");
  await expect.poll(() => page.getByLabel("Title of the study").inputValue()).toBe("Boats in fog, from release 2");
  expect(page.url()).not.toContain(code);
  await page.goto(`${screens.server.address}/studies/${code}/collect`);
  await page.getByRole("button", { name: /^Release 1/ }).click();
  await page.getByRole("button", { name: "Play it" }).click();
  await page.waitForURL("**/play**");
  await page.locator(".pilot").waitFor();
});
