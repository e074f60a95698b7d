import type { Page } from "playwright-core";
import { beforeEach, describe, expect, it } from "vitest";
import type { Block } from "~/core/design/block";
import type { Item } from "~/core/items/registry";
import type { StudyDocument } from "~/core/design/document";
import { sheetAsExcel } from "~/app/compose/table/sheets";
import { blocksInOrder } from "~/core/design/lookup";
import { downloaded, lookAround, newStudyInCompose, openWindow, saved, storedStudy } from "../support/browser";
import { withScreens, type Screens } from "../support/screens";
import { startServer } from "../support/server";

const screens = withScreens({ permissions: ["clipboard-read", "clipboard-write"] });
let browser: Screens["browser"];
let server: Screens["server"];
let page: Page;
beforeEach(() => void ({ browser, server, page } = screens));

const make = (title: string) => newStudyInCompose(page, server.address, title);
const stored = (code: string): Promise<StudyDocument> => storedStudy(page, server.address, code);
const blockOf = async (code: string): Promise<Block> => blocksInOrder(await stored(code))[0] as Block;
const cell = (row: number, column: number) => page.locator(".dsg-row").nth(row).locator(".dsg-cell").nth(column);
const rowCount = () => page.getByRole("heading", { level: 2 }).filter({ hasText: "Table 1." }).innerText();
const values = ({ table }: Block, name: string) => {
  const id = table.columns.find((column) => column.name === name)?.id ?? "";
  return table.rows.map(({ cells }) => cells[id] ?? null);
};

