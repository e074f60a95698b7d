import { readFileSync } from "node:fs";
import Papa from "papaparse";
import type { Page } from "playwright-core";
import { beforeEach, describe, expect, it } from "vitest";
import { newSecret } from "~/server/chance";
import { withScreens } from "../support/screens";

const screens = withScreens();
let page: Page;
beforeEach(async () => {
  ({ page } = screens);
  await page.goto(`${screens.server.address}/studies/amber-quay/results`);
  await rows("conditions").first().waitFor();
});

const rows = (table: string) => page.locator(`[data-numbers="${table}"] tbody tr`);
const cells = async (table: string, at: number) =>
  (await rows(table).locator(`td:nth-child(${at})`).allTextContents()).map((text) =>
    parseFloat(text.replace("−", "-")),
  );
const choose = async (label: string, says: string | RegExp) => {
  await page.getByRole("button", { name: new RegExp(`^${label}: `) }).click();
  await page.getByRole("menuitem", { name: says, exact: true }).click();
};

describe("Conditions", () => {
  it("join what each session has by lines, where that is asked for", async () => {
    const lines = page.locator(".recharts-scatter-line path");
    expect(await lines.count()).toBe(0);
    await page.getByRole("checkbox", { name: "a line for each session" }).click();
    const [sessions] = await cells("conditions", 8);
    // One at each of the two levels of the second column.
    await expect.poll(() => lines.count()).toBe(2 * (sessions ?? NaN));
    await page.getByText(/lines: sessions/).waitFor();
  });

  it("are told apart by up to three columns, the third in a chart for each of its levels on one scale", async () => {
    await expect.poll(() => rows("conditions").count()).toBe(6);
    await choose("Third column", "group");
    await expect.poll(() => rows("conditions").count()).toBe(12);
    const panels = page.locator("[data-panel]");
    const scale = async (at: number) =>
      (await panels.nth(at).locator("svg text").allTextContents()).filter((text) => /^\d+$/.test(text));
    await expect.poll(async () => (await scale(1)).length).toBeGreaterThan(3);
    expect(await scale(0)).toEqual(await scale(1));
    // The second goes, and the third becomes the second.
    await choose("Second column", "nothing else");
    await expect.poll(() => rows("conditions").count()).toBe(6);
    await page.getByRole("button", { name: "Second column: group" }).waitFor();
    await page.getByText("within participants, after Cousineau and Morey, for each group by itself").waitFor();
  });

  it("are subtracted as asked: with their interval and the size of the effect by its name, tests if they are wanted", async () => {
    await choose("Second column", "nothing else");
    await expect.poll(() => rows("conditions").count()).toBe(3);
    const [together = NaN, against = NaN] = await cells("conditions", 2);
    await choose("Level that is subtracted", "with");
    await expect.poll(() => rows("differences").count()).toBe(1);
    await page.getByRole("heading", { name: "Table 2 b. against − with, ms" }).waitFor();
    const [difference = NaN] = await cells("differences", 1);
    expect(Math.abs(difference - (against - together))).toBeLessThan(1.1);
    expect(await rows("differences").locator("td").count()).toBe(5);
    await choose("Tests", /^with t, p/);
    await expect.poll(() => rows("effects").count()).toBe(1);
    await page.getByRole("columnheader", { name: "p", exact: true }).first().waitFor();
    const [file] = await Promise.all([
      page.waitForEvent("download"),
      (async () => {
        await page.getByRole("button", { name: "Take the figure away" }).nth(1).click();
        await page.getByRole("menuitem", { name: /numbers/ }).click();
      })(),
    ]);
    expect(file.suggestedFilename()).toBe("amber-quay-differences.csv");
    const [row] = Papa.parse<Record<string, string>>(readFileSync(await file.path(), "utf8").trim(), {
      header: true,
    }).data;
    expect(Number(row?.["mean reaction time, ms (right answers): against − with"])).toBeCloseTo(difference, 1);
    expect(Number(row?.["p"])).toBeLessThan(0.001);
    // The other way round it is its negative.
    await choose("Level that is subtracted", "against");
    await choose("Level from which it is subtracted", "with");
    await expect.poll(async () => (await cells("differences", 1))[0]).toBe(-difference);
    await choose("Level that is subtracted", "nothing");
    await expect.poll(() => rows("differences").count()).toBe(0);
  });

  it("are compared between groups by how well the signal was told, and say what it is", async () => {
    await choose("Second column", "nothing else");
    await choose("First column", "group");
    await choose("Measure", "sensitivity d′");
    await page.getByRole("columnheader", { name: "d′" }).waitFor();
    await page.getByText("The signal is there where neighbours is with", { exact: false }).waitFor();
    await choose("Column of the signal", "direction");
    await page.getByText("The signal is there where direction is left", { exact: false }).waitFor();
    await choose("Signal", "right");
    await page.getByText("where direction is right", { exact: false }).waitFor();
    const found = await cells("conditions", 2);
    expect(found).toHaveLength(2);
    expect(Math.min(...found)).toBeGreaterThan(1);
    // What is compared cannot be the signal.
    await choose("Second column", "direction");
    await page.getByText("The signal is there where neighbours is with", { exact: false }).waitFor();
  });

  it("are compared by speed and accuracy together, also in the course of a session", async () => {
    await choose("Measure", "balanced integration score");
    await page
      .getByText("standardized share of right answers less its standardized mean time", { exact: false })
      .waitFor();
    const scores = await cells("conditions", 3);
    expect(Math.min(...scores)).toBeLessThan(0);
    expect(Math.max(...scores)).toBeGreaterThan(0);
    await page.goto(`${screens.server.address}/studies/amber-quay/results?tab=course&of=inverse`);
    await page.getByRole("heading", { name: "Table 4. Inverse efficiency" }).waitFor();
  });

  it("take in a session that comes while somebody looks at them", async () => {
    await page.getByText(/^27 sessions in/).waitFor();
    const { address } = screens.server;
    const started = await fetch(`${address}/api/join/demo-waders`, {
      method: "POST",
      headers: { "content-type": "application/json", origin: address },
      body: JSON.stringify({ secret: newSecret() }),
    });
    expect(started.ok).toBe(true);
    await page.getByText(/^28 sessions in/).waitFor();
  });
});
