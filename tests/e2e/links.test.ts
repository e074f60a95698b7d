import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Browser, Page } from "playwright-core";
import { boats, keys } from "~/tests/support/boats";
import { launch, lookAround, openWindow } from "~/tests/support/browser";
import { scene } from "~/tests/support/participant";
import { startServer, type Running } from "~/tests/support/server";
import { importReleased, press } from "~/tests/support/short-study";

let server: Running;
let browser: Browser;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

/** A study of one trial, its Collect screen, and the first of its links. */
async function collecting() {
  const { code, link } = importReleased(
    server,
    boats((block) => void (block.table.rows = block.table.rows.slice(0, 1))),
  );
  const { page } = await openWindow(browser);
  await lookAround(page, server.address);
  await page.goto(`${server.address}/studies/${code}/collect`);
  const panel = page.getByRole("group", { name: "Open link" });
  await panel.waitFor();
  return { code, link, page, panel };
}
/** Chooses what an underlined word of the sentence says, and waits until that is stored. */
async function choose(page: Page, label: RegExp, says: string | RegExp) {
  await page.getByRole("button", { name: label }).first().click();
  await stored(page, () => page.getByRole("menuitem", { name: says }).click());
}
const stored = async (page: Page, act: () => Promise<unknown>) =>
  Promise.all([
    page.waitForResponse((response) => response.request().method() === "POST" && response.url().includes("collect")),
    act(),
  ]);
async function visitor(link: string) {
  const { page } = await openWindow(browser);
  await page.goto(link);
  return page;
}
/** A day so far from now, as it is typed. */
const typed = (days: number) => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 16);
async function playToEnd(page: Page) {
  await press(page, "Start");
  await press(page, "Continue");
  await keys(page, "f");
  await press(page, "Finish");
  await page.getByText("Your completion code").waitFor();
}