describe("the trial table", () => {
  it("is made by crossing factors, and a level added later adds only its combinations", async () => {
    const code = await make("Tide tables");
    await page.getByRole("button", { name: "Cross factors" }).click();
    await page.getByLabel("Name of factor 1").fill("direction");
    await page.getByLabel("Levels of direction").fill("left, right");
    await page.getByRole("button", { name: "New factor" }).click();
    await page.getByLabel("Name of factor 2").fill("gap");
    await page.getByLabel("Levels of gap").fill("4\n8");
    await page.getByLabel(/start over/).check();
    await page.getByRole("button", { name: "Add 4 rows" }).click();
    await saved(page);
    let block = await blockOf(code);
    expect([values(block, "direction"), values(block, "gap")]).toEqual([
      ["left", "left", "right", "right"],
      [4, 8, 4, 8],
    ]);
    // What is edited by hand stays when a level comes in.
    const key = block.table.columns.findIndex(({ name }) => name === "key") + 2;
    await cell(2, key).click();
    await page.keyboard.type("k");
    await page.keyboard.press("Enter");
    await page.getByRole("button", { name: "Cross factors" }).click();
    await page.getByLabel("Levels of gap").fill("4, 8, 12");
    await page.getByText(/2 × 3 = 6 combinations: 4 are there, 2 rows are added/).waitFor();
    await page.getByRole("button", { name: "Add 2 rows" }).click();
    await saved(page);
    block = await blockOf(code);
    expect([values(block, "gap"), values(block, "key")[1]]).toEqual([[4, 8, 4, 8, 12, 12], "k"]);
    await page.getByRole("button", { name: "balanced", exact: true }).waitFor();
  });

  it("gets 40 rows from 40 pictures, with columns from a pattern of their names", async () => {
    const code = await make("Wader pictures");
    const files = ["left", "right"].flatMap((direction) =>
      ["dunlin", "knot"].flatMap((bird) =>
        Array.from({ length: 10 }, (_, index) => ({
          name: `${direction}-${bird}-${index + 1}.svg`,
          mimeType: "image/svg+xml",
          buffer: Buffer.from(
            `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 6"><rect width="${index + 1}" height="6" fill="#${direction === "left" ? "a3460f" : "2e7d8c"}"/><text>${bird}</text></svg>`,
          ),
        })),
      ),
    );
    await page.getByRole("button", { name: "Rows from files" }).click();
    await page.getByLabel("Files for rows").setInputFiles(files);
    await page.getByText("40 of 40 files are here").waitFor();
    await page.getByLabel("Pattern of the file names").fill("{direction}-{bird}-{n}.svg");
    await page.getByText("All file names fit.").waitFor();
    await expect.poll(() => page.locator("[data-files-preview] tbody tr").count()).toBe(40);
    await page.getByRole("button", { name: "Add 40 rows" }).click();
    await saved(page);
    const block = await blockOf(code);
    expect(block.table.rows.length).toBe(42);
    expect(values(block, "direction").filter((value) => value === "left").length).toBe(20);
    expect(values(block, "n").slice(2, 5)).toEqual([1, 2, 3]);
    expect(
      values(block, "picture")
        .slice(2)
        .every((id) => typeof id === "string"),
    ).toBe(true);
    expect((await stored(code)).media.length).toBe(40);
    await page.locator('.dsg-row img[src*="/media/"]').first().waitFor();
  });

  it("takes 200 rows pasted from a spreadsheet program, with decimal commas and quoted cells", async () => {
    const code = await make("Harbour words");
    const lines = Array.from({ length: 200 }, (_, index) => `word ${index + 1}\t${index % 2 === 0 ? "f" : "j"}`);
    await page.evaluate((text) => navigator.clipboard.writeText(text), lines.join("\n"));
    await cell(1, 2).click();
    await page.keyboard.press("Control+v");
    await expect.poll(rowCount).toContain("200 rows");
    await saved(page);
    const block = await blockOf(code);
    expect([values(block, "word")[199], values(block, "key")[199]]).toEqual(["word 200", "j"]);
    // The same through the dialog, with a header, a new column and a preview.
    await page.getByRole("button", { name: "More for the table" }).click();
    await page.getByRole("menuitem", { name: /Import a sheet/ }).click();
    await page
      .getByLabel("Or paste from a spreadsheet program")
      .fill(`word\tdepth\tnote_text\n${lines.map((_, index) => `w${index}\t${index},5\t"a ""b"""`).join("\n")}`);
    await page.getByText(/200 rows read: 200 cells change; new columns depth \(number\), note_text \(text\)/).waitFor();
    await page.getByRole("button", { name: "Import it" }).click();
    await saved(page);
    const after = await blockOf(code);
    expect([values(after, "depth")[3], values(after, "note_text")[0], after.table.rows.length]).toEqual([
      3.5,
      'a "b"',
      200,
    ]);
  });

  it("goes out as CSV and Excel and comes back in", async () => {
    const code = await make("Sheets");
    await page.getByRole("button", { name: "More for the table" }).click();
    const csv = await downloaded(page, () => page.getByRole("menuitem", { name: "Save as CSV" }).click());
    expect(new TextDecoder().decode(csv)).toBe("\uFEFFcopies,word,key\r\n1,gull,f\r\n1,ferry,j\r\n".slice(1));
    await page.getByRole("button", { name: "More for the table" }).click();
    const xlsx = await downloaded(page, () => page.getByRole("menuitem", { name: "Save as Excel sheet" }).click());
    expect(new TextDecoder("latin1").decode(xlsx.slice(0, 2))).toBe("PK");
    const changed = await sheetAsExcel([
      ["copies", "word", "key"],
      ["3", "gull", "f"],
      ["1", "buoy", "j"],
      ["1", "pier", "x"],
    ]);
    await page.getByRole("button", { name: "More for the table" }).click();
    await page.getByRole("menuitem", { name: /Import a sheet/ }).click();
    await page.getByLabel("CSV or Excel file").setInputFiles({
      name: "sheet.xlsx",
      mimeType: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
      buffer: Buffer.from(await changed.arrayBuffer()),
    });
    await page.getByText(/3 rows read: 1 row is added; 1 cell changes/).waitFor();
    await page.getByRole("button", { name: "Import it" }).click();
    await saved(page);
    const block = await blockOf(code);
    expect([values(block, "word"), block.table.rows.map(({ copies }) => copies)]).toEqual([
      ["gull", "buoy", "pier"],
      [3, 1, 1],
    ]);
  });

  it("finds and replaces, sorts on request, keeps notes, and keeps bad input as typed", async () => {
    const code = await make("Market words");
    await page.getByRole("button", { name: "More for the table" }).click();
    await page.getByRole("menuitem", { name: "Find and replace" }).click();
    await page.getByLabel("Find", { exact: true }).fill("er");
    await page.getByLabel("Replace with").fill("ER");
    await page.getByText("1 found").waitFor();
    await page.getByRole("button", { name: "Replace all" }).click();
    await page.getByTitle("Settings of column word").click();
    await page.getByRole("button", { name: "smallest first" }).click();
    await saved(page);
    expect(values(await blockOf(code), "word")).toEqual(["fERry", "gull"]);
    await page.getByLabel("Holds").selectOption("number");
    await saved(page);
    const block = await blockOf(code);
    expect(values(block, "word")).toEqual(["fERry", "gull"]);
    await page.getByTitle("“fERry” is not a number.").waitFor();
    await page.getByRole("link", { name: "Rehearse" }).click();
    await page.getByRole("tab", { name: /Preflight/ }).click();
    await page
      .getByText(/“fERry” is not a number/)
      .first()
      .waitFor();
  });

  it("fills a column from two others by whether they are the same", async () => {
    const code = await make("Same or not");
    await page.getByRole("button", { name: "Cross factors" }).click();
    await page.getByLabel("Name of factor 1").fill("here");
    await page.getByLabel("Levels of here").fill("left, right");
    await page.getByRole("button", { name: "New factor" }).click();
    await page.getByLabel("Name of factor 2").fill("there");
    await page.getByLabel("Levels of there").fill("left, right");
    await page.getByLabel(/start over/).check();
    await page.getByRole("button", { name: "Add 4 rows" }).click();
    await page.getByRole("button", { name: "Column", exact: true }).click();
    await page.getByLabel("Name", { exact: true }).fill("match");
    await page.getByLabel("From", { exact: true }).selectOption({ label: "cases of here" });
    await page.getByLabel("and", { exact: true }).selectOption({ label: "there" });
    await page.getByLabel("Cases are").selectOption("same");
    await page.getByLabel("Value for same").fill("with");
    await page.getByLabel("Value for different").fill("against");
    await saved(page);
    await expect.poll(() => cell(1, 6).innerText()).toBe("with");
    await expect.poll(() => cell(2, 6).innerText()).toBe("against");
    expect((await blockOf(code)).table.columns.at(-1)?.cases).toMatchObject({
      when: [
        { is: "same", gives: "with" },
        { is: "different", gives: "against" },
      ],
    });
  });
});

