import { readFileSync } from "node:fs";
import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, expect, it } from "vitest";
import { launch, lookAround, newStudyInCompose, openWindow, saved, storedStudy } from "../support/browser";
import { startServer, type Running } from "../support/server";
import { press } from "../support/short-study";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

const woff2 = readFileSync("node_modules/@fontsource-variable/newsreader/files/newsreader-latin-wght-italic.woff2");
/** Families of uploaded fonts that are loaded in a window. */
const loadedIn = (page: Page) =>
  page.evaluate(() =>
    [...document.fonts].flatMap(({ family, status }) =>
      family.includes("font-") ? [`${family.replaceAll('"', "").slice(0, 5)} ${status}`] : [],
    ),
  );

it("a font of one's own is uploaded, shown in a trial and on a page as a group value says, and loaded before either", async () => {
  const { page, context, complaints } = await openWindow(browser);
  await lookAround(page, server.address);
  const code = await newStudyInCompose(page, server.address, "Letters on the quay");
  // Of a text in a scene: added from this computer.
  await page.locator('[data-scene-button="fixation"]').click();
  await page.getByRole("button", { name: "Add text" }).click();
  const file = page.getByLabel("font file");
  await file.setInputFiles({ name: "broken.woff2", mimeType: "font/woff2", buffer: woff2.subarray(0, 2000) });
  await page.getByText(/cut off or damaged/).waitFor();
  await file.setInputFiles({ name: "quay.woff2", mimeType: "font/woff2", buffer: woff2 });
  await expect
    .poll(() => page.getByLabel("Font", { exact: true }).locator("option:checked").innerText())
    .toBe("quay.woff2");
  await expect.poll(() => loadedIn(page)).toEqual(["font- loaded"]);
  // Of a page, by a group value that names it.
  await page.getByRole("link", { name: "Plan" }).click();
  await page.getByRole("button", { name: "Group", exact: true }).click();
  await page.getByRole("menuitem", { name: "A value that differs by group" }).click();
  const margin = page.getByRole("complementary", { name: "Settings of what is selected" });
  await margin.getByLabel("Name", { exact: true }).fill("letters");
  await margin.getByLabel("Is", { exact: true }).selectOption("text");
  await margin
    .getByLabel(/^letters in /)
    .first()
    .fill("quay");
  await page.getByRole("link", { name: "Compose" }).click();
  await page.getByRole("button", { name: /^Part:/ }).click();
  await page.getByRole("menuitem", { name: "Welcome" }).click();
  await page.locator("h1.caption").click();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Take font from the table or a group value" }).click();
  await page.getByRole("menuitem", { name: "letters" }).click();
  const live = page.frameLocator('iframe[title^="How participants see"]');
  await expect
    .poll(() => live.locator(".page.form").evaluate((element) => getComputedStyle(element).fontFamily))
    .toMatch(/^"?font-/);
  await saved(page);
  const stored = await storedStudy(page, server.address, code);
  expect(stored.media).toMatchObject([{ name: "quay.woff2", mime: "font/woff2" }]);
  // As a participant: all is there before the first page.
  await page.getByRole("link", { name: "Rehearse" }).click();
  const [played] = await Promise.all([
    context.waitForEvent("page"),
    page.getByRole("button", { name: "Play in a new tab" }).click(),
  ]);
  const form = played.locator(".page.form");
  await form.waitFor();
  expect(await loadedIn(played)).toEqual(["font- loaded"]);
  expect(await form.evaluate((element) => getComputedStyle(element).fontFamily)).toMatch(/^"?font-/);
  await press(played, "Continue");
  await expect
    .poll(() =>
      played
        .locator("#stage .text")
        .evaluateAll((texts) => texts.some((text) => getComputedStyle(text).fontFamily.includes("font-"))),
    )
    .toBe(true);
  expect(complaints).toEqual([]);
  await context.close();
});
