import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Page } from "playwright-core";
import { beforeEach, describe, expect, it } from "vitest";
import { lookAround, openWindow } from "../support/browser";
import { withScreens, type Screens } from "../support/screens";

const screens = withScreens();
let browser: Screens["browser"];
let server: Screens["server"];
let page: Page;
beforeEach(async () => {
  ({ browser, server, page } = screens);
  await page.goto(`${server.address}/studies/amber-quay/results`);
});

const margin = (on = page) => on.getByRole("complementary", { name: "What is left out" });
const rule = (kind: string, on = page) => margin(on).locator(`[data-rule="${kind}"]`);
const kept = (on = page) => margin(on).locator("[data-kept]");
const method = () => margin().locator("[data-method]");
/** What a rule leaves out, as the ledger says. */
const outOf = async (kind: string) =>
  Number((await rule(kind).locator(".font-mono").first().textContent())?.replaceAll(",", ""));
async function add(sort: "sessions" | "trials", called: string, on = page) {
  await margin(on)
    .getByRole("button", { name: `Rule for ${sort}` })
    .click();
  await on.getByRole("menuitem", { name: called, exact: true }).click();
}
const choose = async (label: RegExp, says: string) => {
  await margin().getByRole("button", { name: label }).click();
  await page.getByRole("menuitem", { name: says, exact: true }).click();
};

const sets = () => margin().getByRole("button", { name: /^Exclusions in use/ });
const item = async (name: string) => {
  await sets().click();
  await page.getByRole("menuitem", { name }).click();
};

