import { zipSync, strToU8 } from "fflate";
import { createHash } from "node:crypto";
import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, it } from "vitest";
import { newStudy } from "~/core/design/new-study";
import { blocksInOrder } from "~/core/design/lookup";
import type { StudyDocument } from "~/core/design/document";
import { launch, lookAround, openWindow, saved } from "../support/browser";
import { startServer, type Running } from "../support/server";
import { countedIds } from "../support/studies";

let browser: Browser;
let server: Running;
let page: Page;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
  ({ page } = await openWindow(browser));
  page.setDefaultTimeout(60_000);
  await lookAround(page, server.address);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

const quantile = (values: number[], share: number) =>
  values.toSorted((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))] ?? NaN;
const told = (values: number[]) =>
  `median ${quantile(values, 0.5).toFixed(1)} ms, 95th percentile ${quantile(values, 0.95).toFixed(1)} ms, most ${Math.max(...values).toFixed(1)} ms (${values.length})`;

/** A study with so many rows and copies of six columns. */
function withRows(rows: number, copies: number): StudyDocument {
  const document = newStudy(countedIds(), `Bench ${rows}`, "AB12");
  const block = blocksInOrder(document)[0];
  if (!block) throw new Error("no block");
  const extra = ["direction", "neighbours", "gap", "depth"].map((name, index) => ({
    id: `extra-${index}`,
    name,
    type: index > 1 ? ("number" as const) : ("text" as const),
    factor: index < 2,
  }));
  block.table.columns.push(...extra);
  const [word, key] = block.table.columns;
  block.table.rows = Array.from({ length: rows }, (_, index) => ({
    id: `row-${index}`,
    copies,
    cells: {
      [word?.id ?? ""]: `word ${index}`,
      [key?.id ?? ""]: index % 2 ? "f" : "j",
      "extra-0": index % 2 ? "left" : "right",
      "extra-1": ["with", "against", "none"][index % 3] ?? "",
      "extra-2": index % 7,
      "extra-3": index / 10,
    },
  }));
  return document;
}

async function imported(name: string, content: Uint8Array): Promise<string> {
  await page.goto(`${server.address}/studies`);
  const before = await page.locator("tbody tr").count();
  await page
    .locator('input[type="file"]')
    .first()
    .setInputFiles({ name, mimeType: "application/octet-stream", buffer: Buffer.from(content) });
  await page.waitForURL("**/studies/*/**").catch(() => undefined);
  if (!/studies\/[a-z]+-/.test(page.url())) {
    await page.waitForFunction((count) => document.querySelectorAll("tbody tr").length > count, before);
    await page.locator("tbody tr a").first().click();
    await page.waitForURL("**/studies/*/**");
  }
  return page.url().split("/")[4] ?? "";
}

/** Notes from each key's own time stamp until the frame after it has been painted. */
const watchPaints = () =>
  page.evaluate(() => {
    const seen: { key: string; ms: number }[] = [];
    Object.assign(globalThis, { seenPaints: seen });
    addEventListener(
      "keydown",
      (event: Event) => {
        if (!(event instanceof KeyboardEvent)) return;
        const { key, timeStamp } = event;
        requestAnimationFrame(() => {
          const channel = new MessageChannel();
          channel.port1.onmessage = () => seen.push({ key, ms: performance.now() - timeStamp });
          channel.port2.postMessage(null);
        });
      },
      true,
    );
  });
const paints = () =>
  page.evaluate(() => (globalThis as unknown as { seenPaints: { key: string; ms: number }[] }).seenPaints);

it("keystroke to paint in a table of 5,000 rows", async () => {
  const code = await imported("rows.lapwing.json", strToU8(JSON.stringify(withRows(5000, 1))));
  await page.goto(`${server.address}/studies/${code}/compose`);
  await page.locator(".dsg-row").nth(3).waitFor();
  await page.waitForTimeout(2500);
  await page.locator(".dsg-row").nth(1).locator(".dsg-cell").nth(2).click();
  await watchPaints();
  for (let row = 0; row < 40; row++) {
    for (const letter of "tide") {
      await page.keyboard.press(letter);
      await page.waitForTimeout(60);
    }
    await page.keyboard.press("Enter");
    await page.waitForTimeout(250);
  }
  const seen = await paints();
  const typing = seen.filter(({ key }) => key !== "Enter").map(({ ms }) => ms);
  const entering = seen.filter(({ key }) => key === "Enter").map(({ ms }) => ms);
  console.log(`5,000 rows, letter to paint: ${told(typing)}`);
  console.log(`5,000 rows, Enter to paint, the edit carried out: ${told(entering)}`);
  const start = Date.now();
  await saved(page);
  console.log(`5,000 rows, saved after the last edit: ${Date.now() - start} ms`);
});

