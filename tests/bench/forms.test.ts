import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, it } from "vitest";
import { launch, openWindow } from "../support/browser";
import { pageOf, question, studyOfPages } from "../support/forms";
import { startServer, type Running } from "../support/server";
import { importReleased, press } from "../support/short-study";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

const quantile = (values: number[], share: number) =>
  values.toSorted((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))] ?? NaN;
const told = (values: number[]) =>
  `median ${quantile(values, 0.5).toFixed(1)} ms, 95th ${quantile(values, 0.95).toFixed(1)} ms, 99th ${quantile(values, 0.99).toFixed(1)} ms, most ${Math.max(...values).toFixed(1)} ms (${values.length})`;

/** Notes for each tap how long it takes from its own time to the frame that shows the next page. */
const watchTaps = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const seen: number[] = [];
    let tapped = 0;
    addEventListener(
      "click",
      ({ timeStamp, target }) => {
        if (target instanceof HTMLButtonElement) tapped = timeStamp;
      },
      true,
    );
    new MutationObserver(() => {
      if (tapped === 0 || !document.querySelector(".page.form")) return;
      const from = tapped;
      tapped = 0;
      requestAnimationFrame(() => requestAnimationFrame((stamp) => seen.push(stamp - from)));
    }).observe(document.getElementById("page") as Node, { childList: true });
    Object.assign(globalThis, { seenTaps: seen });
  });

const tapsSeen = (page: Page): Promise<number[]> =>
  page.evaluate(() => (globalThis as unknown as { seenTaps: number[] }).seenTaps);

it("a tap leads to the next page, and a hundred questions are typed into", async () => {
  const pages = Array.from({ length: 30 }, (_, index) =>
    pageOf(`p${index}`, [
      question("scale", `s${index}`, { need: "may" }),
      question("short-text", `t${index}`, { need: "may" }),
    ]),
  );
  const long = pageOf(
    "long",
    Array.from({ length: 100 }, (_, index) =>
      question(index % 2 ? "short-text" : "number", `long_${index}`, {
        need: "may",
        ...(index % 10 === 9
          ? { when: { left: { from: { question: `q-long-${index - 1}` } }, is: "≠" as const, right: -1 } }
          : {}),
      }),
    ),
  );
  const { link } = importReleased(server, studyOfPages([...pages, long]));
  const { page, context } = await openWindow(browser, { hasTouch: true });
  await page.goto(link);
  await press(page, "Start");
  await page.locator('[data-question="s0"]').waitFor();
  await watchTaps(page);
  for (let index = 0; index < 30; index++) {
    await page.locator(`[data-question="s${index}"]`).getByRole("radio").nth(3).tap();
    await page.getByRole("button", { name: "Continue" }).tap();
    await page.locator(index < 29 ? `[data-question="s${index + 1}"]` : '[data-question="long_0"]').waitFor();
  }
  const taps = await tapsSeen(page);
  console.log(`tap to the next page drawn: ${told(taps)}`);
  // Every key's own time against the frame after it, and every frame's length meanwhile.
  await page.evaluate(() => {
    const [keys, frames]: [number[], number[]] = [[], []];
    let before = performance.now();
    const frame = (stamp: number) => {
      frames.push(stamp - before);
      before = stamp;
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
    addEventListener("input", ({ timeStamp }) => requestAnimationFrame((stamp) => keys.push(stamp - timeStamp)), true);
    Object.assign(globalThis, { seenTyping: { keys, frames } });
  });
  for (let index = 0; index < 100; index += 4) {
    await page.locator(`[data-question="long_${index}"]`).getByRole("textbox").focus();
    await page.keyboard.type("1234567", { delay: 25 });
    await page.keyboard.press("Tab");
    await page.keyboard.type("tide pool", { delay: 25 });
  }
  const { keys, frames } = await page.evaluate(
    () => (globalThis as unknown as { seenTyping: { keys: number[]; frames: number[] } }).seenTyping,
  );
  console.log(`100 questions, key to the next frame: ${told(keys)}`);
  console.log(
    `100 questions, frames while typing: ${told(frames)}; longer than 50 ms: ${frames.filter((length) => length > 50).length}`,
  );
  await context.close();
}, 240_000);

it("a tap on the last page before places are given leads to the first after it", async () => {
  const pages = ["before", "behind"].map((id) => pageOf(id, [question("scale", id, { need: "may" })]));
  const study = studyOfPages(pages);
  const { link } = importReleased(server, { ...study, allocation: { ...study.allocation, after: "before" } });
  const taps: number[] = [];
  for (let participant = 0; participant < 30; participant++) {
    const { page, context } = await openWindow(browser, { hasTouch: true });
    await page.goto(link);
    await press(page, "Start");
    await page.locator('[data-question="before"]').getByRole("radio").nth(3).tap();
    await watchTaps(page);
    await page.getByRole("button", { name: "Continue" }).tap();
    await page.locator('[data-question="behind"]').waitFor();
    await page.waitForFunction(() => (globalThis as unknown as { seenTaps: number[] }).seenTaps.length > 0);
    taps.push(...(await tapsSeen(page)).slice(0, 1));
    await context.close();
  }
  console.log(`tap to the next page, its place given between: ${told(taps)}`);
});
