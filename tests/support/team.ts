import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll } from "vitest";
import type { StudyDocument } from "~/core/design/document";
import { createAccount } from "~/server/accounts";
import { openStore } from "~/server/database/open";
import { launch, openWindow } from "./browser";
import { startServer, type Running } from "./server";
import { importReleased } from "./short-study";

export const password = "a long password";
/** Who works together: Mira came first and looks after the accounts. */
export const people = { mira: "Mira Sandvik", jonas: "Jonas Pell", ada: "Ada Lindqvist", tom: "Tom Okafor" } as const;
export type Person = keyof typeof people;
export const emailOf = (who: string): string => `${who}@shore.example`;

/** A server on which four people have accounts, and a browser, for the tests of a file. */
export function teamScreens(env: Record<string, string> = {}) {
  const screens = {} as { server: Running; browser: Browser };
  beforeAll(async () => {
    const folder = mkdtempSync(join(tmpdir(), "lapwing-team-"));
    const opened = await openStore(folder);
    if (!opened.ok) throw new Error(opened.reason);
    for (const [who, name] of Object.entries(people)) await createAccount(opened.store, emailOf(who), name, password);
    await opened.store.close();
    [screens.browser, screens.server] = await Promise.all([launch(), startServer({ folder, env })]);
  });
  afterAll(async () => {
    await screens.browser.close();
    await screens.server.stop();
  });
  return screens;
}
type Screens = ReturnType<typeof teamScreens>;

/** A window of a browser of their own, in which somebody has signed in. */
export async function windowOf({ server, browser }: Screens, who: string, address = server.address): Promise<Page> {
  const { page } = await openWindow(browser);
  await signIn(page, address, who);
  await page.waitForURL("**/studies");
  return page;
}

export async function signIn(page: Page, address: string, who: string, typed = password): Promise<void> {
  await page.goto(`${address}/sign-in`);
  await page.getByLabel("E-mail address").fill(emailOf(who));
  await page.getByLabel("Password", { exact: true }).fill(typed);
  await page.getByRole("button", { name: "Sign in" }).click();
}

/** A released study of Mira's; gives its code and link. */
export const miras = ({ server }: Screens, document: StudyDocument) =>
  importReleased(server, document, [], emailOf("mira"));

/** Shares a study with somebody, on its page of people. */
export async function shareWith(page: Page, who: Person, ...roles: string[]): Promise<void> {
  const form = page.getByRole("form", { name: "Share it" });
  await form.getByLabel("E-mail address of a person").fill(emailOf(who));
  for (const button of await form.getByRole("group", { name: "As what" }).getByRole("button").all())
    if (((await button.getAttribute("aria-pressed")) === "true") !== roles.includes((await button.textContent()) ?? ""))
      await button.click();
  await form.getByRole("button", { name: "Share", exact: true }).click();
  await page.locator(`[data-share="${people[who]}"]`).waitFor();
}
