import { AxeBuilder } from "@axe-core/playwright";
import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { launch, lookAround, openWindow, still } from "../support/browser";
import { startServer, type Running } from "../support/server";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

type Options = ConstructorParameters<typeof AxeBuilder>[0];

/** Serious and critical findings, each with the first element it is about; of these rules only, where some are given. */
async function serious(page: Page, ...rules: string[]): Promise<string[]> {
  const axe = new AxeBuilder({ page } as unknown as Options);
  const { violations } = await (rules.length > 0 ? axe.withRules(rules) : axe).analyze();
  return violations
    .filter(({ impact }) => impact === "serious" || impact === "critical")
    .map(
      ({ id, nodes }) => `${id}: ${nodes[0]?.html.slice(0, 160)} (${nodes[0]?.failureSummary?.split("\n")[1]?.trim()})`,
    );
}

/** In the light scheme everything is looked at; in the dark one what colours can spoil. */
async function seriousInBoth(page: Page): Promise<string[]> {
  const inLight = await serious(page);
  await page.emulateMedia({ colorScheme: "dark" });
  await still(page);
  const inDark = await serious(page, "color-contrast", "link-in-text-block");
  await page.emulateMedia({ colorScheme: "light" });
  return [...inLight, ...inDark.map((finding) => `dark: ${finding}`)];
}

