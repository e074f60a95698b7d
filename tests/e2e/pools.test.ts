import { AxeBuilder } from "@axe-core/playwright";
import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { compilePlanned } from "~/core/compile/planned";
import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";
import { launch, lookAround, newStudyInCompose, openWindow, saved, storedStudy } from "../support/browser";
import { scene } from "../support/participant";
import { drawing, drawn, own, second } from "../support/pools";
import { startServer, type Running } from "../support/server";
import { exportedFrom, importReleased, press } from "../support/short-study";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

const sameKind = { column: "kind", to: { from: { column: "kind" } } };
/** Creatures are shown, and asked for again among new ones. */
const learned = (): StudyDocument =>
  drawing({ each: 2, inPool: 6, levels: ["old", "new"] }, (block, document) => {
    block.table.columns.push(drawn("seen", own({ where: [sameKind], once: "session" })));
    showIn(block, "seen");
    second(document, block, (copy) => {
      copy.table.columns = copy.table.columns.filter(({ id }) => id !== "seen");
      const before = { block: block.id, shown: { column: "level", is: "old" } };
      copy.table.columns.push(
        drawn("asked", own({ where: [sameKind], once: "session", before })),
        drawn("stood", { with: "asked", takes: { is: "position" } }, "number"),
      );
      showIn(copy, "asked");
    });
  });