describe("what a link asks", () => {
  it("can be a word, which is asked for until it is right, while another link asks for none", async () => {
    const { link, page } = await collecting();
    await choose(page, /^Who may take part/, /who knows the word/);
    await stored(page, () => page.getByRole("textbox", { name: "The word" }).fill("Sandpiper"));
    await press(page, "Another link to release 1");
    await page.getByRole("group", { name: "Link 2" }).waitFor();
    const who = await visitor(link);
    await press(who, "Start");
    await who.getByLabel("The word you were given").fill("gull");
    await press(who, "Continue");
    await who.getByText("This is not the word.").waitFor();
    await who.getByLabel("The word you were given").fill(" sandpiper");
    await press(who, "Continue");
    await who.getByText("Eight boats pass.").waitFor();
    const other = await page.getByRole("group", { name: "Link 2" }).locator("[data-entry-link]").innerText();
    const free = await visitor(other);
    await press(free, "Start");
    await free.getByText("Eight boats pass.").waitFor();
    await Promise.all([page, who, free].map((each) => each.context().close()));
  });

  it("can be a time; who comes too early or too late reads so, in the study's words or its own", async () => {
    const { link, page } = await collecting();
    await choose(page, /^From when/, "from this time on:");
    await stored(page, () => page.getByLabel("Opens").fill(typed(2)));
    const early = await visitor(link);
    await early.getByText(/^This study is not open yet\. It opens on .*20\d\d.*\.$/).waitFor();
    await choose(page, /^Until when/, "until this time:");
    await stored(page, () => page.getByLabel("Is over").fill(typed(1)));
    await page.getByText("It would be over before it opens.").waitFor();
    await choose(page, /^From when/, "from now on");
    await stored(page, () => page.getByLabel("Is over").fill(typed(-1)));
    await early.reload();
    await early.getByText("This study is over. Thank you for your interest.").waitFor();
    await press(page, "What those read who cannot begin");
    await page.getByLabel("After its time").fill("The tide is out. See you next year.");
    await stored(page, () => page.getByLabel("After its time").blur());
    await early.reload();
    await early.getByText("The tide is out. See you next year.").waitFor();
    // It stands there after a reload, and the time can be taken away again.
    await page.reload();
    await press(page, "What those read who cannot begin");
    expect(await page.getByLabel("After its time").inputValue()).toBe("The tide is out. See you next year.");
    await choose(page, /^Until when/, "until it is closed");
    await early.reload();
    await early.getByRole("button", { name: "Start", exact: true }).waitFor();
    await Promise.all([page, early].map((each) => each.context().close()));
  });

  it("can be once per browser: who has finished, or begun in another tab, begins no second time", async () => {
    const { link, page } = await collecting();
    await choose(page, /^How often/, "once per browser");
    const { page: first, context } = await openWindow(browser);
    await first.goto(link);
    await playToEnd(first);
    const again = await context.newPage();
    await again.goto(link);
    await again.getByText("You have taken part in this study already.").waitFor();
    expect(await again.getByRole("button").count()).toBe(0);
    const other = await visitor(link);
    await press(other, "Start");
    await other.getByText("Eight boats pass.").waitFor();
    // A reload goes on with what was begun.
    await other.reload();
    await press(other, "Continue where you left off");
    await other.getByText("Eight boats pass.").waitFor();
    await choose(page, /^How often/, "per browser so often:");
    await again.reload();
    await press(again, "Start");
    await again.getByText("Eight boats pass.").waitFor();
    await Promise.all([page, first, other].map((each) => each.context().close()));
  });

  it("can be how many finish; who is inside then finishes, and the next one reads that it is full", async () => {
    const { link, page, panel } = await collecting();
    await choose(page, /^How many/, /until so many have finished/);
    await stored(page, () => page.getByLabel("Finished sessions").fill("1"));
    const [inside, first] = [await visitor(link), await visitor(link)];
    await press(inside, "Start");
    await inside.getByText("Eight boats pass.").waitFor();
    await playToEnd(first);
    const late = await visitor(link);
    await late.getByText("This study has all the participants it needs.").waitFor();
    await press(inside, "Continue");
    await keys(inside, "f");
    await press(inside, "Finish");
    await inside.getByText("Your completion code").waitFor();
    await panel.getByText("2 started, 2 finished").waitFor();
    await Promise.all([page, inside, first, late].map((each) => each.context().close()));
  });

  it("can be that nobody goes on once they have left; what they did is kept all the same", async () => {
    const { link, page, panel } = await collecting();
    await choose(page, /^Going on/, "not go on once they have left");
    const who = await visitor(link);
    await press(who, "Start");
    await press(who, "Continue");
    await scene(who, "target");
    await who.reload();
    await press(who, "Continue where you left off");
    await who.getByText("The time in which this study could be continued is over.").waitFor();
    await panel.getByText("1 started, 0 finished").waitFor();
    await choose(page, /^Going on/, /within some hours/);
    await who.reload();
    await press(who, "Continue where you left off");
    expect(await scene(who, "target")).toBe(1);
    await Promise.all([page, who].map((each) => each.context().close()));
  });

  it("is refused where it makes no sense, and belongs to the study", async () => {
    const { code, link, page } = await collecting();
    const token = link.split("/").at(-1);
    const post = (body: object, of = code) =>
      page.request.post(`${server.address}/studies/${of}/collect.data`, {
        data: body,
        headers: { Origin: server.address },
      });
    const open = { who: { kind: "anyone" }, goOn: { kind: "whenever" }, says: {} };
    const statuses = [];
    for (const body of [
      { link: token, terms: { ...open, until: { at: "2026-12-01T00:00:00.000Z", zone: "Atlantis/Harbour" } } },
      { link: token, terms: { ...open, mostFinished: 0 } },
      { link: token, label: "x".repeat(81) },
      { link: token, label: "Poster in the hall" },
    ])
      statuses.push((await post(body)).status());
    expect(statuses.map((status) => status < 300)).toEqual([false, false, false, true]);
    await post({ link: token, label: "Not mine" }, "amber-quay");
    await page.reload();
    await page.getByRole("group", { name: "Poster in the hall" }).waitFor();
    await page.context().close();
  });

  it("has a poster to print, with its address as a code that leads there", async () => {
    const { link, page, panel } = await collecting();
    await panel.getByRole("link", { name: "Poster" }).click();
    await page.getByRole("heading", { name: "Eight boats" }).waitFor();
    await page.getByText(link, { exact: true }).waitFor();
    const code = page.getByRole("img", { name: `Code to scan: ${link}` });
    // It is drawn: as wide as it is high, with black and white in it.
    const drawn = await code.evaluate(async (image: HTMLImageElement) => {
      await image.decode();
      const canvas = Object.assign(document.createElement("canvas"), { width: 200, height: 200 });
      const surface = canvas.getContext("2d")!;
      surface.drawImage(image, 0, 0, 200, 200);
      const { data } = surface.getImageData(0, 0, 200, 200);
      return {
        ratio: image.naturalWidth / image.naturalHeight,
        tones: new Set(data.filter((_, at) => at % 4 === 0)).size,
      };
    });
    expect(drawn.ratio).toBe(1);
    expect(drawn.tones).toBeGreaterThan(1);
    await page.emulateMedia({ media: "print" });
    expect(await page.getByRole("button", { name: "Print" }).isVisible()).toBe(false);
    await page.context().close();
  });
});