const screens: [string, (page: Page) => Promise<unknown>][] = [
  ["studies", (page) => page.locator("tbody tr").first().waitFor()],
  ["studies/amber-quay/plan", (page) => page.locator("[data-tick]").first().waitFor()],
  ["studies/grey-ferry/plan#bracket", (page) => page.getByRole("button", { name: /^Bracket:/ }).click()],
  ["studies/grey-ferry/plan#limits", (page) => page.locator('[data-part-row="Thin mist"] [data-part]').click()],
  ["studies/grey-ferry/plan#allocation", (page) => page.getByRole("button", { name: "Who gets what" }).click()],
  [
    "studies/grey-ferry/plan#many",
    async (page) => {
      await page.getByRole("button", { name: "200 at once" }).click();
      await page.locator("[data-balance]").waitFor({ timeout: 30_000 });
    },
  ],
  ["studies/amber-quay/collect#lab", (page) => page.getByRole("button", { name: "Start a session here" }).click()],
  [
    "studies/amber-quay/compose",
    async (page) => {
      await page.locator('[data-scene-button="flock"]').click();
      await page.getByRole("button", { name: "middle bird", exact: true }).click();
    },
  ],
  [
    "studies/amber-quay/compose#opened-stage",
    async (page) => {
      await page.locator('[data-scene-button="flock"]').dblclick();
      await page.getByRole("application").press(".");
      await page.locator("[data-selection]").waitFor();
    },
  ],
  ["studies/amber-quay/compose#crossing", (page) => page.getByRole("button", { name: "Cross factors" }).click()],
  [
    "studies/amber-quay/compose#answer",
    (page) => page.getByRole("button", { name: /answer: J or F|answer: F or J/ }).click(),
  ],
  ["studies/amber-quay/compose#files", (page) => page.getByRole("button", { name: "Rows from files" }).click()],
  [
    "studies/amber-quay/compose#media",
    async (page) => {
      await page.getByRole("button", { name: "Media" }).click();
      await page.getByRole("button", { name: "wader-knot.svg" }).click();
    },
  ],
  [
    "studies/amber-quay/compose#history",
    async (page) => {
      await page.getByRole("button", { name: "History" }).click();
      await page.getByText("The study began with it.").waitFor();
    },
  ],
  [
    "studies/amber-quay/compose#commands",
    async (page) => {
      await page.locator("[data-scene-button]").first().waitFor();
      await page.keyboard.press("Control+k");
      await page.getByPlaceholder("What do you want to do?").waitFor();
    },
  ],
  [
    "studies/amber-quay/compose#find",
    async (page) => {
      await page.getByRole("button", { name: "More for the table" }).click();
      await page.getByRole("menuitem", { name: "Find and replace" }).click();
      await page.getByLabel("Find", { exact: true }).fill("left");
    },
  ],
  ["studies#new", (page) => page.getByRole("button", { name: "New study" }).click()],
  ["studies/amber-quay/rehearse", (page) => page.getByRole("tab", { name: /Preflight/ }).click()],
  ["studies/amber-quay/collect", (page) => page.locator("[data-entry-link]").waitFor()],
  ["studies/amber-quay/poster/demo-waders", (page) => page.getByRole("img", { name: /^Code to scan/ }).waitFor()],
  ["studies/amber-quay/results", (page) => page.locator("figure svg.recharts-surface").waitFor()],
  [
    "studies/amber-quay/results?tab=timing",
    async (page) => {
      await page.locator("[data-verdict]").getByText("of them in the session of participant 7").waitFor();
      await page.getByText("Sessions, displays and browsers").waitFor();
    },
  ],
  ["self-test", (page) => page.getByRole("button", { name: "Run the test" }).waitFor()],
  [
    "studies/amber-quay/plan#goodbye",
    async (page) => {
      await page.getByRole("button", { name: "From link to goodbye" }).click();
      await page.locator("summary").click();
    },
  ],
  ["studies/grey-ferry/plan#variable", (page) => page.getByRole("button", { name: /^points/ }).click()],
  [
    "studies/grey-ferry/compose#rules",
    async (page) => {
      await page.getByRole("button", { name: /^Part:/ }).click();
      await page.getByRole("menuitem", { name: "Practice" }).click();
      await page.getByRole("tab", { name: /^Rules/ }).click();
      await page.getByRole("button", { name: "Settings of rule 3" }).click();
      await page.getByRole("heading", { name: /Rule 3/ }).waitFor();
    },
  ],
  [
    "studies/grey-ferry/compose#criterion",
    async (page) => {
      await page.getByRole("button", { name: /^Part:/ }).click();
      await page.getByRole("menuitem", { name: "Practice" }).click();
      await page.getByRole("tab", { name: /^Until good enough/ }).click();
      await page.getByLabel("Share right, in per cent").waitFor();
    },
  ],
  [
    "studies/brass-tide/compose#follows",
    async (page) => {
      await page.getByTitle("Settings of column brightness").click();
      await page.getByRole("img", { name: /trials, \d+ right/ }).waitFor();
    },
  ],
  [
    "studies/brass-tide/compose#again",
    async (page) => {
      await page.getByRole("tab", { name: /^Until good enough/ }).click();
      await page.getByRole("button", { name: "Let wrong trials come again" }).click();
      await page.getByLabel("Shown at most").waitFor();
    },
  ],
  [
    "studies/brass-tide/results?tab=thresholds",
    (page) =>
      page
        .getByRole("img", { name: /trials/ })
        .first()
        .waitFor(),
  ],
  [
    "studies/grey-ferry/plan#values",
    async (page) => {
      await page.getByRole("button", { name: "all values" }).click();
      await page.getByRole("dialog").waitFor();
    },
  ],
  [
    "studies/grey-ferry/compose#breaks",
    async (page) => {
      await page.locator("[data-scene-button]").first().waitFor();
      const breaks = page.getByLabel("Breaks: a page between trials");
      if (!(await breaks.isChecked())) await breaks.check();
      await page.getByRole("textbox", { name: /Text of the breaks in/ }).waitFor();
    },
  ],
  ["studies/amber-quay/results?tab=distributions", (page) => page.locator("[data-numbers]").waitFor()],
  ["studies/amber-quay/results?tab=course&by=neighbours", (page) => page.locator("[data-numbers]").waitFor()],
  ["studies/amber-quay/results?tab=persons", (page) => page.locator("[data-persons]").waitFor()],
  [
    "studies/amber-quay/results?across=neighbours&from=against&less=with&tests=yes",
    (page) => page.locator('[data-numbers="effects"]').waitFor(),
  ],
  [
    "studies/amber-quay/results?tab=export",
    async (page) => {
      await page.getByRole("button", { name: "New", exact: true }).click();
      await page.getByRole("menuitem", { name: "A row for each person", exact: true }).click();
      await page.getByLabel("Name", { exact: true }).fill("Means");
      await page.getByRole("button", { name: "Make it" }).click();
      await page.locator("[data-preview]").waitFor();
    },
  ],
  [
    "studies/amber-quay/results?tab=scores",
    async (page) => {
      await page.getByRole("region", { name: "Norm samples" }).waitFor();
      const there = page.getByRole("button", { name: /^cost/ });
      if ((await there.count()) > 0) return there.click();
      await page.getByRole("button", { name: "New", exact: true }).click();
      await page.getByLabel("Name", { exact: true }).fill("cost");
      await page.getByRole("button", { name: "Make it" }).click();
      await page.getByRole("button", { name: "More of cost" }).waitFor();
      await page.getByRole("button", { name: "Add", exact: true }).click();
      await page.getByRole("menuitem", { name: /sessions kept now/ }).click();
      await page.getByRole("button", { name: "Add it" }).click();
      await page.getByText("in use").waitFor();
    },
  ],
  [
    "studies/amber-quay/results?tab=scores#person",
    async (page) => {
      await page.locator("[data-scores] tbody a").first().click();
      await page.getByRole("article", { name: "One person" }).waitFor();
    },
  ],
  [
    "studies/amber-quay/results?tab=conditions&lines=yes#paper",
    async (page) => {
      await page.getByRole("button", { name: "Take the figure away" }).first().click();
      await page.getByRole("menuitem", { name: "Put it into the paper" }).click();
      await page.getByText("The figure is in the paper").waitFor();
      await page.getByRole("tab", { name: "paper" }).click();
      const table = page.getByRole("checkbox", { name: "with its numbers as a table" }).first();
      if (!(await table.isChecked())) await table.click();
      await page.getByRole("region", { name: "Table 1" }).waitFor();
    },
  ],
  ["take-in", (page) => page.getByLabel("Data file").waitFor()],
  ["studies/amber-quay/results?tab=records", (page) => page.locator("tbody tr").first().waitFor()],
];

