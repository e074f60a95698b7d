import { afterAll, beforeAll, expect, it } from "vitest";
import type { Browser, Page } from "playwright-core";
import { startServer, type Running } from "~/tests/support/server";
import { launch, openWindow } from "~/tests/support/browser";
import { countedOf, exactness, exactnessHead, exactShare, type Counted } from "../load/counted";
import { fourOf, machineFacts, tableOf, watchSteal } from "../load/machine";
import { freshFolder, releasedAt } from "../load/long-study";
import { loadMeanwhile, seenIn, watchPage } from "../load/recorder";
import { lengths, presentationStudy } from "../load/timed-study";

/**
 * Scenes of 50 to 500 ms in the production build, while records are sent and other files load; counted by a recorder in
 * the page that does not ask the player. The same flips by a page with nothing else on it stand beside it.
 */
const scenes = Number(process.env.LAPWING_SCENES ?? 2080);
const referenceScenes = Math.round(scenes / 3);
let browser: Browser;
let server: Running;
let token = "";
const facts = machineFacts();

beforeAll(async () => {
  const folder = freshFolder();
  ({ token } = await releasedAt(
    folder,
    (pictures) =>
      presentationStudy(
        scenes / 4,
        pictures.map(({ id }) => id),
      ),
    4,
  ));
  [browser, server] = await Promise.all([launch(), startServer({ folder })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

/** The same lengths, one after the other, on a page that flips one element and does nothing else. */
async function plainPage(page: Page, count: number): Promise<Counted[]> {
  await page.goto("about:blank");
  return page.evaluate(
    ([wanted, times]) =>
      new Promise<Counted[]>((resolve) => {
        const element = document.createElement("div");
        element.style.cssText = "position:fixed;inset:0;background:#2e7d8c";
        document.body.append(element);
        const counted: Counted[] = [];
        let onset = 0;
        let planned = 0;
        const tick = (stamp: number) => {
          if (onset > 0 && stamp >= onset + planned - 1000 / 120) {
            counted.push({ planned, frames: Math.round((stamp - onset) / (1000 / 60)), lasted: stamp - onset });
            onset = 0;
          }
          if (counted.length >= wanted) return resolve(counted);
          if (onset === 0) {
            element.style.opacity = counted.length % 2 === 0 ? "1" : "0";
            onset = stamp;
            planned = times[counted.length % times.length] ?? 100;
          }
          requestAnimationFrame(tick);
        };
        requestAnimationFrame(tick);
      }),
    [count, lengths] as const,
  );
}

it("presentation", async () => {
  const steal = watchSteal();
  const reference = await openWindow(browser);
  const before = await plainPage(reference.page, Math.ceil(referenceScenes / 2));
  await reference.context.close();

  const { page, context } = await openWindow(browser);
  await watchPage(page);
  await page.goto(`${server.address}/join/${token}`);
  await page.getByRole("button", { name: "Start" }).click();
  await page.getByRole("button", { name: "Continue" }).waitFor();
  await loadMeanwhile(page, 200);
  await page.getByRole("button", { name: "Continue" }).click();
  await page.getByRole("button", { name: "Finish" }).waitFor({ timeout: scenes * 500 });
  const seen = await seenIn(page);
  await context.close();

  const again = await openWindow(browser);
  const after = await plainPage(again.page, Math.floor(referenceScenes / 2));
  await again.context.close();

  const counted = countedOf(seen.scenes);
  const plain = [...before, ...after];
  const intervals = seen.frames.slice(1).map((stamp, index) => stamp - (seen.frames[index] ?? stamp));
  const [own, other] = [exactness("Lapwing", counted), exactness("a page with nothing else", plain)];
  console.log(
    [
      `presentation: ${facts}`,
      tableOf([exactnessHead, own, other]),
      `frames of the page: ${intervals.length}, length ${fourOf(intervals, 3).join(" · ")} ms`,
      steal(),
      `ratio of the exact shares, Lapwing to the page with nothing else: ${(exactShare(counted) / exactShare(plain)).toFixed(5)}`,
    ].join("\n"),
  );
  expect(counted.length).toBeGreaterThanOrEqual(scenes);
});
