import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, expect, it } from "vitest";
import { blocksInOrder } from "~/core/design/lookup";
import type { StudyDocument } from "~/core/design/document";
import { newItem } from "~/core/items/item";
import { launch, lookAround, openWindow, saved, still } from "../support/browser";
import { scene } from "../support/participant";
import { startServer, type Running } from "../support/server";
import { countedIds, plainStudy } from "../support/studies";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

/** A target of everything that is drawn but text: turned shapes of all forms, a grating, an array, a slider. */
function drawn(withText: boolean): StudyDocument {
  const document = plainStudy();
  const newId = countedIds();
  const block = blocksInOrder(document)[0];
  const target = block?.scenes[1];
  if (!block || !target) throw new Error("no target");
  block.order.method = "as-listed";
  const id = (prefix: string) => `${newId(prefix)}-drawn`;
  const forms = ["rectangle", "ellipse", "line", "arrow", "cross", "polygon", "star", "ring"] as const;
  target.items = [
    ...(withText ? target.items : []),
    ...forms.map((form, index) => ({
      ...(newItem(id, "shape", form) as Extract<(typeof target.items)[number], { kind: "shape" }>),
      form,
      at: { x: -63 + index * 18, y: 33 },
      size: { w: 14, h: 12 },
      line: "#17211e",
      lineWidth: 1.5,
      turned: index * 17,
    })),
    { ...(newItem(id, "grating", "waves") as object), at: { x: -45, y: -15 } } as (typeof target.items)[number],
    {
      ...(newItem(id, "array", "boats") as object),
      at: { x: 20, y: -12 },
      size: { w: 60, h: 60 },
    } as (typeof target.items)[number],
  ];
  return document;
}

/** How many pixels of two PNGs of the same size differ at all, counted by the browser. */
const differing = (page: Page, a: Buffer, b: Buffer): Promise<{ count: number; of: number; same: boolean }> =>
  page.evaluate(
    async ([one, two]) => {
      const pixels = async (data: string) => {
        const picture = new Image();
        picture.src = `data:image/png;base64,${data}`;
        await picture.decode();
        const canvas = document.createElement("canvas");
        [canvas.width, canvas.height] = [picture.width, picture.height];
        const surface = canvas.getContext("2d");
        surface?.drawImage(picture, 0, 0);
        return surface?.getImageData(0, 0, canvas.width, canvas.height);
      };
      const [first, second] = [await pixels(one ?? ""), await pixels(two ?? "")];
      if (!first || !second) throw new Error("no pixels");
      let count = 0;
      for (let at = 0; at < first.data.length; at += 4)
        if ([0, 1, 2].some((channel) => first.data[at + channel] !== second.data[at + channel])) {
          count++;
        }
      return { count, of: first.data.length / 4, same: first.width === second.width && first.height === second.height };
    },
    [a.toString("base64"), b.toString("base64")],
  );

/** The same trial as the miniature, the opened stage and the player draw it, at the sizes of the first two. */
async function compare(document: StudyDocument) {
  const { page, context } = await openWindow(browser);
  await lookAround(page, server.address);
  await page
    .locator('input[type="file"]')
    .first()
    .setInputFiles({
      name: "drawn.lapwing.json",
      mimeType: "application/json",
      buffer: Buffer.from(JSON.stringify(document)),
    });
  await page.waitForURL("**/studies/*/**");
  const code = page.url().split("/")[4] ?? "";
  await page.goto(`${server.address}/studies/${code}/compose`);
  const miniature = page.locator('[data-scene-button="target"]');
  await miniature.waitFor();
  await still(page);
  const bare = async (locator: ReturnType<Page["locator"]>) => {
    await page.evaluate(() => getSelection()?.removeAllRanges());
    const box = await locator.boundingBox();
    if (!box) throw new Error("nothing to look at");
    return { box, picture: await page.screenshot({ clip: box }) };
  };
  await page.addStyleTag({ content: "[data-scene-button] { outline: none !important }" });
  const small = await bare(miniature.locator("div").first());
  await miniature.dblclick();
  await page.locator("[data-stage]").waitFor();
  await page.addStyleTag({
    content: "[role=application], output { visibility: hidden !important } [data-stage] { outline: none !important }",
  });
  await still(page);
  const large = await bare(page.locator("[data-stage]"));
  await saved(page);
  await page.goto(`${server.address}/studies/${code}/rehearse`);
  const [played] = await Promise.all([
    context.waitForEvent("page"),
    page.getByRole("button", { name: "Play in a new tab" }).click(),
  ]);
  const results: { size: string; count: number; of: number; same: boolean }[] = [];
  await played.getByRole("button", { name: "Continue" }).click();
  await played.addInitScript(() =>
    addEventListener("DOMContentLoaded", () => {
      const style = globalThis.document.createElement("style");
      style.textContent = ".pilot { display: none }";
      globalThis.document.head.append(style);
    }),
  );
  for (const [index, { box, picture }] of [small, large].entries()) {
    // The stage is sized by the window; a trial is built at the size the window has when it begins.
    await played.setViewportSize({ width: Math.round(box.width), height: Math.round(box.height) });
    await played.reload();
    await scene(played, "target", 0);
    const shown = await played.screenshot();
    results.push({
      size: `${Math.round(box.width)}×${Math.round(box.height)}`,
      ...(await differing(page, picture, shown)),
    });
    if (index === 0) await played.keyboard.press("Escape");
  }
  await context.close();
  return results;
}

it("miniature, opened stage and player draw the same pixels", async () => {
  const results = await compare(drawn(false));
  console.log(`differing pixels without text: ${JSON.stringify(results)}`);
  for (const { count, same } of results) expect([same, count]).toEqual([true, 0]);
});

it("text differs at most in its antialiasing", async () => {
  const results = await compare(drawn(true));
  console.log(`differing pixels with text: ${JSON.stringify(results)}`);
  for (const { count, of, same } of results) {
    expect(same).toBe(true);
    expect(count / of).toBeLessThan(0.01);
  }
});
