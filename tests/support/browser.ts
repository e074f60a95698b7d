import type { StudyDocument } from "~/core/design/document";
import { chromium, type Browser, type BrowserContext, type Page } from "playwright-core";

const flags = [
  "--no-sandbox",
  "--disable-gpu",
  "--disable-quic",
  "--no-first-run",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
];

export const launch = (...more: string[]): Promise<Browser> =>
  chromium.launch({ executablePath: "/usr/bin/chromium", args: [...flags, ...more] });

/** A window at the size the screens are made for; what the page complains of is kept in `complaints`. */
export async function openWindow(
  browser: Browser,
  options: Parameters<Browser["newContext"]>[0] = {},
): Promise<{ context: BrowserContext; page: Page; complaints: string[] }> {
  const context = await browser.newContext({
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    ...options,
  });
  const page = await context.newPage();
  page.setDefaultTimeout(30_000);
  const complaints: string[] = [];
  page.on("pageerror", (error) => complaints.push(error.message));
  page.on("console", (message) => {
    // A refused request is what some tests ask for; everything else on the console is a mistake.
    if (message.type() === "error" && !message.text().startsWith("Failed to load resource"))
      complaints.push(message.text());
  });
  return { context, page, complaints };
}

export async function lookAround(page: Page, address: string): Promise<void> {
  await page.goto(`${address}/sign-in`);
  await page.getByRole("button", { name: "Look around with the demo data" }).click();
  await page.waitForURL("**/studies");
}

export const owner = { email: "ann@harbour.example", password: "a long password", name: "Ann" };

/** Makes the first account of an empty Lapwing; the window is signed in afterwards. */
export async function firstAccount(page: Page, address: string): Promise<void> {
  await page.goto(address);
  await page.getByLabel("Name").fill(owner.name);
  await page.getByLabel("E-mail address").fill(owner.email);
  await page.getByLabel("Password").fill(owner.password);
  await page.getByRole("button", { name: "Create account" }).click();
  await page.waitForURL("**/studies");
}

/** Settled when fonts are there, nothing moves any more, and two frames have been drawn since. */
export const still = (page: Page): Promise<void> =>
  page.evaluate(async () => {
    const frame = () => new Promise((resolve) => requestAnimationFrame(resolve));
    await document.fonts.ready;
    await Promise.all(
      document
        .getAnimations()
        .filter(({ effect }) => effect?.getComputedTiming().iterations !== Infinity)
        .map(({ finished }) => finished.catch(() => undefined)),
    );
    await frame();
    await frame();
  });

export const saved = (page: Page): Promise<void> => page.locator('[data-save="saved"]').waitFor();

/** The table's columns of records as the page or file shows them, by name. */
export async function downloaded(page: Page, press: () => Promise<void>): Promise<Uint8Array> {
  const [download] = await Promise.all([page.waitForEvent("download"), press()]);
  const stream = await download.createReadStream();
  const pieces: Buffer[] = [];
  for await (const piece of stream) pieces.push(piece as Buffer);
  return new Uint8Array(Buffer.concat(pieces));
}

/** Makes a study from the screens and opens Compose; gives its code. */
export async function newStudyInCompose(page: Page, address: string, title: string): Promise<string> {
  await page.goto(`${address}/studies`);
  await page.getByRole("button", { name: "New study" }).click();
  await page.getByLabel("Title").fill(title);
  await page.getByRole("button", { name: "Create study" }).click();
  await page.waitForURL("**/compose");
  return page.url().split("/")[4] ?? "";
}

/** The document of a study as it is saved. */
export async function storedStudy(page: Page, address: string, code: string): Promise<StudyDocument> {
  const answer = await page.request.get(`${address}/studies/${code}/edits`);
  return ((await answer.json()) as { document: StudyDocument }).document;
}