it("ribbon of 2,000 trials after an edit", async () => {
  const code = await imported("ribbon.lapwing.json", strToU8(JSON.stringify(withRows(200, 10))));
  await page.goto(`${server.address}/studies/${code}/compose`);
  await page.getByText("2000 trials").first().waitFor();
  await page.waitForTimeout(1500);
  await page.evaluate(() => {
    const times: number[] = [];
    Object.assign(globalThis, { ribbonTimes: times, editedAt: 0 });
    addEventListener(
      "keydown",
      (event: Event) => {
        if (event instanceof KeyboardEvent && event.key === "Enter")
          Object.assign(globalThis, { editedAt: event.timeStamp });
      },
      true,
    );
    const ribbon = document.querySelector("[data-ribbon]");
    if (!ribbon) throw new Error("no ribbon");
    new MutationObserver(() => {
      const state = globalThis as unknown as { editedAt: number };
      if (state.editedAt === 0) return;
      const from = state.editedAt;
      state.editedAt = 0;
      requestAnimationFrame(() => times.push(performance.now() - from));
    }).observe(ribbon, { subtree: true, childList: true, attributes: true, characterData: true });
  });
  for (let round = 0; round < 30; round++) {
    await page
      .locator(".dsg-row")
      .nth(1 + (round % 6))
      .locator(".dsg-cell")
      .nth(1)
      .click();
    await page.keyboard.type(String(11 + (round % 3)));
    await page.keyboard.press("Enter");
    await page.waitForTimeout(400);
  }
  const times = await page.evaluate(() => (globalThis as unknown as { ribbonTimes: number[] }).ribbonTimes);
  console.log(`ribbon of 2,000 trials, edit to paint: ${told(times)}`);
});

it("opening a study with 200 pictures", async () => {
  const document = withRows(200, 1);
  const files: Record<string, Uint8Array> = {};
  const block = blocksInOrder(document)[0];
  if (!block) throw new Error("no block");
  block.table.columns.push({ id: "picture", name: "picture", type: "image", factor: false });
  for (let index = 0; index < 200; index++) {
    const dots = Array.from(
      { length: 60 },
      (_, dot) =>
        `<circle cx="${(dot * 37 + index) % 300}" cy="${(dot * 53) % 200}" r="9" fill="#${((index * 7919 + dot * 104729) % 0xffffff).toString(16).padStart(6, "0")}"/>`,
    );
    const bytes = strToU8(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 200">${dots.join("")}</svg>`);
    const sha256 = createHash("sha256").update(bytes).digest("hex");
    files[`media/${sha256}`] = bytes;
    document.media.push({
      id: `m${index}`,
      name: `shore-${index}.svg`,
      sha256,
      mime: "image/svg+xml",
      bytes: bytes.length,
      width: 300,
      height: 200,
    });
    const row = block.table.rows[index];
    if (row) row.cells["picture"] = `m${index}`;
  }
  files["study.lapwing.json"] = strToU8(JSON.stringify(document));
  const code = await imported("pictures.lapwing.zip", zipSync(files));
  const times: number[] = [];
  for (let round = 0; round < 8; round++) {
    const start = Date.now();
    await page.goto(`${server.address}/studies/${code}/compose`);
    await page.locator('.dsg-row img[src*="/media/"]').first().waitFor();
    await page.waitForFunction(() =>
      [...globalThis.document.querySelectorAll<HTMLImageElement>('.dsg-row img[src*="/media/"]')].every(
        (img) => img.complete,
      ),
    );
    times.push(Date.now() - start);
  }
  console.log(`opening a study with 200 pictures until table and figure are drawn: ${told(times)}`);
});
