import type { Browser, Locator, Page } from "playwright-core";
import { afterAll, beforeAll } from "vitest";
import type { StudyDocument } from "~/core/design/document";
import { boats, keys } from "./boats";
import { launch, lookAround, openWindow } from "./browser";
import { startServer, type Running } from "./server";
import { importReleased, press } from "./short-study";

/** A server with the demo data and a browser, for the tests of a file. */
export function collectingScreens() {
  const screens = {} as { server: Running; browser: Browser };
  beforeAll(async () => {
    [screens.browser, screens.server] = await Promise.all([launch(), startServer({ demo: true })]);
  });
  afterAll(async () => {
    await screens.browser.close();
    await screens.server.stop();
  });
  return screens;
}
type Screens = ReturnType<typeof collectingScreens>;

/** A study of one trial. */
export const oneBoat = (): StudyDocument => boats((block) => void (block.table.rows = block.table.rows.slice(0, 1)));

/** The Collect screen of a study that was released, and the first of its links. */
export async function collecting(
  { server, browser }: Screens,
  document: StudyDocument = oneBoat(),
): Promise<{ code: string; link: string; page: Page; panel: Locator }> {
  const { code, link } = importReleased(server, document);
  const { page } = await openWindow(browser);
  await lookAround(page, server.address);
  await page.goto(`${server.address}/studies/${code}/collect`);
  const panel = page.getByRole("group", { name: "Open link" });
  await panel.waitFor();
  return { code, link, page, panel };
}

/** Does something on the page, and waits until it is stored. */
export const stored = async (page: Page, act: () => Promise<unknown>) =>
  Promise.all([
    page.waitForResponse((response) => response.request().method() === "POST" && response.url().includes("collect")),
    act(),
  ]);

/** Chooses what an underlined word of a sentence says, and waits until that is stored. */
export async function choose(page: Page, label: RegExp, says: string | RegExp): Promise<void> {
  await page.getByRole("button", { name: label }).first().click();
  await stored(page, () => page.getByRole("menuitem", { name: says }).click());
}

/** Somebody who opens a link in a browser of their own. */
export async function visitor({ browser }: Screens, link: string): Promise<Page> {
  const { page } = await openWindow(browser);
  await page.goto(link);
  return page;
}

/** Plays the study of one trial from its entry page to its end. */
export async function playToEnd(page: Page): Promise<void> {
  await press(page, "Start");
  await press(page, "Continue");
  await keys(page, "f");
  await press(page, "Finish");
  await page.getByText("Your completion code").waitFor();
}
