import type { Browser, BrowserContext, Page } from "playwright-core";
import { afterAll, afterEach, beforeAll, beforeEach, expect } from "vitest";
import { launch, lookAround, openWindow } from "./browser";
import { startServer, type Running } from "./server";

/** What a file of tests of the screens works with: one server with the demo data, and a window signed in anew for each test. */
export type Screens = { browser: Browser; server: Running; page: Page; context: BrowserContext };

/** Sets up a server for the file and a window for each of its tests, which fails when the page complained of anything. */
export function withScreens(options: Parameters<Browser["newContext"]>[0] = {}): Screens {
  const screens = {} as Screens;
  let complaints: string[] = [];
  beforeAll(async () => {
    [screens.browser, screens.server] = await Promise.all([launch(), startServer({ demo: true })]);
  });
  afterAll(async () => {
    await screens.browser.close();
    await screens.server.stop();
  });
  beforeEach(async () => {
    const opened = await openWindow(screens.browser, options);
    Object.assign(screens, { page: opened.page, context: opened.context });
    complaints = opened.complaints;
    await lookAround(screens.page, screens.server.address);
  });
  afterEach(async () => {
    expect(complaints).toEqual([]);
    await screens.context.close();
  });
  return screens;
}
