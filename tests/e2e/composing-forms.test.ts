import { AxeBuilder } from "@axe-core/playwright";
import type { Browser, Locator, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Page as StudyPage } from "~/core/design/page";
import { launch, lookAround, newStudyInCompose, openWindow, saved, storedStudy } from "../support/browser";
import { startServer, type Running } from "../support/server";

let browser: Browser;
let server: Running;
let page: Page;
let code: string;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
  ({ page } = await openWindow(browser));
  await page.context().grantPermissions(["clipboard-read", "clipboard-write"]);
  await lookAround(page, server.address);
  code = await newStudyInCompose(page, server.address, "A form from blank");
  await toPage("Welcome");
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

async function toPage(name: string) {
  await page.getByRole("button", { name: /^Part:/ }).click();
  await page.getByRole("menuitem", { name }).click();
  await page.getByRole("textbox", { name: `Text of ${name}` }).waitFor();
}
const live = (name = "Welcome") => page.frameLocator(`iframe[title="How participants see ${name}"]`);
const card = (name: string) => page.locator(`[data-question-card="${name}"]`);
const add = async (kind: string) => {
  await page.getByRole("button", { name: "Question", exact: true }).click();
  await page.getByRole("menuitem", { name: kind, exact: true }).click();
};
const stored = async (name = "Welcome"): Promise<StudyPage> => {
  await saved(page);
  const { parts } = await storedStudy(page, server.address, code);
  return Object.values(parts).find((part) => part.name === name) as StudyPage;
};
/** The cursor at one end of a text. The editor puts its own selection back a moment after it is focused: its timer is set before this one. */
async function cursorTo(text: Locator, key: "Control+Home" | "Control+End") {
  await text.focus();
  await text.evaluate(() => new Promise((resolve) => setTimeout(resolve, 60)));
  await text.press(key);
}
const kinds = async (name?: string) => (await stored(name)).flow.map(({ kind }) => kind);

