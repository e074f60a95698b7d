import { beforeEach, describe, expect, it } from "vitest";
import { blocksInOrder } from "~/core/design/lookup";
import { newStudyInCompose, openWindow, saved, storedStudy } from "../support/browser";
import { withScreens, type Screens } from "../support/screens";

const screens = withScreens();
let server: Screens["server"];
let page: Screens["page"];
beforeEach(() => void ({ server, page } = screens));

const make = (title: string) => newStudyInCompose(page, server.address, title);
const margin = () => page.getByRole("complementary", { name: "Settings of what is selected" });
const cell = (row: number, column: number) => page.locator(".dsg-row").nth(row).locator(".dsg-cell").nth(column);
const rowsIn = async (code: string) =>
  blocksInOrder(await storedStudy(page, server.address, code))[0]?.table.rows ?? [];

describe("the table", () => {
  it("removes the rows that are selected, and the figure shows one that is there", async () => {
    const code = await make("Rows that go");
    for (let count = 0; count < 3; count++) await page.getByRole("button", { name: "Row", exact: true }).click();
    for (const left of [4, 3]) {
      await cell(2, 2).click();
      await page.getByRole("button", { name: "Remove row 2" }).click();
      await expect.poll(() => page.locator("h2.caption").first().innerText()).toContain(`${left} rows`);
      await expect.poll(() => page.locator("[data-figure-caption]").innerText()).toMatch(/Trial \d+ of participant 1/);
    }
    await saved(page);
    expect(await rowsIn(code)).toHaveLength(3);
  });

  it("takes a column out of the ribbon when it is removed or called otherwise", async () => {
    await make("Columns that go");
    const choice = page.getByRole("button", { name: /Column that colours the ticks/ });
    await expect.poll(() => choice.innerText()).toBe("word");
    await page.getByTitle("Settings of column word").click();
    await page.getByLabel("Name", { exact: true }).fill("noun");
    await expect.poll(() => choice.innerText()).toBe("noun");
    await page.getByRole("button", { name: /^Remove the column/ }).click();
    await page.getByRole("button", { name: "Remove it anyway" }).click();
    await expect.poll(() => choice.innerText()).toBe("key");
  });
});

it("a column is filled with another's texts, letters replaced, and a long text is written in a large field", async () => {
  const code = await make("Letters that go");
  await page.getByTitle("Settings of column word").click();
  await page.getByRole("button", { name: "Write word in row 1 in a larger field" }).click();
  await page.getByRole("dialog").getByRole("textbox").fill("The tide comes in.\nThe boats rise.");
  await page.getByRole("button", { name: "Done" }).click();
  await page.getByRole("button", { name: "Column", exact: true }).click();
  await page.getByLabel("Name", { exact: true }).fill("gaps");
  await page.getByLabel("From", { exact: true }).selectOption({ label: "letters of word replaced" });
  await page.getByLabel("Replaces").selectOption("middle");
  await page.getByLabel("Fewest letters of a word").fill("4");
  await page.getByRole("list", { name: "What comes out" }).getByText("The t__e c___s in. The b___s r__e.").waitFor();
  await saved(page);
  const [block] = Object.values((await storedStudy(page, server.address, code)).parts).filter(
    ({ kind }) => kind === "block",
  );
  expect(JSON.stringify(block)).toContain('"letters":{"from":');
}, 60_000);

describe("ways back to the block", () => {
  const isBlock = () => expect.poll(() => margin().getByLabel("Passes").count()).toBe(1);

  it("lead from what is selected by Escape, by the paper, by the block's name and by the line above", async () => {
    await make("There and back");
    const scene = () => page.locator('[data-scene-button="target"]').click();
    await isBlock();
    await scene();
    await expect.poll(() => margin().getByLabel("Passes").count()).toBe(0);
    await page.keyboard.press("Escape");
    await isBlock();
    await scene();
    const paper = await page.getByRole("group", { name: "Figure 1: scenes of the trial" }).boundingBox();
    await page.mouse.click((paper?.x ?? 0) + (paper?.width ?? 0) - 20, (paper?.y ?? 0) + (paper?.height ?? 0) - 20);
    await isBlock();
    await page.getByTitle("Settings of column word").click();
    await margin()
      .getByRole("button", { name: /^Block 1: order, passes, limits/ })
      .click();
    await isBlock();
    await scene();
    await page.getByRole("button", { name: "Part: Block 1" }).click();
    await page.getByRole("menuitem", { name: "Welcome" }).waitFor();
    await page.keyboard.press("Escape");
    await isBlock();
  });

  it("are found by their words", async () => {
    await make("Found by words");
    for (const [words, label] of [
      ["order", "Order"],
      ["passes", "Passes"],
    ] as const) {
      await page.locator('[data-scene-button="target"]').click();
      await page.keyboard.press("Control+k");
      await page.getByPlaceholder("What do you want to do?").fill(words);
      await page.keyboard.press("Enter");
      const field = margin().getByLabel(label, { exact: true });
      await field.waitFor();
      await expect.poll(() => field.evaluate((element) => element === document.activeElement)).toBe(true);
    }
    await page.keyboard.press("Control+k");
    await page.getByPlaceholder("What do you want to do?").fill("limit");
    await page.getByRole("option", { name: /Limits on the order/ }).waitFor();
    await page.keyboard.press("Escape");
  });
});