describe("the ledger of exclusions", () => {
  it("counts what each rule leaves out, in every figure and in the paragraph, and nothing once it is off", async () => {
    await expect.poll(() => kept().textContent()).toBe("27 of 27 sessions kept");
    const trials = page.locator('[data-numbers="conditions"] tbody tr td:last-child');
    const before = await trials.allTextContents();
    await add("sessions", "Not finished");
    await expect.poll(() => kept().textContent()).toBe("24 of 27 sessions kept");
    await expect.poll(() => outOf("not-finished")).toBe(3);
    await expect.poll(() => trials.allTextContents()).not.toEqual(before);
    await expect
      .poll(() => method().textContent())
      .toContain("Of 27 sessions, three were not finished; 24 were analysed.");
    await page.getByText("24 of 27 sessions · exclusions “Usual”", { exact: false }).waitFor();
    await rule("not-finished").getByRole("switch").click();
    await expect.poll(() => kept().textContent()).toBe("27 of 27 sessions kept");
    await expect.poll(() => trials.allTextContents()).toEqual(before);
    await expect.poll(() => method().textContent()).toContain("27 sessions were analysed.");
    // What it would leave out is still told.
    expect(await outOf("not-finished")).toBe(3);
  });

  it("holds rules as sentences, in an order, and shows what each left out", async () => {
    await add("trials", "Too slow");
    await margin().getByLabel("Milliseconds").fill("600");
    await rule("too-slow").getByRole("button", { name: "Slower than 600 ms", exact: true }).waitFor();
    await expect.poll(() => outOf("too-slow")).toBeGreaterThan(20);
    await add("trials", "Far from the middle");
    await choose(/^Of whom/, "the person’s times in each condition");
    await margin()
      .getByRole("button", { name: /^Conditions/ })
      .click();
    await page.getByRole("menuitemcheckbox", { name: "neighbours" }).click();
    await page.keyboard.press("Escape");
    const words =
      "More than 3 MAD from the median of the person’s times in each condition (neighbours), for times only";
    await rule("beyond").getByRole("button", { name: words, exact: true }).waitFor();
    await expect.poll(() => method().textContent()).toContain("in each condition (neighbours)");
    const second = await outOf("beyond");
    // Before the other it finds more, and the other less.
    await rule("beyond")
      .getByRole("button", { name: /earlier$/ })
      .click();
    await expect.poll(() => outOf("beyond")).not.toBe(second);
    const count = await outOf("beyond");
    await rule("beyond")
      .getByRole("button", { name: /^Look at what/ })
      .click();
    await page.getByRole("tab", { name: "records", selected: true }).waitFor();
    await expect.poll(() => page.locator("[data-rows]").textContent()).toContain(`${count} of 2,306 rows`);
    // It is there again for whoever comes next.
    await page.reload();
    await rule("beyond").getByRole("button", { name: words, exact: true }).waitFor();
    await rule("beyond").getByRole("button", { name: words, exact: true }).click();
    await rule("beyond")
      .getByRole("button", { name: /^Remove/ })
      .click();
    await rule("beyond").waitFor({ state: "detached" });
  });

  it("asks about answers and scores by their columns", async () => {
    await add("sessions", "An answer, a score or another value");
    await margin().getByRole("button", { name: "Column: choose a column" }).click();
    await page.getByRole("menuitem", { name: "trials", exact: true }).click();
    await choose(/^Comparison/, "is at most");
    await margin().getByLabel("Value").fill("40");
    await rule("value").getByRole("button", { name: "trials is at most 40", exact: true }).waitFor();
    await expect.poll(() => outOf("value")).toBeGreaterThan(0);
    await expect.poll(() => method().textContent()).toContain("met the criterion “trials is at most 40”");
  });

  it("stands in named sets; one that was recorded as preregistered is never changed again", async () => {
    await add("trials", "Too fast");
    await expect.poll(() => outOf("too-fast")).toBeGreaterThanOrEqual(0);
    await item("Record as preregistered …");
    await page.getByRole("button", { name: "Record", exact: true }).click();
    await margin().getByText("These criteria were recorded on", { exact: false }).first().waitFor();
    expect(await rule("too-fast").getByRole("switch").isDisabled()).toBe(true);
    expect(await margin().getByRole("button", { name: "Rule for trials" }).count()).toBe(0);
    await item("Make a set of your own …");
    await page.getByRole("button", { name: "Make it" }).click();
    await page.getByText("Give it a name.").waitFor();
    await page.getByLabel("Name", { exact: true }).fill("Exploratory");
    await page.getByRole("button", { name: "Make it" }).click();
    await expect.poll(() => sets().textContent()).toContain("Exploratory");
    await rule("too-fast").getByRole("switch").click();
    await expect.poll(() => rule("too-fast").getByRole("switch").getAttribute("data-state")).toBe("unchecked");
    await item("Usual · preregistered");
    await expect.poll(() => sets().textContent()).toContain("Usual");
    expect(await rule("too-fast").getByRole("switch").getAttribute("data-state")).toBe("checked");
    await page.goto(`${server.address}/studies/amber-quay/people`);
    await page
      .getByText(/The exclusions “Usual” were recorded as preregistered \(SHA-256/)
      .first()
      .waitFor();
  });

  it("keeps what was changed while the server is away, or the page is left at once", async () => {
    await item("Make a set of your own …");
    await page.getByLabel("Name", { exact: true }).fill("Away");
    await page.getByRole("button", { name: "Make it" }).click();
    await expect.poll(() => sets().textContent()).toContain("Away");
    const practice = () => rule("practice").getByRole("switch").getAttribute("data-state");
    await page.context().setOffline(true);
    await rule("practice").getByRole("switch").click();
    await page.getByText("The server cannot be reached.", { exact: false }).first().waitFor();
    expect(await practice()).toBe("unchecked");
    await page.context().setOffline(false);
    await expect.poll(() => sets().isEnabled(), { timeout: 15_000 }).toBe(true);
    await page.reload();
    await expect.poll(practice).toBe("unchecked");
    await rule("practice").getByRole("switch").click();
    await page.getByRole("link", { name: "Collect" }).click();
    await page.waitForURL("**/collect");
    await expect
      .poll(async () => {
        await page.goto(`${server.address}/studies/amber-quay/results`);
        return practice();
      })
      .toBe("checked");
  });

  it("stores no rule that cannot be, says so, and stores it once it can; a reload at once loses nothing", async () => {
    await item("Make a set of your own …");
    await page.getByLabel("Name", { exact: true }).fill("Ranges");
    await page.getByRole("button", { name: "Make it" }).click();
    await expect.poll(() => sets().textContent()).toContain("Ranges");
    await add("sessions", "Median time outside a range");
    await margin().getByLabel("To", { exact: true }).fill("100");
    await margin().getByText("This is not stored: a range ends after it begins.").waitFor();
    await expect.poll(() => margin().getByRole("status").first().textContent()).toBe("Saving…");
    await margin().getByLabel("To", { exact: true }).fill("450");
    await expect.poll(() => outOf("median-outside")).toBeGreaterThan(5);
    await margin().getByLabel("To", { exact: true }).fill("2000");
    await expect
      .poll(async () => {
        await page.reload();
        return rule("median-outside").getByRole("switch").getAttribute("aria-label");
      })
      .toBe("Median time not from 200 to 2000 ms");
  });

  it("tells two persons who change it at once, and loses neither's rules unseen", async () => {
    await item("Make a set of your own …");
    await page.getByLabel("Name", { exact: true }).fill("Ours");
    await page.getByRole("button", { name: "Make it" }).click();
    await expect.poll(() => sets().textContent()).toContain("Ours");
    const other = (await openWindow(browser)).page;
    await lookAround(other, server.address);
    await other.goto(`${server.address}/studies/amber-quay/results`);
    await kept(other).waitFor();
    await add("trials", "Interrupted");
    await rule("interrupted").waitFor();
    await expect.poll(() => sets().isEnabled()).toBe(true);
    await add("trials", "With late frames", other);
    await other.getByText("Somebody else changed this set meanwhile. Look at it again.").waitFor();
    // What the first one did is what is there.
    await rule("interrupted", other).waitFor();
    await rule("late", other).waitFor({ state: "detached" });
    await other.context().close();
  });

  it("are taken to another study as a file, and say there what they cannot look at", async () => {
    await add("sessions", "An answer, a score or another value");
    await margin()
      .getByRole("button", { name: /^Column/ })
      .click();
    await page.getByRole("menuitem", { name: "group_name", exact: true }).click();
    await expect.poll(() => sets().isEnabled()).toBe(true);
    await sets().click();
    const [file] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("menuitem", { name: "Save as a file, for another study" }).click(),
    ]);
    expect(file.suggestedFilename()).toBe("amber-quay-exclusions.lapwing-exclusions.json");
    const held = JSON.parse(readFileSync(await file.path(), "utf8")) as { rules: { kind: string; column?: string }[] };
    const value = held.rules.findLast(({ kind }) => kind === "value");
    expect(value?.column).toBe("group_name");
    value!.column = "tide_height";
    const brought = join(mkdtempSync(join(tmpdir(), "lapwing-exclusions-")), "brought.json");
    writeFileSync(brought, JSON.stringify({ ...held, name: "From the mudflat" }));
    await page.goto(`${server.address}/studies/copper-ladle/results`);
    await page.getByLabel("A file with exclusions").setInputFiles(brought);
    await page.getByRole("button", { name: "Exclusions in use: From the mudflat" }).waitFor();
    await page.getByText("The data have no column “tide_height”", { exact: false }).waitFor();
    writeFileSync(brought, "not JSON");
    await page.getByLabel("A file with exclusions").setInputFiles(brought);
    await page.getByText("“brought.json” is not a set of exclusions: it could not be read.").waitFor();
  });
});
