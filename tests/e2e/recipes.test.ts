import { readFileSync } from "node:fs";
import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, expect, it } from "vitest";
import { recipes } from "~/demo/recipes/recipes";
import { launch, openWindow } from "../support/browser";
import { startServer, type Running } from "../support/server";
import { exportedFrom, press } from "../support/short-study";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

const rightOf = new Map(recipes.flatMap(({ questions }) => questions.map(([asked, right]) => [asked, right] as const)));
const asked = (page: Page, name: string) => page.locator(`[data-question="${name}"]`);
const next = (page: Page) => press(page, "Continue");

/** Takes the whole study; what was read of each recipe, and what the last page says. */
async function takePart(page: Page, age: string): Promise<{ read: string[]; told: string }> {
  await page.goto(`${server.address}/join/demo-recipes`);
  await press(page, "Start");
  await asked(page, "take_part").getByRole("radio", { name: "yes" }).check();
  await asked(page, "informed").getByRole("checkbox").check();
  for (const field of await asked(page, "code").getByRole("textbox").all()) await field.fill("sou 42");
  const [copy] = await Promise.all([page.waitForEvent("download"), press(page, "Save a copy of this page")]);
  expect(copy.suggestedFilename()).toBe("Recipes-at-the-stove.html");
  const kept = readFileSync(await copy.path(), "utf8");
  for (const words of ["You may stop at any time", "<p>yes</p>", "<p>✓</p>", "<p>SOU42</p>"])
    expect(kept).toContain(words);
  expect(kept).not.toContain("<input");
  await next(page);
  await asked(page, "age").getByRole("textbox").fill(age);
  await asked(page, "cooks").getByRole("radio", { name: "nearly every day" }).check();
  await asked(page, "learned").getByRole("checkbox", { name: "from books" }).check();
  await asked(page, "gender").getByText("I would rather not say").click();
  await next(page);
  await asked(page, "sure_before").getByRole("slider").press("ArrowRight");
  await next(page);
  const read: string[] = [];
  for (let recipe = 0; recipe < recipes.length; recipe++) {
    const unread = recipes.map(({ name }) => name).filter((name) => !read.some((each) => each.startsWith(name)));
    const heading = page.getByRole("heading", { name: new RegExp(`^(${unread.join("|")})$`) });
    const name = await heading.innerText();
    const steps: string[] = [];
    for (;;) {
      steps.push(await page.locator(".page.form").innerText());
      const isLast = await page.getByRole("button", { name: "Next recipe" }).isVisible();
      await page.locator(".page.form .buttons button").first().click();
      if (isLast) break;
    }
    read.push(`${name} in ${steps.length}`);
    for (const [, step] of recipes.find((each) => each.name === name)?.steps ?? [])
      expect(steps.join("\n")).toContain(step);
  }
  await press(page, "This order is right");
  await next(page);
  await asked(page, "sure_after").getByRole("slider").press("End");
  await next(page);
  await page.getByRole("heading", { name: "What do you remember?" }).waitFor();
  for (const question of await page.locator("[data-question]").all()) {
    const right = rightOf.get((await question.locator(".asks").innerText()).trim()) ?? "";
    await question.getByRole("radio", { name: right, exact: true }).check();
  }
  await next(page);
  await asked(page, "attentive").getByRole("radio").nth(1).check();
  await asked(page, "use_data").getByRole("radio", { name: "yes" }).check();
  await next(page);
  await page.getByRole("heading", { name: "What it was about" }).waitFor();
  const told = await page.locator(".page.form").innerText();
  await press(page, "Finish");
  await page.getByText("Your completion code").waitFor();
  return { read, told };
}

it("the recipes are read in each of the three ways, remembered, scored and exported", async () => {
  const before = (await exportedFrom(server, browser, "copper-ladle"))["sessions.csv"] ?? [];
  const ways = new Map<string, string>();
  const ages: string[] = [];
  // The group that has fewest comes next: each is met before any comes for the third time.
  while (ways.size < 3 && ages.length < 6) {
    const age = String(21 + ages.length);
    ages.push(age);
    const { page, context, complaints } = await openWindow(browser);
    const { read, told } = await takePart(page, age);
    expect(new Set(read.map((each) => each.replace(/ in \d+$/, "")))).toEqual(new Set(recipes.map(({ name }) => name)));
    expect(told).toContain("100 %");
    ways.set(/You read the recipes (.*?);/.exec(told)?.[1] ?? "", read[0]?.replace(/^.* in /, "") ?? "");
    expect(complaints).toEqual([]);
    await context.close();
  }
  // Only one of the three groups turns the steps over.
  expect(Object.fromEntries(ways)).toEqual({
    "with all steps at once": "1",
    "step by step": "5",
    "with small pictures": "1",
  });
  const files = await exportedFrom(server, browser, "copper-ladle");
  const fresh = (files["sessions.csv"] ?? []).filter(({ session }) => !before.some((old) => old.session === session));
  expect(
    fresh.map(({ age, remembered, sure_after, code, state }) => [age, remembered, sure_after, code, state]),
  ).toEqual(ages.map((age) => [age, "1", "100", "SOU42", "finished"]));
  expect(new Set(fresh.map(({ group_name }) => group_name)).size).toBe(3);
  for (const { session } of fresh) {
    const answers = (files["answers.csv"] ?? []).filter((row) => row.session === session);
    expect(answers.filter(({ is_right }) => is_right === "yes")).toHaveLength(24);
    expect(answers.find(({ question }) => question === "gender")?.state).toBe("rather-not");
  }
  // What the demo's own participants were given is as even: cells differ by one at most.
  const counts = new Map<string, number>();
  for (const { group_name = "", counts: isIn } of files["sessions.csv"] ?? [])
    if (isIn === "yes") counts.set(group_name, (counts.get(group_name) ?? 0) + 1);
  expect(Math.max(...counts.values()) - Math.min(...counts.values())).toBeLessThanOrEqual(1);
}, 600_000);