describe("a page that asks, from blank", () => {
  it("is written as one document: a question is added, its text typed in place, its kind changed, and tried in the live view", async () => {
    await page.getByRole("textbox", { name: "Text of Welcome" }).click();
    await add("one of several");
    await card("choice").getByText("Which of these fits best?").click({ clickCount: 3 });
    await page.keyboard.type("Did you see a heron?");
    await expect.poll(() => live().locator('[data-question="choice"] .asks').innerText()).toBe("Did you see a heron?");
    await page.getByLabel("Name", { exact: true }).fill("heron");
    await card("heron").waitFor();
    await live().locator('[data-question="heron"]').getByRole("radio", { name: "yes" }).check();
    await page.getByLabel("Kind").selectOption("several-of");
    await live().locator('[data-question="heron"]').getByRole("checkbox", { name: "yes" }).waitFor();
    await page.getByLabel("Kind").selectOption("one-of");
    await page.getByRole("button", { name: "Must it be answered?: may be skipped" }).click();
    await page.getByRole("menuitem", { name: "must be answered" }).click();
    await live().getByRole("button", { name: "Continue" }).click();
    await live().locator('[data-question="heron"] .problem').getByText("Please answer this question.").waitFor();
    const { flow } = await stored();
    expect(flow.map(({ kind }) => kind)).toEqual(["text", "one-of"]);
    expect(flow[1]).toMatchObject({ name: "heron", need: "must", options: [{ label: "yes" }, { label: "no" }] });
  });

  it("asks further by an answer, said as a condition, and shows it at once", async () => {
    await add("long text");
    await page.getByLabel("Name", { exact: true }).fill("where");
    await page.getByRole("button", { name: "Shown: always" }).click();
    await page.getByRole("menuitem", { name: "only if" }).click();
    await page.getByLabel("Comparison, line 1").selectOption("=");
    await page.getByLabel("Value, line 1").selectOption("yes");
    await card("where").getByText("only if heron is yes").waitFor();
    await card("heron").getByText("leads to Q2").waitFor();
    const where = live().locator('[data-question="where"]');
    await live().locator('[data-question="heron"]').getByRole("radio", { name: "no" }).check();
    await where.waitFor({ state: "hidden" });
    await live().locator('[data-question="heron"]').getByRole("radio", { name: "yes" }).check();
    await where.waitFor();
  });

  it("is undone step by step, also what was typed", async () => {
    await add("number");
    await card("number").waitFor();
    const before = await kinds();
    await card("number").getByText("How many?").click();
    await page.keyboard.press("End");
    await page.keyboard.type(" There");
    await expect.poll(() => card("number").locator(".asks").innerText()).toBe("How many? There");
    await page.keyboard.press("Control+z");
    await expect.poll(() => card("number").locator(".asks").innerText()).toBe("How many?");
    expect(await kinds()).toEqual(before);
    await page.getByRole("button", { name: "Remove the question" }).click();
    await card("number").waitFor({ state: "detached" });
    await page.getByRole("button", { name: "Undo" }).click();
    await card("number").waitFor();
  });

  it("takes Markdown, and what a web page or word processor gives, without foreign styles", async () => {
    const text = page.getByRole("textbox", { name: "Text of Welcome" });
    const paste = async (types: Record<string, string>) => {
      await page.evaluate(async (data) => {
        const each = Object.entries(data).map(([type, value]) => [type, new Blob([value], { type })]);
        await navigator.clipboard.write([new ClipboardItem(Object.fromEntries(each) as Record<string, Blob>)]);
      }, types);
      await cursorTo(text, "Control+Home");
      await page.keyboard.press("Control+v");
    };
    await paste({ "text/plain": "## At the shore\n\n- **mud**\n- [tides](https://tides.example/)\n" });
    await expect.poll(() => live().locator(".body").first().innerHTML()).toContain("<h2>At the shore</h2>");
    expect(await live().locator(".body a").getAttribute("href")).toBe("https://tides.example/");
    await paste({
      "text/html":
        '<p style="color:red;font-family:Foo"><b>Bold</b> <span style="font-size:40px">large</span></p><table><tr><th>bird</th></tr><tr><td>knot</td></tr></table>',
      "text/plain": "Bold large",
    });
    await live().locator(".table td").getByText("knot").waitFor();
    await paste({
      "text/plain": '<iframe width="350" height="200" src="https://tides.example/embed?start=30"></iframe>',
    });
    const { flow } = await stored();
    expect(flow.find(({ kind }) => kind === "site")).toMatchObject({
      address: "https://tides.example/embed?start=30",
      width: 50,
      height: 200,
    });
    expect(flow.find(({ kind }) => kind === "table")).toMatchObject({ rows: [["bird"], ["knot"]], hasHead: true });
    expect(JSON.stringify(flow)).not.toMatch(/color|font/);
  });

  it("has questions put elsewhere by buttons and by dragging, duplicated, and copied to another page", async () => {
    await card("heron").locator("div").first().click();
    await page.getByRole("button", { name: "Move the question down" }).click();
    await expect
      .poll(async () => (await stored()).flow.flatMap((piece) => ("name" in piece ? [piece.name] : [])))
      .toEqual(["where", "heron", "number"]);
    await page.getByRole("button", { name: "Move the question up" }).click();
    await page.getByRole("button", { name: "Duplicate or copy the question" }).click();
    await page.getByRole("menuitem", { name: "Duplicate here" }).click();
    await card("heron_2").waitFor();
    await card("heron").locator("div").first().click();
    await page.getByRole("button", { name: "Duplicate or copy the question" }).click();
    await page.getByRole("menuitem", { name: "Copy to Goodbye" }).click();
    expect((await stored("Goodbye")).flow.at(-1)).toMatchObject({ kind: "one-of", name: "heron_3" });
    await card("number").locator("[data-drag-handle]").dragTo(card("heron").locator(".asks"));
    await expect
      .poll(async () =>
        (await stored()).flow.flatMap((piece) => ("name" in piece ? [piece.name] : [])).indexOf("number"),
      )
      .toBeLessThan(3);
  });

  it("has a question taken to another study by the clipboard", async () => {
    const other = { page: await page.context().newPage() };
    await card("where").getByText("where", { exact: true }).click();
    await expect.poll(() => page.getByLabel("Name", { exact: true }).inputValue()).toBe("where");
    await page.keyboard.press("Control+c");
    const there = await newStudyInCompose(other.page, server.address, "Another shore");
    await other.page.getByRole("button", { name: /^Part:/ }).click();
    await other.page.getByRole("menuitem", { name: "Goodbye" }).click();
    const text = other.page.getByRole("textbox", { name: "Text of Goodbye" });
    await cursorTo(text, "Control+End");
    await other.page.keyboard.press("Control+v");
    await other.page.locator('[data-question-card="where"]').waitFor();
    await saved(other.page);
    const goodbye = Object.values((await storedStudy(other.page, server.address, there)).parts).find(
      ({ name }) => name === "Goodbye",
    );
    expect((goodbye as StudyPage).flow.at(-1)).toMatchObject({ kind: "long-text", name: "where" });
    await other.page.close();
  });

  it("takes thirty questions from a list, with a score, in one go", async () => {
    await toPage("Goodbye");
    await page.getByRole("button", { name: "From a list" }).click();
    const list = Array.from({ length: 30 }, (_, at) => `Question ${at + 1}?\tright; wrong; neither\tright`).join("\n");
    await page.getByRole("textbox", { name: "The list" }).fill(`question\toptions\tright\n${list}`);
    await page.getByText("30 questions, 30 with a right answer").waitFor();
    await page.getByLabel("How many are drawn").fill("12");
    await page.getByRole("button", { name: "Add 30 questions" }).click();
    await page.getByText("Form 2. 13 questions, 1 score", { exact: false }).waitFor();
    const set = (await stored("Goodbye")).flow.at(-1);
    expect(set).toMatchObject({ kind: "set", take: 12, order: "shuffled" });
    expect((await storedStudy(page, server.address, code)).scores).toMatchObject([
      { of: "share-right", from: { length: 30 } },
    ]);
    await expect.poll(() => live("Goodbye").locator(".question").count()).toBe(13);
  });

  it("says how long it may be on, and when it ends the session", async () => {
    // Escape leads from the list back to the page.
    await page.locator("h1.caption").click();
    await page.keyboard.press("Escape");
    await page.getByLabel("Longest time").fill("90");
    await page.getByLabel("Warning before the end").fill("10");
    await page.getByRole("button", { name: "End the session here if …" }).click();
    await page.getByLabel("What the condition looks at, line 1").selectOption({ label: "heron_3" });
    await page.getByLabel("Comparison, line 1").selectOption("=");
    await page.getByLabel("Value, line 1").selectOption("no");
    const ending = await stored("Goodbye");
    expect(ending.time).toEqual({ countdown: false, most: 90, warns: 10 });
    expect(ending.endings).toMatchObject([{ as: "screened-out", when: { is: "=", right: "no" } }]);
  });

  it.each(["light", "dark"] as const)("is fit for screen readers and low sight, %s", async (colorScheme) => {
    await page.emulateMedia({ colorScheme });
    await toPage("Welcome");
    for (const name of ["heron", "where", "number"]) {
      await card(name).locator("div").first().click();
      await page.getByLabel("Kind").waitFor();
      const { violations } = await new AxeBuilder({ page }).analyze();
      expect(
        violations
          .filter(({ impact }) => impact === "serious" || impact === "critical")
          .map(({ id, nodes }) => [id, nodes[0]?.html]),
      ).toEqual([]);
    }
  });
});
