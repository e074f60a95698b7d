import { execFileSync, spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Papa from "papaparse";
import type { Page } from "playwright-core";
import { beforeEach, describe, expect, it } from "vitest";
import { withScreens } from "../support/screens";

const screens = withScreens();
let page: Page;
const results = (code: string) => `${screens.server.address}/studies/${code}/results?tab=export`;
beforeEach(async () => {
  ({ page } = screens);
  await page.goto(results("amber-quay"));
});

const choose = async (label: string, says: string | RegExp) => {
  await page.getByRole("button", { name: new RegExp(`^${label}: `) }).click();
  await page.getByRole("menuitem", { name: says, exact: true }).click();
};
async function make(rows: string, name: string) {
  await page.getByRole("button", { name: "New", exact: true }).click();
  await page.getByRole("menuitem", { name: `A row for each ${rows}`, exact: true }).click();
  await page.getByLabel("Name", { exact: true }).fill(name);
  await page.getByRole("button", { name: "Make it" }).click();
  await page.locator("[data-preview]").waitFor();
}
const header = () => page.locator("[data-preview] th").allTextContents();
const saved = () => page.getByText("Saved", { exact: true }).waitFor();
async function take(): Promise<{ name: string; bytes: Buffer }> {
  await saved();
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: /^Take it/ }).click(),
  ]);
  return { name: file.suggestedFilename(), bytes: readFileSync(await file.path()) };
}
async function key(name: string): Promise<string> {
  await page.goto(`${screens.server.address}/studies/amber-quay/people`);
  await page.getByLabel("What the key is for").fill(name);
  await page.getByRole("button", { name: "Make a key" }).click();
  return (await page.locator("[data-key]").textContent()) ?? "";
}