/** Plain texts that are drawn in a font of the system instead of one that comes with the application. */
async function inOtherFonts(page: Page): Promise<string[]> {
  await page.evaluate(() => document.fonts.ready.then(() => undefined));
  const client = await page.context().newCDPSession(page);
  await client.send("DOM.enable");
  await client.send("CSS.enable");
  const { root } = await client.send("DOM.getDocument", { depth: 0 });
  const { nodeIds } = await client.send("DOM.querySelectorAll", { nodeId: root.nodeId, selector: "body *" });
  const found: string[] = [];
  for (const nodeId of nodeIds) {
    const { fonts } = await client.send("CSS.getPlatformFontsForNode", { nodeId });
    const other = fonts.find(({ isCustomFont }) => !isCustomFont);
    if (!other) continue;
    const { outerHTML } = await client.send("DOM.getOuterHTML", { nodeId });
    const text = outerHTML.replace(/<[^<>]*>/g, "");
    if (/^[\u0020-\u00ff‘’“”–…]*$/.test(text)) found.push(`${other.familyName}: ${text.slice(0, 60)}`);
  }
  await client.detach();
  return found;
}

describe("nothing serious is found in either scheme", () => {
  let window: Awaited<ReturnType<typeof openWindow>>;
  beforeAll(async () => {
    window = await openWindow(browser, { colorScheme: "light" });
    await lookAround(window.page, server.address);
  });
  afterAll(() => window.context.close());

  it.each(screens)("on %s", async (path, ready) => {
    const { page, complaints } = window;
    await page.goto("about:blank");
    await page.goto(`${server.address}/${path}`);
    await ready(page);
    expect(await seriousInBoth(page)).toEqual([]);
    // No horizontal scroll bar at the size the screens are made for.
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
    expect(complaints.splice(0)).toEqual([]);
    if (!path.includes("#")) expect(await inOtherFonts(page)).toEqual([]);
  });

  it.each(["sign-in", "join/demo-waders"])("on %s", async (path) => {
    const { page, context } = await openWindow(browser, { colorScheme: "light" });
    await page.goto(`${server.address}/${path}`);
    await page.getByRole("button").first().waitFor();
    expect(await seriousInBoth(page)).toEqual([]);
    await context.close();
  });
});