function showIn(block: Block, column: string) {
  for (const item of block.scenes.find(({ name }) => name === "target")?.items ?? [])
    if (item.kind === "text") item.text = [{ as: "paragraph", runs: [{ ref: { column } }] }];
}
/** What keeps a page from those who use a screen reader or see badly. */
async function unfitIn(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page } as unknown as ConstructorParameters<
    typeof AxeBuilder
  >[0]).analyze();
  return violations
    .filter(({ impact }) => impact === "serious" || impact === "critical")
    .map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`);
}
const shownOn = (page: Page) => page.locator("#stage .scene.shown [data-item]").first().innerText();

describe("what is drawn from a pool", () => {
  it("is shown, stays the same over a reload, is drawn otherwise for the next, and stands in the data", async () => {
    const study = learned();
    const { code, link } = importReleased(server, study);
    const shown: string[][] = [];
    for (const participant of [1, 2]) {
      const { page } = await openWindow(browser);
      await page.goto(link);
      await press(page, "Start");
      await press(page, "Continue");
      const seen: string[] = [];
      let done = 0;
      for (let trial = 1; trial <= 16; trial++) {
        done = await scene(page, "target", done);
        seen.push(await shownOn(page));
        if (participant === 1 && trial === 5) {
          await page.reload();
          await press(page, "Continue where you left off");
          await scene(page, "target", done - 1);
          expect(await shownOn(page)).toBe(seen[4]);
        }
        await page.keyboard.press("f");
      }
      await press(page, "Finish");
      await page.getByText("Your completion code").waitFor();
      const plan = compilePlanned(study, participant);
      const planned = plan.parts.flatMap((part) => (part.kind === "block" ? part.trials : []));
      expect(seen).toEqual(planned.map(({ values }) => values["seen"] ?? values["asked"]));
      shown.push(seen);
      await page.context().close();
    }
    expect(shown[0]).not.toEqual(shown[1]);
    const { ["trials.csv"]: trials = [] } = await exportedFrom(server, browser, code);
    const of = (participant: number) => trials.filter((row) => row["participant"] === String(participant));
    for (const [index, seen] of shown.entries()) {
      const rows = of(index + 1);
      expect(rows.map((row) => row["seen"] || row["asked"])).toEqual(seen);
      const first = seen.slice(0, 8);
      expect(rows.slice(8).map((row) => row["stood"])).toEqual(
        seen.slice(8).map((creature) => (first.includes(creature) ? String(first.indexOf(creature) + 1) : "")),
      );
      expect(rows.slice(8).map((row) => row["level"] === "old")).toEqual(
        seen.slice(8).map((each) => first.includes(each)),
      );
    }
  });
});

describe("a pool", () => {
  it("is brought in as a sheet, drawn from by picking, seen at work, and told where it is too small", async () => {
    const { page } = await openWindow(browser);
    await lookAround(page, server.address);
    const code = await newStudyInCompose(page, server.address, "Birds by kind");
    await page.getByTitle("Settings of column word").click();
    await page.getByLabel("From", { exact: true }).selectOption({ label: "a pool" });
    const pools = page.getByRole("dialog", { name: "Pools" });
    await pools.getByLabel("Name of the pool").fill("Birds");
    await pools.getByRole("button", { name: "More for the table" }).click();
    await page.getByRole("menuitem", { name: /Import a sheet/ }).click();
    const kinds = ["wader", "gull"];
    const lines = kinds.flatMap((kind) => [1, 2, 3].map((at) => `${kind} ${at}\t${kind}\t${at}`));
    await page.getByLabel("Or paste from a spreadsheet program").fill(["bird\tkind\tsize", ...lines].join("\n"));
    await page.getByRole("button", { name: "Import it" }).click();
    await pools.getByText("6 rows").waitFor();
    // Escape leaves a cell with what was there, and only then the dialog.
    const first = pools.locator(".dsg-row").nth(1).locator(".dsg-cell").nth(2);
    await first.click();
    await page.keyboard.type("penguin");
    await page.keyboard.press("Escape");
    await expect.poll(() => first.innerText()).toBe("wader 1");
    await page.keyboard.press("Escape");
    await pools.locator(".dsg-active-cell").waitFor({ state: "detached" });
    await pools.getByTitle("Settings of column size").click();
    for (const colorScheme of ["light", "dark"] as const) {
      await page.emulateMedia({ colorScheme });
      expect(await unfitIn(page)).toEqual([]);
    }
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: /^What it takes/ }).click();
    await page.getByRole("menuitem", { name: "the bird", exact: true }).click();
    await page.getByRole("button", { name: "only rows that …" }).click();
    await page.getByRole("button", { name: /^Column of the pool/ }).click();
    await page.getByRole("menuitem", { name: "kind", exact: true }).click();
    await page.getByRole("button", { name: /^Compared with/ }).click();
    await page.getByRole("menuitem", { name: "“gull”" }).click();
    await expect
      .poll(() => page.locator("[data-drawn-example]").innerText())
      .toMatch(/Participant 1 has: gull \d, gull \d/);
    await page.getByRole("button", { name: /^No row comes twice/ }).click();
    await page.getByRole("menuitem", { name: "in a session" }).click();
    expect(await unfitIn(page)).toEqual([]);
    await saved(page);
    const study = await storedStudy(page, server.address, code);
    const block = Object.values(study.parts).find((part): part is Block => part.kind === "block")!;
    const [pool] = study.pools;
    const [bird, kind] = ["bird", "kind"].map((name) => pool!.table.columns.find((each) => each.name === name)!.id);
    expect(block.table.columns.find(({ name }) => name === "word")?.draws).toEqual({
      ...{
        pool: pool!.id,
        takes: { is: "value", column: bird },
        where: [{ column: kind, to: "gull" }],
        once: "session",
      },
    });
    // Four trials, of three gulls.
    await page.locator("[data-trial-table] .dsg-row").nth(1).locator(".dsg-cell").nth(1).click();
    await page.keyboard.type("3");
    await page.keyboard.press("Enter");
    await page.getByRole("link", { name: "Rehearse" }).click();
    await page.getByRole("tab", { name: /Preflight/ }).click();
    await page.getByText(/4 trials need a row of “Birds” with kind gull, and only 3 are free/).waitFor();
    await page.getByRole("link", { name: "Plan" }).click();
    await page.getByRole("button", { name: /Birds.*6 rows/ }).click();
    await pools.getByRole("button", { name: "Remove the pool (used in 1 place)" }).click();
    await pools.getByText("It is used in column word of", { exact: false }).waitFor();
    await pools.getByRole("button", { name: "Remove it anyway" }).click();
    await pools.getByText("No pools yet.", { exact: false }).waitFor();
    await page.keyboard.press("Escape");
    await page.getByRole("link", { name: "Rehearse" }).click();
    await page.getByRole("tab", { name: /Preflight/ }).click();
    await page.getByText("The pool it draws from has been removed. Choose another.").waitFor();
    await page.context().close();
  });
});