describe("the opened stage", () => {
  const open = async (scene: string) => {
    await page.locator(`[data-scene-button="${scene}"]`).dblclick();
    await page.getByRole("application").waitFor();
  };
  const items = async (code: string, scene = "target"): Promise<Item[]> =>
    (await blockOf(code)).scenes.find(({ name }) => name === scene)?.items ?? [];
  /** A point of the stage, in stage units from its centre. */
  const point = async (x: number, y: number) => {
    const box = await page.getByRole("application").boundingBox();
    if (!box) throw new Error("no stage");
    const unit = Math.min(box.width, box.height) / 100;
    return { x: box.x + box.width / 2 + x * unit, y: box.y + box.height / 2 - y * unit };
  };
  const drag = async (from: [number, number], to: [number, number], key?: string) => {
    const [a, b] = [await point(...from), await point(...to)];
    await page.mouse.move(a.x, a.y);
    await page.mouse.down();
    if (key) await page.keyboard.down(key);
    await page.mouse.move((a.x + b.x) / 2, (a.y + b.y) / 2);
    await page.mouse.move(b.x, b.y);
    await page.mouse.up();
    if (key) await page.keyboard.up(key);
  };
  const addShapes = async (count: number) => {
    await open("target");
    for (let index = 0; index < count; index++) {
      await page.getByRole("button", { name: "Add shape" }).click();
      await page.getByLabel("x", { exact: true }).fill(String(-40 + index * 30));
    }
  };

  it("moves, resizes and turns items by mouse, snapping to the centre, one step of undo each", async () => {
    const code = await make("Placing");
    await addShapes(1);
    await drag([-40, 0], [-20.4, 20.3], "Control");
    await saved(page);
    const at = async () => (await items(code)).at(-1) as Extract<Item, { kind: "shape" }>;
    expect((await at()).at.x).toBeCloseTo(-20.4, 0);
    expect((await at()).at.y).toBeCloseTo(20.3, 0);
    await drag([-20.4, 20.3], [0.6, 0.5]);
    await saved(page);
    expect((await at()).at).toEqual({ x: 0, y: 0 });
    await drag([10, 10], [20, 15]);
    await saved(page);
    expect((await at()).size.w).toBeCloseTo(30, 0);
    expect((await at()).size.h).toBeCloseTo(25, 0);
    const { at: centre, size } = await at();
    const handle = Number(centre.y) + Number(size.h) / 2;
    const unit = (await point(0, 1)).y - (await point(0, 0)).y;
    await drag([Number(centre.x), handle + 23 / -unit], [Number(centre.x) + 30, Number(centre.y)]);
    await saved(page);
    expect((await at()).turned).toBeCloseTo(90, -1);
    for (let step = 0; step < 4; step++) await page.getByRole("button", { name: /^Undo/ }).click();
    await saved(page);
    expect(await at()).toMatchObject({ at: { x: -40, y: 0 }, size: { w: 20, h: 20 }, turned: 0 });
  });

  it("selects several, aligns and distributes them, locks, layers, and copies to another scene and study", async () => {
    const code = await make("Several");
    await addShapes(3);
    const names = async () => (await items(code)).map(({ name }) => name);
    await page.getByLabel("x", { exact: true }).fill("45");
    await page.getByLabel("y", { exact: true }).fill("10");
    await drag([-60, 30], [70, -30]);
    await page.getByRole("button", { name: "word", exact: true }).click({ modifiers: ["Control"] });
    await page.getByRole("button", { name: "Arrange the selected items" }).click();
    await page.getByRole("menuitem", { name: "top edges" }).click();
    await page.getByRole("button", { name: "Arrange the selected items" }).click();
    await page.getByRole("menuitem", { name: "equal gaps across" }).click();
    await saved(page);
    const shapes = (await items(code)).filter((item) => item.kind === "shape");
    expect(new Set(shapes.map(({ at, size }) => Number(at.y) + Number(size.h) / 2)).size).toBe(1);
    const xs = shapes.map(({ at }) => Number(at.x)).sort((a, b) => a - b);
    expect(xs[1]! - xs[0]!).toBeCloseTo(xs[2]! - xs[1]!, 0);
    const stage = page.getByRole("application");
    await stage.press("Escape");
    await page.getByRole("button", { name: "shape", exact: true }).click();
    await stage.press("f");
    await saved(page);
    expect((await names()).at(-1)).toBe("shape");
    await stage.press("l");
    const before = (await items(code)).find(({ name }) => name === "shape");
    await stage.press("ArrowRight");
    await stage.press("l");
    await saved(page);
    expect((await items(code)).find(({ name }) => name === "shape")).toMatchObject({
      at: (before as { at: object }).at,
    });
    await stage.press("ArrowRight");
    await stage.press("Shift+ArrowUp");
    await stage.press("Control+ArrowUp");
    await saved(page);
    const moved = (await items(code)).find(({ name }) => name === "shape") as Extract<Item, { kind: "shape" }>;
    const was = before as Extract<Item, { kind: "shape" }>;
    expect([Number(moved.at.x) - Number(was.at.x), Number(moved.at.y) - Number(was.at.y)]).toEqual([
      1,
      expect.closeTo(5.1, 5) as number,
    ]);
    await stage.focus();
    await page.keyboard.press("Control+c");
    await page
      .getByRole("navigation", { name: "Scenes" })
      .getByRole("button", { name: /fixation/ })
      .click();
    await page.getByRole("application").focus();
    await page.keyboard.press("Control+v");
    await saved(page);
    expect((await items(code, "fixation")).map(({ name }) => name)).toEqual(["cross", "shape"]);
    // Into another study, with the column it is bound to.
    await page.getByRole("button", { name: "Take fill from the table or a group value" }).click();
    await page.getByRole("menuitem", { name: "word" }).click();
    await page.getByRole("application").focus();
    await page.keyboard.press("Control+c");
    await saved(page);
    const other = await make("Elsewhere");
    await page.getByTitle("Settings of column word").click();
    await page.getByLabel("Name", { exact: true }).fill("boat");
    await open("fixation");
    await page.getByRole("application").focus();
    await page.keyboard.press("Control+v");
    await saved(page);
    const block = await blockOf(other);
    const column = block.table.columns.find(({ name }) => name === "word");
    expect(block.scenes[0]?.items.at(-1)).toMatchObject({ fill: { from: { column: column?.id } } });
    expect(values(block, "word")).toEqual(["gull", "ferry"]);
  });

  it("changes the shown row's cell when an item whose place is bound is moved, and says so", async () => {
    const code = await make("Bound");
    await page.getByRole("button", { name: "Column", exact: true }).click();
    await page.getByLabel("Name", { exact: true }).fill("x");
    await page.getByLabel("Holds").selectOption("number");
    await page.keyboard.press("Escape");
    await cell(1, 4).click();
    await page.keyboard.type("10");
    await page.keyboard.press("Enter");
    await page.keyboard.type("-30");
    await page.keyboard.press("Enter");
    await open("target");
    await page.getByRole("button", { name: "word", exact: true }).click();
    await page.getByRole("button", { name: "Take x from the table or a group value" }).click();
    await page.getByRole("menuitem", { name: "x", exact: true }).click();
    await page.getByRole("application").focus();
    await page.keyboard.press("PageDown");
    await page.keyboard.press("PageDown");
    await page.getByText("row 2: ferry").waitFor();
    await page.getByRole("application").focus();
    await page.keyboard.press("ArrowRight");
    await page.keyboard.press("ArrowRight");
    await page.locator("output").getByText("row 2: x = −28").waitFor();
    await saved(page);
    const block = await blockOf(code);
    expect(values(block, "x")).toEqual([10, -28]);
    expect(block.scenes[1]?.items[0]).toMatchObject({ at: { x: { from: { column: expect.any(String) as string } } } });
  });

  it("shows what a narrower display cuts off, and takes sizes in degrees", async () => {
    const code = await make("Displays");
    await addShapes(1);
    await page.getByLabel("x", { exact: true }).fill("60");
    await page.getByRole("button", { name: "phone", exact: true }).click();
    await page.getByText("Cut off on this display: shape").waitFor();
    await page.getByRole("button", { name: "16:9" }).click();
    await expect.poll(() => page.getByText("Cut off on this display").count()).toBe(0);
    await page.getByRole("button", { name: "set a viewing distance" }).click();
    await page.getByLabel("width in degrees of visual angle").fill("2");
    await saved(page);
    const [item] = (await items(code)).slice(-1) as Extract<Item, { kind: "shape" }>[];
    // 2° at 57 cm is 1.99 cm, and 100 units are 30 cm.
    expect(item?.size.w).toBeCloseTo(6.63, 1);
  });
});