describe("Export", () => {
  it("has everything without any set-up", async () => {
    const everything = page.getByRole("region", { name: "Everything" });
    await everything.getByText(/2,306 trials, .* 27 sessions and .* events/).waitFor();
    const [file] = await Promise.all([
      page.waitForEvent("download"),
      everything.getByRole("link", { name: "All data, as system files of statistics programs, .sav (zip)" }).click(),
    ]);
    expect(file.suggestedFilename()).toBe("amber-quay-data.zip");
  });

  it("makes a recipe that is a file at once: columns, names, numbers worked out, how it is written", async () => {
    await make("person", "For the model");
    expect(await header()).toContain("rt_against");
    // A name is changed, a column goes, another comes, and moves up.
    await page.getByLabel("Name of column 3", { exact: true }).fill("together");
    await page.getByRole("checkbox", { name: "accuracy_none is in the file" }).click();
    await page.getByLabel("Find a column").fill("browser");
    await page.getByRole("checkbox", { name: "browser is in the file" }).click();
    await page.getByLabel("Find a column").fill("");
    await page.getByRole("button", { name: "browser earlier" }).click();
    // With the keyboard the same column goes on, and the focus with it.
    await page.getByRole("button", { name: "participant later" }).focus();
    await page.keyboard.press("Enter");
    await page.keyboard.press("Enter");
    await expect.poll(async () => (await header()).slice(0, 3)).toEqual(["group_name", "together", "participant"]);
    await page.getByRole("button", { name: "participant earlier" }).press("Enter");
    await page.keyboard.press("Enter");
    await expect.poll(async () => (await header())[0]).toBe("participant");
    await choose("Number that is subtracted", "together");
    await choose("Number of which", "rt_against");
    await page.getByRole("button", { name: "Add difference" }).click();
    await expect
      .poll(header)
      .toEqual([
        ...[
          "participant",
          "group_name",
          "together",
          "rt_against",
          "rt_none",
          "accuracy_with",
          "browser",
          "accuracy_against",
        ],
        "rt_against_less_together",
      ]);
    await choose("Decimal sign", "decimal comma");
    await choose("Missing values", "written “NA”");
    const { name, bytes } = await take();
    expect(name).toBe("amber-quay-for-the-model.csv");
    const rows = Papa.parse<Record<string, string>>(bytes.toString().trimEnd(), { header: true, delimiter: ";" }).data;
    expect(rows).toHaveLength(27);
    const number = (text = "") => Number(text.replace(",", "."));
    for (const row of rows.filter((each) => each["rt_against_less_together"] !== "NA"))
      expect(number(row["rt_against_less_together"])).toBeCloseTo(
        number(row["rt_against"]) - number(row["together"]),
        6,
      );
    // It is there again, and told to have been taken.
    await page.reload();
    await page.getByText(/Taken once/).waitFor();
    await expect.poll(header).toHaveLength(9);
    // The names it cannot have are told before anything is taken.
    await page.getByLabel("Name of column 1", { exact: true }).fill("group_name");
    await page.getByText("More than one column is called “group_name”.").waitFor();
    expect(await page.getByRole("link", { name: /^Take it/ }).count()).toBe(0);
    await page.getByLabel("Name of column 1", { exact: true }).fill("with");
    await page.getByText("“with” is no name that R, SQL and statistics programs all take. “x_with” is one.").waitFor();
    await saved();
    const refusal = await page.request.get(`${screens.server.address}/studies/amber-quay/recipes/for-the-model.csv`);
    expect([refusal.status(), await refusal.text()]).toEqual([409, expect.stringContaining("“with” is no name")]);
  });

  it("uses a recipe in another study and says by name what does not fit", async () => {
    await make("person in each condition", "Long");
    await page.getByRole("button", { name: "More of Long" }).click();
    const [file] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("menuitem", { name: "Save as a file, for another study" }).click(),
    ]);
    expect(file.suggestedFilename()).toBe("long.lapwing-recipe.json");
    const path = join(mkdtempSync(join(tmpdir(), "lapwing-recipe-")), "long.lapwing-recipe.json");
    writeFileSync(path, readFileSync(await file.path()));
    await page.goto(results("copper-ladle"));
    await page.getByLabel("A recipe’s file").setInputFiles(path);
    await page.getByRole("button", { name: "Make it" }).click();
    const told = page.getByRole("alert");
    await told.getByText("Conditions cannot be told apart by “neighbours”: this study has no such column.").waitFor();
    await expect.poll(header).not.toContain("rt_none");
    await page.getByRole("button", { name: /^Condition 1: / }).click();
    await page.getByRole("menuitem").nth(1).click();
    await expect.poll(() => told.count()).toBe(0);
    writeFileSync(path, '{"form":"lapwing-recipe-1","name":"x"}');
    await page.getByLabel("A recipe’s file").setInputFiles(path);
    await page.getByText(/is not a recipe: recipe is missing/).waitFor();
  });

  it("is read at an address that stays: with a key, not with one that is of another study, and by the lines it gives", async () => {
    await make("person", "Means");
    await page.getByRole("button", { name: "More of Means" }).click();
    await page.getByRole("menuitem", { name: "Rename…" }).click();
    await page.getByLabel("Name", { exact: true }).fill("Means by person");
    await page.getByRole("button", { name: "Rename", exact: true }).click();
    await page.getByRole("button", { name: /^Means by person/ }).waitFor();
    const lines: Record<string, string> = {};
    for (const language of ["R", "Python"]) {
      await page.getByRole("button", { name: language, exact: true }).click();
      lines[language] = (await page.getByLabel(`Lines of ${language}`).textContent()) ?? "";
    }
    const made = await key("for a script");
    const get = (path: string, bearer = made) =>
      fetch(`${screens.server.address}/studies/${path}`, { headers: { Authorization: `Bearer ${bearer}` } });
    const read = await get("amber-quay/recipes/means.csv");
    expect([read.status, read.headers.get("content-type")]).toEqual([200, "text/csv; charset=utf-8"]);
    const rows = Papa.parse<Record<string, string>>((await read.text()).trimEnd(), { header: true }).data;
    expect(rows).toHaveLength(27);
    for (const extension of ["sav", "xlsx", "parquet", "json", "jsonl", "tsv"])
      expect((await get(`amber-quay/recipes/means.${extension}`)).status).toBe(200);
    expect((await get("amber-quay/recipes/means.exe")).status).toBe(404);
    expect((await get("amber-quay/recipes/nothing.csv")).status).toBe(404);
    expect((await get("copper-ladle/recipes/means.csv")).status).toBe(401);
    expect((await get("amber-quay/recipes/means.csv", `lapwing-${"x".repeat(30)}`)).status).toBe(401);
    const env = { ...process.env, LAPWING_KEY: made };
    const folder = mkdtempSync(join(tmpdir(), "lapwing-script-"));
    const sum = rows.reduce((whole, { rt_with }) => whole + Number(rt_with), 0);
    const run = (program: string, ends: string, language: string, last: string) => {
      if (spawnSync(program, ["--version"]).status !== 0)
        return console.log(`${program} is not here: its lines were not run.`);
      const script = join(folder, `read.${ends}`);
      writeFileSync(script, `${lines[language]}${last}\n`);
      const [count, whole] = execFileSync(program, [script], { env, encoding: "utf8" }).trim().split(" ").map(Number);
      expect(count).toBe(27);
      expect(whole).toBeCloseTo(sum, 3);
    };
    run("Rscript", "R", "R", 'cat(nrow(rows), format(sum(rows$rt_with, na.rm = TRUE), digits = 15), "\\n")');
    if (spawnSync("/usr/bin/python3", ["-c", "import pandas"]).status === 0)
      run("/usr/bin/python3", "py", "Python", "print(len(rows), rows['rt_with'].sum())");
    else console.log("pandas is not here: the lines of Python were not run.");
    // The log tells who took it.
    await page.goto(`${screens.server.address}/studies/amber-quay/people?log=exported`);
    await page.getByText("Data were taken away by the recipe “Means by person” as csv.").first().waitFor();
  });

  it("makes a recipe of the rows somebody looks at, with one click", async () => {
    await page.goto(
      `${screens.server.address}/studies/amber-quay/results?tab=records&where=neighbours~is~against&columns=participant,rt_ms`,
    );
    const shown = page.locator("[data-rows]");
    const [count] = (await shown.textContent())?.match(/^[\d,]+/) ?? [];
    await page.getByRole("button", { name: "Save as a recipe" }).click();
    await page.getByRole("link", { name: `Take it, ${count} rows` }).waitFor();
    expect(await header()).toEqual(["participant", "rt_ms"]);
    await page.getByRole("button", { name: /^Trials where neighbours is against/ }).waitFor();
    await page.getByRole("button", { name: "+ Condition" }).click();
    await page.getByRole("menuitem", { name: "participant", exact: true }).click();
    await page.getByRole("button", { name: "Comparison: is not empty" }).click();
    await page.getByRole("menuitem", { name: "is at most", exact: true }).click();
    await page.getByLabel("Value", { exact: true }).nth(1).fill("1");
    await page.getByRole("link", { name: /^Take it, [1-9]\d? rows/ }).waitFor();
    expect(await page.getByRole("alert").count()).toBe(0);
  });

  it("keeps what is changed while the server cannot be reached, also the first time, and stores it then", async () => {
    await make("event", "Away");
    await page.reload();
    await page.getByLabel("Name of column 1", { exact: true }).waitFor();
    await page.waitForLoadState("networkidle");
    let failed = 0;
    page.on(
      "requestfailed",
      (request) => void (request.method() === "POST" && request.url().includes("/recipes") && failed++),
    );
    await screens.context.setOffline(true);
    await page.getByLabel("Name of column 1", { exact: true }).fill("which");
    await page.getByText("The server cannot be reached.", { exact: false }).first().waitFor();
    expect(await page.getByLabel("Name of column 1", { exact: true }).inputValue()).toBe("which");
    // It is tried again and again.
    await expect.poll(() => failed, { timeout: 20_000 }).toBeGreaterThan(2);
    await screens.context.setOffline(false);
    await saved();
    await expect.poll(async () => (await header())[0]).toBe("which");
    await page.reload();
    await expect.poll(() => page.getByLabel("Name of column 1", { exact: true }).inputValue()).toBe("which");
  });

  it("is told when somebody else changed the recipe meanwhile, and loses nothing of theirs", async () => {
    await make("trial", "Shared");
    const other = await screens.context.newPage();
    await other.goto(page.url());
    await other.getByLabel("Name of column 1", { exact: true }).waitFor();
    await page.getByLabel("Name of column 1", { exact: true }).fill("which");
    await saved();
    await other.getByLabel("Name of column 1", { exact: true }).fill("other");
    await other.getByText("Somebody else changed this recipe meanwhile. Look at it again.").waitFor();
    await expect.poll(() => other.getByLabel("Name of column 1", { exact: true }).inputValue()).toBe("which");
    await page.getByRole("button", { name: "More of Shared" }).click();
    await page.getByRole("menuitem", { name: "Remove…" }).click();
    await page.getByRole("button", { name: "Remove", exact: true }).click();
    await page.getByRole("region", { name: "Everything" }).waitFor();
    await other.close();
  });
});