describe("bounds", () => {
  it("are told at the field, and what is beyond them is neither kept nor sent", async () => {
    const code = await make("Bounds");
    const name = margin().getByLabel("Name", { exact: true });
    await name.fill("a".repeat(121));
    await margin().getByRole("alert").getByText("Must have at most 120 characters.").waitFor();
    await name.fill("Short");
    await expect.poll(() => margin().getByRole("alert").count()).toBe(0);
    await page.locator('[data-scene-button="fixation"]').click();
    await page.getByLabel("Duration in milliseconds").fill("99999999999");
    await margin()
      .getByRole("alert")
      .getByText(/^Must be at most/)
      .waitFor();
    await page.getByLabel("Duration in milliseconds").fill("250");
    await saved(page);
    const [block] = blocksInOrder(await storedStudy(page, server.address, code));
    expect([block?.name, block?.scenes[0]?.lasts]).toEqual(["Short", { kind: "ms", ms: 250 }]);
  });

  it("keep two parts from having one name, and a column from that of another in the data", async () => {
    await make("Names");
    await page.getByTitle("Settings of column word").click();
    await margin().getByLabel("Name", { exact: true }).fill("early_answers");
    await margin().getByRole("alert").getByText("“early_answers” is a column of the exported data already.").waitFor();
    await page.getByRole("link", { name: /^plan$/i }).click();
    await page.locator('[data-part-row="Welcome"] [data-part]').click();
    await margin().getByLabel("Name", { exact: true }).fill("block 1");
    await margin().getByRole("alert").getByText("Another part has this name").waitFor();
  });
});

describe("releases and links", () => {
  it("a release of nothing new is asked about, a wave says that it runs an earlier one, and a link is closed and opened again", async () => {
    await make("Tides twice");
    await saved(page);
    await page.getByRole("link", { name: /^collect$/i }).click();
    const release = () => page.getByRole("button", { name: "Release this version" }).click();
    await release();
    await page.getByRole("button", { name: "Release it" }).click();
    await page.locator("[data-entry-link]").waitFor();
    const address = (await page.locator("[data-entry-link]").textContent()) ?? "";
    await release();
    await page.getByRole("dialog", { name: "Nothing has changed since release 1" }).waitFor();
    await page.getByRole("button", { name: "Not now" }).click();
    await expect.poll(() => page.getByRole("button", { name: /^Release 2/ }).count()).toBe(0);
    await page.getByLabel("Title of the study").fill("Tides, again");
    // Saving is waited for, not asked for.
    await release();
    await page.getByRole("checkbox", { name: "First wave" }).uncheck();
    await page.getByRole("button", { name: "Release it" }).click();
    await page.getByRole("button", { name: /^Release 2/ }).waitFor();
    await page.getByText("Release 2 is newer. Where the wave moves to it").waitFor();
    const status = async () => (await page.request.get(address)).status();
    expect(await status()).toBe(200);
    const begun = await openWindow(screens.browser);
    await begun.page.goto(address);
    await begun.page.getByRole("button", { name: "Start" }).click();
    await begun.page.getByRole("button", { name: "Continue" }).waitFor();
    await page.getByRole("button", { name: "Close the link" }).click();
    await expect.poll(status).toBe(404);
    await page.getByText("Closed: no one can begin with it.").waitFor();
    // Who has begun continues, also after a reload; nobody else begins.
    await begun.page.reload();
    await begun.page.getByRole("button", { name: "Continue where you left off" }).click();
    await begun.page.getByRole("button", { name: "Continue" }).waitFor();
    await begun.context.close();
    const late = await openWindow(screens.browser);
    await late.page.goto(address);
    await late.page.getByText("This link does not lead to a study that is open.").waitFor();
    await expect.poll(() => late.page.getByRole("button").count()).toBe(0);
    await late.context.close();
    await page.getByRole("button", { name: "Open it again" }).click();
    await expect.poll(status).toBe(200);
  });
});

it.each([
  ["200 % zoom", 640, 400],
  ["1024 × 768", 1024, 768],
])("every screen is whole at %s", async (_, width, height) => {
  await page.setViewportSize({ width, height });
  for (const [path, ready] of [
    ["plan", "[data-tick]"],
    ["compose", "[data-scene-button]"],
    ["rehearse", "[data-tick]"],
    ["collect", "[data-entry-link]"],
    ["results", "figure svg.recharts-surface"],
  ] as const) {
    await page.goto(`${server.address}/studies/amber-quay/${path}`);
    await page.locator(ready).first().waitFor({ state: "attached" });
    const found = await page.evaluate(() => {
      const box = (element: Element | null) => element?.getBoundingClientRect();
      const overlap = (a: DOMRect | undefined, b: DOMRect | undefined) =>
        a !== undefined &&
        b !== undefined &&
        a.width > 0 &&
        b.width > 0 &&
        a.left < b.right - 1 &&
        b.left < a.right - 1 &&
        a.top < b.bottom - 1 &&
        b.top < a.bottom - 1;
      const nav = box(document.querySelector("nav[aria-label='Sections of the study']"));
      const title = box(document.querySelector("input[aria-label='Title of the study']"));
      const ribbon = box(document.querySelector("section[aria-label^='Ribbon']"));
      const main = box(document.querySelector("main"));
      return {
        sideways: document.documentElement.scrollWidth > innerWidth,
        navOverTitle: overlap(nav, title),
        ribbonOverMain: overlap(ribbon, main),
        cut: [...document.querySelectorAll("h1.caption, h2.caption, figcaption")].flatMap((caption) =>
          caption.scrollWidth > caption.clientWidth + 1 ? [caption.textContent] : [],
        ),
      };
    });
    expect([path, found]).toEqual([path, { sideways: false, navOverTitle: false, ribbonOverMain: false, cut: [] }]);
  }
});