describe("nothing is lost", () => {
  const title = () => page.getByLabel("Title of the study");

  it("undoes after a reload what was done before it", async () => {
    const code = await make("Before");
    await title().fill("After");
    await page.locator('[data-scene-button="fixation"]').click();
    await page.getByLabel("Duration in milliseconds").fill("250");
    await saved(page);
    await page.reload();
    const undo = page.getByRole("button", { name: /^Undo/ });
    await expect.poll(() => undo.isEnabled()).toBe(true);
    await undo.click();
    await undo.click();
    await expect.poll(() => title().inputValue()).toBe("Before");
    await page.getByRole("button", { name: /^Redo/ }).click();
    await saved(page);
    expect([(await stored(code)).title, (await blockOf(code)).scenes[0]?.lasts]).toEqual([
      "After",
      { kind: "ms", ms: 500 },
    ]);
  });

  it("shows in two tabs what either edits when it looks next, and asks about what both set", async () => {
    const code = await make("Two tabs");
    const other = await page.context().newPage();
    await other.goto(`${server.address}/studies/${code}/compose`);
    const isLook = (each: { url: () => string }) => each.url().includes("/edits?since=");
    const news = other.waitForResponse((each) => isLook(each) && each.status() === 200);
    await page.locator('[data-scene-button="fixation"]').click();
    await page.getByLabel("Duration in milliseconds").fill("250");
    await saved(page);
    // A look that is under way may have begun before the edit was stored; the next brings it.
    let looks = 0;
    other.on("request", (request) => (looks += isLook(request) ? 1 : 0));
    await news;
    expect(looks).toBeLessThanOrEqual(2);
    await other.locator('[data-scene-button="fixation"]').locator("xpath=..").getByText("250 ms").waitFor();
    // Different things at the same time: both stay.
    await Promise.all([
      page.getByLabel("Duration in milliseconds").fill("300"),
      other
        .getByTitle("Settings of column word")
        .click()
        .then(() => other.getByLabel("Name", { exact: true }).fill("boat")),
    ]);
    await page.getByTitle("Settings of column boat").waitFor();
    await other.locator('[data-scene-button="fixation"]').locator("xpath=..").getByText("300 ms").waitFor();
    // The same thing, while one cannot reach the server: the later is told.
    await page.context().setOffline(true);
    await title().fill("Mine");
    await page.context().setOffline(false);
    const apart = await openWindow(browser);
    await lookAround(apart.page, server.address);
    await page.context().setOffline(true);
    await title().fill("Mine, offline");
    await apart.page.goto(`${server.address}/studies/${code}/compose`);
    await apart.page.getByLabel("Title of the study").fill("Theirs");
    await saved(apart.page);
    await page.context().setOffline(false);
    await page.getByRole("button", { name: /Also changed elsewhere: 1/ }).click();
    const dialog = page.getByRole("dialog", { name: "Changed here and elsewhere" });
    await dialog.getByText("Theirs").waitFor();
    await dialog.getByRole("button", { name: "Take this" }).click();
    await expect.poll(() => title().inputValue()).toBe("Theirs");
    await expect.poll(async () => (await stored(code)).title).toBe("Theirs");
    await apart.context.close();
  });

  it("keeps edits on disk while the server is stopped and sending fails again and again, also over closing the tab", async () => {
    const own = await startServer({ demo: true });
    const window = await openWindow(browser);
    await lookAround(window.page, own.address);
    const code = await newStudyInCompose(window.page, own.address, "Storm");
    await saved(window.page);
    await own.stop("SIGKILL");
    let failed = 0;
    window.page.on("requestfailed", (request) => (failed += request.method() === "POST" ? 1 : 0));
    await window.page.getByLabel("Title of the study").fill("Storm, kept");
    await window.page.getByText("Kept here, trying again").waitFor();
    await window.page.locator('[data-scene-button="fixation"]').click();
    await window.page.getByLabel("Duration in milliseconds").fill("333");
    await expect.poll(() => failed).toBeGreaterThan(4);
    await window.page.close();
    const again = await startServer({ demo: true, folder: own.folder, port: own.port });
    const reopened = await window.context.newPage();
    await reopened.goto(`${again.address}/studies/${code}/compose`);
    await expect.poll(() => reopened.getByLabel("Title of the study").inputValue()).toBe("Storm, kept");
    await saved(reopened);
    const document = await storedStudy(reopened, again.address, code);
    expect([document.title, blocksInOrder(document)[0]?.scenes[0]?.lasts]).toEqual([
      "Storm, kept",
      { kind: "ms", ms: 333 },
    ]);
    await window.context.close();
    await again.stop();
  });

  it("names versions, says what changed in words, and goes back to one as a new edit", async () => {
    const code = await make("Versions");
    await saved(page);
    await page.getByRole("button", { name: "History" }).click();
    await page.getByLabel("Name of this version").fill("as piloted");
    await page.keyboard.press("Enter");
    await page.getByRole("button", { name: /as piloted/ }).waitFor();
    await page.keyboard.press("Escape");
    await page.locator('[data-scene-button="fixation"]').click();
    await page.getByLabel("Duration in milliseconds").fill("120");
    await saved(page);
    await page.getByRole("button", { name: "History" }).click();
    await page.locator("[data-changes]").getByText("Block 1, fixation: 500 ms → 120 ms.").waitFor();
    await page.getByRole("button", { name: /as piloted/ }).click();
    await page.getByRole("button", { name: "Go back to this version" }).click();
    await saved(page);
    await expect.poll(async () => (await blockOf(code)).scenes[0]?.lasts).toEqual({ kind: "ms", ms: 500 });
    await page.getByRole("button", { name: /^Undo/ }).click();
    await expect.poll(async () => (await blockOf(code)).scenes[0]?.lasts).toEqual({ kind: "ms", ms: 120 });
  });

  it("says where a column or a file is used before it goes", async () => {
    await make("Used");
    await page.getByTitle("Settings of column word").click();
    await page.getByRole("button", { name: /Remove the column \(used in/ }).click();
    await page.getByText(/It is used in scene 2, item “word”/).waitFor();
    await page.getByRole("button", { name: "Keep it" }).click();
    await page.goto(`${server.address}/studies/amber-quay/compose`);
    await page.getByRole("button", { name: "Media" }).click();
    await page.getByRole("button", { name: "wader-knot.svg" }).click();
    await page.getByText(/Near waders: bird in \d rows/).waitFor();
    await page.getByRole("button", { name: "Remove wader-knot.svg from the study" }).click();
    await page.getByText(/It is used in 3 places/).waitFor();
    await page.getByRole("button", { name: "Keep it" }).click();
  });
});

describe("starting points, the figure and the paper", () => {
  it("a new study begins from a starter design and its trial is played in place", async () => {
    await page.getByRole("button", { name: "New study" }).click();
    await page.getByLabel("Title").fill("Boats in the harbour");
    await page.getByRole("radio", { name: /Which way the boat goes/ }).check();
    await page.getByRole("button", { name: "Create study" }).click();
    await page.waitForURL("**/compose");
    await page.locator('[data-scene-button="boat"]').waitFor();
    await expect.poll(rowCount).toContain("4 rows, 20 trials");
    await page.getByRole("button", { name: "Play trial" }).click();
    await page.locator('[data-scene="boat"]').waitFor();
    await page.keyboard.press("f");
    await page
      .locator("[data-played]")
      .getByText(/^(right|wrong): f after \d+ ms/)
      .waitFor();
    await page.getByRole("button", { name: "Play it again" }).click();
    await page.locator('[data-scene="boat"]').waitFor();
    await page.keyboard.press("Escape");
    // Broken off in the middle: nothing of the trial listens any more, and the space bar is the browser's again.
    await expect.poll(() => page.locator("[data-scene]").count()).toBe(0);
    const isFree = () =>
      page.evaluate(() =>
        globalThis.document.body.dispatchEvent(
          new KeyboardEvent("keydown", { key: " ", bubbles: true, cancelable: true }),
        ),
      );
    await expect.poll(isFree).toBe(true);
  });

  it("scenes are moved by keyboard and mouse, copied to another block, and steps of the figure stay true", async () => {
    await page.goto(`${server.address}/studies/amber-quay/compose`);
    const names = async (part: string) => {
      const found = (await stored("amber-quay")).parts[part];
      return found?.kind === "block" ? found.scenes.map(({ name }) => name) : [];
    };
    const before = await names("near");
    await page.locator('[data-scene-button="fixation"]').focus();
    await page.keyboard.press("Control+ArrowDown");
    await saved(page);
    await expect.poll(() => names("near")).toEqual([before[1], before[0], before[2]]);
    await page.locator('[data-scene-button="fixation"]').dragTo(page.locator('[data-scene-button="flock"]'), {
      sourcePosition: { x: 20, y: 90 },
      targetPosition: { x: 20, y: 20 },
    });
    await saved(page);
    await expect.poll(() => names("near")).toEqual(before);
    await page.locator('[data-scene-button="flock"]').click({ position: { x: 20, y: 20 } });
    await page.getByRole("button", { name: "Duplicate or copy the scene" }).click();
    await page.getByRole("menuitem", { name: "Copy to Far waders" }).click();
    await saved(page);
    await expect.poll(async () => (await names("far")).at(-1)).toBe("flock 2");
  });

  it("comes out as SVG and as PNG of 300 dpi, with its caption and its fonts", async () => {
    await page.goto(`${server.address}/studies/amber-quay/compose`);
    await page.getByRole("button", { name: "For the paper" }).click();
    await page
      .getByRole("img", { name: /^Figure 1\. A trial of Near waders\. It shows fixation for 400–800 ms/ })
      .waitFor();
    const svg = new TextDecoder().decode(
      await downloaded(page, () => page.getByRole("button", { name: "SVG", exact: true }).click()),
    );
    expect(svg).toContain("<title>Figure 1. A trial of Near waders.");
    expect(svg.match(/<image /g)).toHaveLength(3);
    expect(svg).toMatch(/@font-face[^}]*Newsreader Variable[^}]*url\(data:/);
    expect(svg).not.toMatch(/url\((?!data:)|href="(?!data:)/);
    const png = await downloaded(page, () => page.getByRole("button", { name: "PNG, 300 dpi" }).click());
    const view = new DataView(png.buffer, png.byteOffset);
    const at = new TextDecoder("latin1").decode(png).indexOf("pHYs");
    expect(view.getUint32(at + 4)).toBe(11811);
    expect(view.getUint32(16)).toBeGreaterThan(2000);
  });

  it("commands are found by typing, and shortcuts are listed", async () => {
    await page.goto(`${server.address}/studies/amber-quay/compose`);
    await page.locator("[data-scene-button]").first().waitFor();
    await page.keyboard.press("Control+k");
    await page.keyboard.type("welcome");
    await page.keyboard.press("Enter");
    await page.getByRole("textbox", { name: "Text of Welcome and consent" }).waitFor();
    await page.locator("body").press("?");
    await page.getByRole("dialog", { name: "Shortcuts" }).getByText("find a command").waitFor();
  });
});
