import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, expect, it } from "vitest";
import { hasErrors, preflight } from "~/core/check/preflight";
import { blocksInOrder } from "~/core/design/lookup";
import { starters } from "~/core/design/starters/registry";
import { studyFrom } from "~/core/design/starters/starter";
import type { Block } from "~/core/design/block";
import { launch, lookAround, openWindow, saved, storedStudy, still } from "../support/browser";
import { startServer, type Running } from "../support/server";
import { countedIds } from "../support/studies";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

/** What has the focus, as it is called. */
const focused = (page: Page) =>
  page.evaluate(() => {
    const element = globalThis.document.activeElement;
    if (!(element instanceof HTMLElement)) return "";
    const labels = "labels" in element ? [...((element as HTMLInputElement).labels ?? [])] : [];
    return (element.getAttribute("aria-label") ?? labels[0]?.textContent ?? element.textContent ?? "").trim();
  });
/** Presses Tab until what is called so has the focus. */
async function tabTo(page: Page, name: string | RegExp) {
  for (let presses = 0; presses < 160; presses++) {
    const here = await focused(page);
    if (typeof name === "string" ? here === name : name.test(here)) return;
    await page.keyboard.press("Tab");
  }
  throw new Error(`${String(name)} is not reached by Tab`);
}
const press = async (page: Page, name: string | RegExp) => {
  await tabTo(page, name);
  await page.keyboard.press("Enter");
};
async function command(page: Page, words: string) {
  await page.keyboard.press("Control+k");
  await page.getByPlaceholder("What do you want to do?").waitFor();
  await page.keyboard.type(words);
  // The list follows what is typed.
  await page.locator("[cmdk-item][aria-selected=true]").waitFor();
  await still(page);
  await page.keyboard.press("Enter");
  await page.getByPlaceholder("What do you want to do?").waitFor({ state: "detached" });
  await still(page);
}
/** Opens a menu and takes what begins with these letters. */
async function fromMenu(page: Page, opener: string, letters: string) {
  await press(page, opener);
  await page.locator("[role=menuitem]:focus").waitFor();
  await page.keyboard.type(letters);
  await expect.poll(async () => (await focused(page)).toLowerCase()).toMatch(new RegExp(`^${letters}`));
  await page.keyboard.press("Enter");
  await page.locator("[role=menu]").waitFor({ state: "detached" });
}
const retype = async (page: Page, text: string) => {
  await page.keyboard.press("Control+a");
  await page.keyboard.type(text);
};
/** Chooses in a list by its first letters. */
const choose = async (page: Page, name: string, letters: string) => {
  await tabTo(page, name);
  await page.keyboard.type(letters);
  await page.keyboard.press("Tab");
};

it("the design “Harbour lights” is rebuilt from a blank study with the keyboard alone", async () => {
  const { page, complaints } = await openWindow(browser);
  await lookAround(page, server.address);
  await press(page, "New study");
  await page.getByRole("dialog").waitFor();
  await tabTo(page, "Title");
  await page.keyboard.type("Harbour lights");
  await page.keyboard.press("Enter");
  await page.waitForURL("**/compose");
  const code = page.url().split("/")[4] ?? "";
  await page.locator("[data-scene-button]").first().waitFor();

  // The table: two columns renamed, their values brought in as a sheet.
  await command(page, "column word");
  await tabTo(page, "Name");
  await retype(page, "light");
  await command(page, "column key");
  await tabTo(page, "Name");
  await retype(page, "color");
  await choose(page, "Holds", "col");
  await fromMenu(page, "More for the table", "import");
  await page.getByRole("dialog").waitFor();
  await tabTo(page, "Or paste from a spreadsheet program");
  await page.keyboard.type("light,color,copies\ngreen,#009e73,18\nred,#d55e00,6\n");
  await press(page, "Import it");

  // The lamp in place of the word.
  await command(page, "open scene target");
  await page.getByRole("application").waitFor();
  await page.keyboard.press(".");
  await page.keyboard.press("Delete");
  await command(page, "add shape to target");
  await tabTo(page, "Name");
  await retype(page, "lamp");
  await choose(page, "Form", "ell");
  await fromMenu(page, "Take fill from the table or a group value", "color");
  for (const side of ["width", "height"]) {
    await tabTo(page, side);
    await retype(page, "22");
  }
  await press(page, "Back to scene target");
  await tabTo(page, "Name");
  await retype(page, "light");
  await tabTo(page, "Longest wait in milliseconds");
  await retype(page, "900");

  // The space bar, neither right nor wrong.
  await command(page, "answer answer");
  await press(page, "Do not allow F");
  await press(page, "Do not allow J");
  await press(page, "Add a key by pressing it");
  await page.keyboard.press("Space");
  await press(page, "No right answer");

  await command(page, "open scene fixation");
  await page.getByRole("application").waitFor();
  await page.keyboard.press("Escape");
  await choose(page, "Lasts", "a r");
  await saved(page);

  const document = await storedStudy(page, server.address, code);
  const starter = starters.find(({ id }) => id === "go-or-wait");
  if (!starter) throw new Error("no such starter");
  const [made, wanted] = [document, studyFrom(starter, countedIds(), "Harbour lights", "AB12")].map(
    (each) => blocksInOrder(each)[0] as Block,
  ) as [Block, Block];
  /** A block without its ids, and each combination's trials. */
  const essence = ({ scenes, answers, table }: Block) => {
    const nameOf = (id: string) => table.columns.find((column) => column.id === id)?.name;
    const plain = (value: unknown): unknown =>
      JSON.parse(JSON.stringify(value), (key, inner: unknown) => {
        if (key === "id" || key === "name" || key === "opensWith" || key === "closesWith") return undefined;
        const column = (inner as { column?: string } | null)?.column;
        return typeof column === "string" ? nameOf(column) : inner;
      });
    const trials = new Map<string, number>();
    for (const { cells, copies } of table.rows) {
      const key = table.columns.map(({ id, name }) => `${name}=${cells[id]}`).join(" ");
      trials.set(key, (trials.get(key) ?? 0) + copies);
    }
    return {
      scenes: plain(scenes),
      answers: plain(answers),
      trials: [...trials],
      types: table.columns.map(({ type }) => type),
    };
  };
  expect(essence(made)).toEqual(essence(wanted));
  expect(made.scenes.map(({ name }) => name)).toEqual(["fixation", "light"]);
  expect(hasErrors(preflight(document))).toBe(false);
  expect(complaints).toEqual([]);
  await page.context().close();
});
