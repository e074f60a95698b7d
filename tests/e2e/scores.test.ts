import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeEach, describe, expect, it } from "vitest";
import type { Page } from "playwright-core";
import { withScreens } from "../support/screens";

const screens = withScreens();
const folder = mkdtempSync(join(tmpdir(), "lapwing-scores-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
let page: Page;
const results = (query: string) => `${screens.server.address}/studies/amber-quay/results?${query}`;
beforeEach(async () => {
  ({ page } = screens);
  await page.goto(results("tab=scores"));
});
const table = () => page.locator("[data-scores]");
const choose = async (label: string, says: string) => {
  await page.getByRole("button", { name: new RegExp(`^${label}: `) }).click();
  await page.getByRole("menuitem", { name: says, exact: true }).click();
};
/** The column of the table as numbers. */
const column = async (at: number) =>
  (await table().locator(`tbody td:nth-child(${at})`).allTextContents()).map((text) =>
    text === "" ? null : Number(text.replace("−", "-")),
  );

describe("Scores", () => {
  it("are made of trials in a sentence, read against norms from a table and against the study’s own, and are columns elsewhere", async () => {
    await page.getByRole("button", { name: "New", exact: true }).click();
    await page.getByLabel("Name", { exact: true }).fill("effort");
    await page.getByRole("button", { name: "Make it" }).click();
    await page.getByRole("alert").getByText(/taken/).waitFor();
    await page.getByLabel("Name", { exact: true }).fill("cost");
    await page.getByRole("button", { name: "Make it" }).click();
    await page.getByText("mean reaction time, neighbours against less with").waitFor();
    const means = await column(2);
    await choose("What the score is", "median reaction time");
    await page.getByText("median reaction time, neighbours against less with").waitFor();
    await page
      .getByRole("status")
      .filter({ hasText: /^Saved$/ })
      .waitFor();
    expect(await column(2)).not.toEqual(means);
    await page.getByText(/Reliability by halves .* r = /).waitFor();

    // Norms that somebody published; one line of them is wrong first.
    const path = join(folder, "harbour.csv");
    writeFileSync(path, "mean,sd,n\n40,zero,120\n");
    await page.getByRole("button", { name: "Add", exact: true }).click();
    await page.getByRole("menuitem", { name: "From a table (CSV)…" }).click();
    await page.getByLabel("Table of norms").setInputFiles(path);
    await page.getByText("Line 2: sd is “zero”; it should be a number.").waitFor();
    expect(await page.getByRole("button", { name: "Add it" }).isDisabled()).toBe(true);
    writeFileSync(path, "mean,sd,n\n40,20,120\n");
    await page.getByLabel("Table of norms").setInputFiles(path);
    await page.getByText("One band: everybody").waitFor();
    await page.getByLabel("Name", { exact: true }).fill("Harbour sample");
    await page.getByLabel("Reliability").fill("2");
    await page.getByText("Reliability must be at most 1.").waitFor();
    await page.getByLabel("Reliability").fill("0,75");
    await page.getByRole("button", { name: "Add it" }).click();
    await page.getByText(/n = 120 .* reliability 0.75/).waitFor();
    await table().getByRole("columnheader", { name: "percentile" }).waitFor();
    // Normality is not stated: z without percentile ranks.
    const [raw, percentile, z] = [await column(2), await column(3), await column(4)];
    expect(percentile.every((each) => each === null)).toBe(true);
    for (const [at, value] of raw.entries()) if (value !== null) expect(z[at]).toBeCloseTo((value - 40) / 20, 1);

    // The study’s own sessions instead.
    await page.getByRole("button", { name: "Add", exact: true }).click();
    await page.getByRole("menuitem", { name: /^Of the \d+ sessions kept now…$/ }).click();
    await page.getByRole("button", { name: "Add it" }).click();
    await page.getByText("Sessions of this study").waitFor();
    await table().locator("tbody td:nth-child(3)", { hasText: /\d/ }).first().waitFor();
    const ranks = (await column(3)).filter((each) => each !== null);
    expect(Math.min(...ranks)).toBeLessThan(10);
    expect(Math.max(...ranks)).toBeGreaterThan(90);
    await page.getByRole("button", { name: "More of Harbour sample" }).click();
    await page.getByRole("menuitem", { name: "Read against it" }).click();
    await page.getByRole("listitem").filter({ hasText: "Harbour sample" }).getByText("in use").waitFor();

    // It goes to another score as a file.
    await page.getByRole("button", { name: "More of Harbour sample" }).click();
    const [file] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("menuitem", { name: "Save as a file" }).click(),
    ]);
    await file.saveAs(join(folder, file.suggestedFilename()));
    await page.getByRole("button", { name: /^effort/ }).click();
    await page.getByText("None yet. With one").waitFor();
    await page.getByLabel("A norm sample’s file").setInputFiles(join(folder, "cost.lapwing-norm.json"));
    await page.getByRole("listitem").filter({ hasText: "Harbour sample" }).getByText("in use").waitFor();

    // A column of sessions in Records, a number in Conditions, and a column of recipes.
    await page.goto(results("tab=records&rows=sessions&columns=participant,cost,cost_z,cost_norm"));
    await page.getByRole("columnheader", { name: "cost_z" }).waitFor();
    await page.goto(results("tab=conditions&of=column%3Acost"));
    await page.getByRole("button", { name: /cost/ }).first().waitFor();
    await page.goto(results("tab=export"));
    await page.getByRole("button", { name: "New", exact: true }).click();
    await page.getByRole("menuitem", { name: "A row for each session", exact: true }).click();
    await page.getByLabel("Name", { exact: true }).fill("With norms");
    await page.getByRole("button", { name: "Make it" }).click();
    await page.locator("[data-preview] th", { hasText: /^cost_t$/ }).waitFor();

    // One person by itself, on paper without the rest of the page.
    await page.goto(results("tab=scores&score=cost&order=score"));
    const first = table().locator("tbody tr").first();
    const [value = "", rank = ""] = await first
      .locator("td")
      .allTextContents()
      .then((cells) => [cells[1], cells[3]]);
    await first.getByRole("link").click();
    const person = page.getByRole("article", { name: "One person" });
    const line = person
      .getByRole("region", { name: "Scores of this person" })
      .getByRole("row")
      .filter({ hasText: "Harbour sample" })
      .first();
    await line.waitFor();
    expect(await line.locator("td").allTextContents()).toEqual(expect.arrayContaining(["cost", value, rank]));
    await person.getByRole("region", { name: "Conditions of this person" }).getByText("against").waitFor();
    await page.emulateMedia({ media: "print" });
    expect(await page.getByRole("button", { name: "Print" }).isVisible()).toBe(false);
    expect(await page.getByRole("tablist", { name: "Results" }).isVisible()).toBe(false);
    expect(await person.isVisible()).toBe(true);
    await page.emulateMedia({ media: "screen" });

    // It goes again, and nothing else with it.
    await page.goto(results("tab=scores&score=cost"));
    await page.getByRole("button", { name: "More of cost" }).click();
    await page.getByRole("menuitem", { name: "Remove…" }).click();
    await page.getByRole("button", { name: "Remove", exact: true }).click();
    await page.getByRole("button", { name: "More of cost" }).waitFor({ state: "detached" });
    await page.getByRole("button", { name: /^effort from what sessions/ }).waitFor();
  });
});
