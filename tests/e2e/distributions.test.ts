import { readFileSync } from "node:fs";
import Papa from "papaparse";
import type { Page } from "playwright-core";
import { beforeEach, describe, expect, it } from "vitest";
import { withScreens } from "../support/screens";

const screens = withScreens();
let page: Page;
beforeEach(async () => {
  ({ page } = screens);
  await page.goto(`${screens.server.address}/studies/amber-quay/results?tab=distributions`);
});

const table = () => page.locator("[data-numbers] tbody tr");
const column = async (at: number) =>
  (await table().locator(`td:nth-child(${at})`).allTextContents()).map((text) => parseFloat(text));
const choose = async (label: string, says: string) => {
  await page.getByRole("button", { name: new RegExp(`^${label}: `) }).click();
  await page.getByRole("menuitem", { name: says, exact: true }).click();
};
async function taken(item: RegExp): Promise<{ name: string; bytes: Buffer }> {
  await page.getByRole("button", { name: "Take the figure away" }).click();
  const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("menuitem", { name: item }).click()]);
  return { name: file.suggestedFilename(), bytes: readFileSync(await file.path()) };
}

describe("Distributions", () => {
  it("show deciles by condition, which rise, and are slower where the neighbours are against", async () => {
    await expect.poll(() => table().count()).toBe(9);
    const [together, against] = [await column(2), await column(3)];
    for (const each of [together, against]) expect(each).toEqual(each.toSorted((a, b) => a - b));
    for (const [at, ms] of against.entries()) expect(ms).toBeGreaterThan(together[at]!);
    await page
      .getByRole("figure")
      .getByText("Quantiles of reaction times, averaged over sessions by neighbours")
      .waitFor();
    await expect.poll(() => page.locator("svg path.recharts-line-curve").count()).toBe(3);
  });

  it("show a difference between two conditions that are chosen, and the other way round its negative", async () => {
    await choose("Shape", "delta plot");
    await page.getByRole("columnheader", { name: "against − with" }).waitFor();
    const there = await column(2);
    expect(Math.min(...there)).toBeGreaterThan(0);
    await choose("Condition to compare with", "against");
    await page.getByRole("columnheader", { name: "with − against" }).waitFor();
    await expect.poll(() => column(2)).toEqual(there.map((ms) => -ms));
  });

  it("are drawn in every shape, and say how each was made", async () => {
    const said = new Map([
      ["density", "smoothed by a normal kernel"],
      ["histogram", "in bins of"],
      ["cumulative share", "Shares of each session’s times"],
      ["accuracy by speed", "in 5 parts of equal size"],
    ]);
    for (const [shape, words] of said) {
      await choose("Shape", shape);
      await page.getByText(words, { exact: false }).waitFor();
      await page.locator("svg path.recharts-line-curve").nth(2).waitFor();
    }
    await choose("Column", "nothing: all trials together");
    await expect.poll(() => page.locator("svg path.recharts-line-curve").count()).toBe(1);
  });

  it("give the parameters of a fit to each session, and say how few times are too few", async () => {
    await choose("Shape", "ex-Gaussian parameters");
    await page.getByText("No session has 100 times in each of its conditions.").waitFor();
    await choose("Column", "nothing: all trials together");
    await choose("Fewest times", "40");
    await page.getByText("Sessions with fewer than 40 times", { exact: false }).waitFor();
    await expect.poll(() => table().count()).toBe(3);
    expect(await table().locator("td:first-child").allTextContents()).toEqual(["μ", "σ", "τ"]);
    const [mu = NaN, sigma = NaN, tau = NaN] = await column(2);
    expect(mu).toBeGreaterThan(300);
    expect(sigma).toBeLessThan(tau + mu);
    expect(mu + tau).toBeGreaterThan(400);
  });

  it("are taken away as a drawing with its legend, a picture for print and the numbers of the table", async () => {
    await page.locator("svg path.recharts-line-curve").nth(2).waitFor();
    const svg = await taken(/Drawing/);
    expect(svg.name).toBe("amber-quay-quantiles.svg");
    const drawing = svg.bytes.toString();
    for (const word of ["with", "against", "none", "Reaction time, ms"]) expect(drawing).toContain(`>${word}<`);
    expect(drawing).not.toContain("var(--");
    const png = await taken(/Picture/);
    expect(png.bytes.subarray(1, 4).toString()).toBe("PNG");
    expect(png.bytes.readUInt32BE(41)).toBe(11811);
    const csv = Papa.parse<Record<string, string>>((await taken(/numbers/)).bytes.toString().trim(), {
      header: true,
    }).data;
    const shown = await column(2);
    expect(
      csv.filter(({ condition }) => condition === "with").map((row) => Math.round(Number(row["Reaction time, ms"]))),
    ).toEqual(shown);
  });

  it("follow what is left out", async () => {
    await expect.poll(() => table().count()).toBe(9);
    const before = await column(2);
    await page.getByRole("switch", { name: "Wrong answers, for times only" }).click();
    await expect.poll(() => column(2)).not.toEqual(before);
    await page.getByRole("switch", { name: "Wrong answers, for times only" }).click();
    await expect.poll(() => column(2)).toEqual(before);
  });
});

describe("Course and Persons", () => {
  it("tell how times go on in a session, and what followed what", async () => {
    await page.getByRole("tab", { name: "course" }).click();
    await page.locator("svg path.recharts-line-curve").first().waitFor();
    const rows = page.locator("[data-numbers] tbody tr");
    await expect.poll(() => rows.count()).toBe(12);
    await choose("Along", "the answer before");
    await expect.poll(() => rows.locator("td:first-child").allTextContents()).toEqual(["right", "not right"]);
    await choose("Along", "whether the condition is that of the trial before");
    await page.getByRole("columnheader", { name: "against" }).waitFor();
    await choose("Measure", "share of right answers");
    await page
      .getByRole("figure")
      .getByText("Share of right answers by whether the condition", { exact: false })
      .waitFor();
  });

  it("list persons by what they did, with what leaves them out, and lead to the session", async () => {
    await page.getByRole("tab", { name: "persons" }).click();
    const rows = page.locator("[data-persons] tbody tr");
    await expect.poll(() => rows.count()).toBe(27);
    await page.getByRole("button", { name: "median ms" }).click();
    await page.locator("th[aria-sort=ascending]", { hasText: "median ms" }).waitFor();
    const medians = (await rows.locator("td:nth-child(5)").allTextContents()).filter(Boolean).map(Number);
    expect(medians).toEqual(medians.toSorted((a, b) => a - b));
    await page.getByRole("button", { name: "Rule for sessions" }).click();
    await page.getByRole("menuitem", { name: "Not finished", exact: true }).click();
    await expect.poll(() => page.locator("[data-persons] tr[data-left-out=true]").count()).toBe(3);
    expect(await rows.filter({ hasText: "Not finished" }).count()).toBe(3);
    await rows.filter({ hasText: "Not finished" }).getByRole("link").first().click();
    await page.getByRole("article", { name: "One person" }).waitFor();
    await page.getByRole("link", { name: "course and answers" }).click();
    await page.waitForURL("**/sessions/**");
  });
});
