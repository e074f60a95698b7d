import { unzipSync } from "fflate";
import { readFileSync } from "node:fs";
import type { Page } from "playwright-core";
import { beforeEach, describe, expect, it } from "vitest";
import { downloaded, openWindow, saved } from "../support/browser";
import { withScreens, type Screens } from "../support/screens";
import { startWaders } from "../support/short-study";

const screens = withScreens();
let browser: Screens["browser"];
let server: Screens["server"];
let page: Page;
beforeEach(() => void ({ browser, server, page } = screens));

const study = (section: string) => page.goto(`${server.address}/studies/amber-quay/${section}`);
type Saved = {
  document: {
    title: string;
    groups: unknown[];
    parts: Record<
      string,
      {
        name: string;
        table?: { rows: { copies: number; cells: Record<string, unknown> }[]; columns: { name: string }[] };
        scenes?: { name: string; lasts: Record<string, unknown> }[];
      }
    >;
    runningOrder: { part: string }[];
  };
};
const stored = async (code = "amber-quay"): Promise<Saved["document"]> =>
  ((await (await page.request.get(`${server.address}/studies/${code}/edits`)).json()) as Saved).document;
const cell = (row: number, column: number) => page.locator(".dsg-row").nth(row).locator(".dsg-cell").nth(column);

describe("Studies", () => {
  const row = (title: string) => page.locator("tbody tr").filter({ hasText: title });

  it("are searched, duplicated, put in the bin and restored", async () => {
    await page.getByLabel("Search studies").fill("amber");
    await expect.poll(() => page.locator("tbody tr").count()).toBe(1);
    await page.getByLabel("Search studies").fill("");
    await page.getByRole("button", { name: "Actions for Harbour lights after dark" }).click();
    await page.getByRole("menuitem", { name: "Duplicate" }).click();
    await row("Harbour lights after dark, copy").waitFor();
    await page.getByRole("button", { name: "Actions for Harbour lights after dark, copy" }).click();
    await page.getByRole("menuitem", { name: "Move to the bin" }).click();
    await expect.poll(() => row("Harbour lights after dark, copy").count()).toBe(0);
    await page.getByRole("button", { name: "bin, 1" }).click();
    await row("Harbour lights after dark, copy").getByRole("button", { name: "Restore" }).click();
    await page.getByRole("button", { name: "all" }).click();
    await row("Harbour lights after dark, copy").waitFor();
  });

  it("are exported as a file that can be imported again", async () => {
    await page.getByRole("button", { name: "Actions for Waders on a mudflat" }).click();
    const file = await downloaded(page, () => page.getByRole("menuitem", { name: "Export study file" }).click());
    expect(Object.keys(unzipSync(file))).toContain("study.lapwing.json");
    await page
      .getByLabel("Study file")
      .setInputFiles({ name: "waders.lapwing.zip", mimeType: "application/zip", buffer: Buffer.from(file) });
    await page.waitForURL(/\/studies\/(?!amber-quay)[a-z-]+\/plan/);
    const code = page.url().split("/")[4] ?? "";
    expect(await stored(code)).toEqual(await stored());
  });

  it("tell every mistake of a dropped file and import nothing", async () => {
    const broken = JSON.parse(readFileSync("tests/support/eight-trials.lapwing.json", "utf8")) as {
      parts: { boats: { scenes: { items: { fontSize: number }[] }[]; table: { rows: { copies: number }[] } } };
    };
    broken.parts.boats.scenes[1]!.items[0]!.fontSize = 0;
    broken.parts.boats.table.rows[2]!.copies = -1;
    await page.locator("tbody tr").first().waitFor();
    const before = await page.locator("tbody tr").count();
    const data = await page.evaluateHandle((text) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([text], "boats.lapwing.json", { type: "application/json" }));
      return transfer;
    }, JSON.stringify(broken));
    await page.dispatchEvent("main", "drop", { dataTransfer: data });
    const alert = page.getByRole("alert");
    await alert.waitFor();
    await expect
      .poll(() => alert.locator("li").allTextContents())
      .toEqual([
        "block “Boats”, row 3: copies must be 0 or more.",
        "block “Boats”, scene 2, item “number”: letter size must be greater than 0.",
      ]);
    await expect.poll(() => page.locator("tbody tr").count()).toBe(before);
  });
});

describe("Plan", () => {
  const rows = () =>
    page.locator("[data-part-row]").evaluateAll((all) => all.map((each) => each.getAttribute("data-part-row")));

  it("shows what differs by group in its cells and spans what is the same", async () => {
    await study("plan");
    await expect
      .poll(() => page.locator('[data-part-row="How to answer"]').innerText())
      .toMatch(/F upriver, J downriver[\s\S]*J upriver, F downriver/);
    await expect.poll(() => page.locator('[data-part-row="How it went"]').innerText()).toContain("same for all");
  });

  it("adds, renames, moves by keyboard and removes parts, and undo brings back what was there", async () => {
    await study("plan");
    const before = await rows();
    await page.getByText("A short rest").first().click();
    await page.getByRole("button", { name: "Part", exact: true }).click();
    await page.getByRole("menuitem", { name: "Page" }).click();
    await page.getByLabel("Name", { exact: true }).fill("Tea");
    await expect.poll(rows).toEqual([...before.slice(0, 5), "Tea", ...before.slice(5)]);
    await page.getByRole("button", { name: "Move Tea: press space, then the arrow keys" }).focus();
    for (const [key, said] of [
      ["Space", "Tea stays where it is."],
      ["ArrowDown", "Tea takes the place of"],
      ["Space", "Tea has taken the place of"],
    ] as const) {
      await page.keyboard.press(key);
      await expect.poll(() => page.locator("[id^=DndLiveRegion]").first().textContent()).toContain(said);
    }
    await expect.poll(rows).toEqual([...before.slice(0, 6), "Tea", ...before.slice(6)]);
    await page.getByRole("button", { name: "Remove the part" }).click();
    await page.getByRole("button", { name: "Remove", exact: true }).click();
    await expect.poll(rows).toEqual(before);
    await page.getByRole("button", { name: /^Undo/ }).click();
    await expect.poll(rows).toEqual([...before.slice(0, 6), "Tea", ...before.slice(6)]);
    for (let step = 0; step < 6 && (await rows()).length > before.length; step++)
      await page.getByRole("button", { name: /^Undo/ }).click();
    await expect.poll(rows).toEqual(before);
    await saved(page);
    expect((await stored()).runningOrder.map(({ part }) => part)).toHaveLength(before.length);
  });

  it("sets what holds for the whole study, and participants see it", async () => {
    await page.goto(`${server.address}/studies/salt-ledger/plan`);
    await page.getByRole("textbox", { name: "Stage colour", exact: true }).fill("#203040");
    await page.getByRole("textbox", { name: "Text colour of pages", exact: true }).fill("#ffffff");
    await page.getByRole("button", { name: "From link to goodbye" }).click();
    const language = page.getByLabel("Language of participants’ pages");
    await language.selectOption("other");
    await page.getByLabel("Language tag").fill("sehr deutsch");
    await page.getByText("Type a language tag such as fi or de-CH.").waitFor();
    await page.getByLabel("Language tag").fill("fi");
    await page.getByText("English wording").waitFor();
    await language.selectOption("de");
    await page.getByLabel("Said on the entry page").fill("Kisten am Kai.");
    await page.locator("summary").click();
    await page.getByLabel("Wording: button of the entry page").fill("Leinen los");
    // The view beside it is the player's own, and cannot be pressed.
    const view = page.frameLocator('iframe[title="The page “Entry” as participants see it"]');
    await view.getByText("Leinen los").waitFor();
    const inView = await view.locator("#page").innerHTML();
    expect(await view.locator("body").evaluate((body) => (body as HTMLElement).inert)).toBe(true);
    await page.getByRole("button", { name: "Ending", exact: true }).click();
    await page
      .frameLocator('iframe[title="The page “Ending” as participants see it"]')
      .locator("output.code")
      .waitFor({ state: "attached" });
    await page.keyboard.press("Escape");
    await saved(page);
    await page.getByRole("link", { name: "Collect" }).click();
    await page.getByRole("button", { name: "Release this version" }).click();
    await page.getByRole("button", { name: "Release it" }).click();
    const link = (await page.locator("[data-entry-link]").textContent()) ?? "";
    const participant = await openWindow(browser);
    await participant.page.goto(link);
    await participant.page.getByText("Kisten am Kai.").waitFor();
    await participant.page.getByRole("button", { name: "Leinen los" }).waitFor();
    expect(await participant.page.locator("#page").innerHTML()).toBe(inView);
    expect(
      await participant.page.evaluate(() => [
        document.documentElement.lang,
        getComputedStyle(document.body).backgroundColor,
      ]),
    ).toEqual(["de", "rgb(32, 48, 64)"]);
    await participant.context.close();
  });

  it("adds a group, and a value by group; a name that cannot be is refused where it is typed", async () => {
    await study("plan");
    const add = async (what: string) => {
      await page.getByRole("button", { name: "Group", exact: true }).click();
      await page.getByRole("menuitem", { name: what }).click();
    };
    await add("Another group");
    await expect
      .poll(() => page.getByRole("table", { name: "Running order" }).getByRole("columnheader").count())
      .toBe(5);
    await add("A value that differs by group");
    const name = page.getByLabel("Name", { exact: true });
    await name.fill("participant");
    await page.getByText("is a family of built-in names").waitFor();
    await name.fill("upriver");
    await page.getByText("“upriver” is taken").waitFor();
    await name.fill("tide");
    await page.getByRole("button", { name: "tide" }).first().waitFor();
    const undo = page.getByRole("button", { name: /^Undo/ });
    while (await undo.isEnabled()) await undo.click();
    await saved(page);
    expect((await stored()).groups).toHaveLength(2);
  });
});

describe("Compose", () => {
  it("draws the real values of the row that is selected", async () => {
    await study("compose");
    const caption = page.locator("[data-figure-caption]");
    await cell(10, 2).click();
    await expect.poll(() => caption.textContent()).toContain("row 10: none, left");
    const birds = () => page.locator('[data-scene-button="flock"] .item:visible').count();
    await expect.poll(birds).toBe(1);
    await cell(1, 2).click();
    await expect.poll(birds).toBe(5);
  });

  it("brings the trial of a clicked tick into the figure, and steps participants", async () => {
    await study("compose");
    await page.locator('[data-tick="20"]').click();
    await expect.poll(() => page.locator("[data-figure-caption]").textContent()).toContain("Trial 20 of participant 1");
    await page.getByRole("slider", { name: "Trial of the session" }).press("ArrowRight");
    await expect.poll(() => page.locator("[data-figure-caption]").textContent()).toContain("Trial 21 of participant 1");
    await page.getByRole("button", { name: "Next participant" }).click();
    await expect.poll(() => page.locator("[data-figure-caption]").textContent()).toContain("of participant 2");
  });

  it("takes typing, arrows, paste and fill in the table, saves by itself, and undoes", async () => {
    await study("compose");
    await page.getByRole("button", { name: /^Part:/ }).click();
    await page.getByRole("menuitem", { name: "Far waders" }).click();
    const block = async () => (await stored()).parts["far"]!.table!.rows;
    const before = await block();
    await cell(1, 4).click();
    await page.keyboard.type("left");
    await page.keyboard.press("ArrowDown");
    await page.keyboard.type("right");
    await page.keyboard.press("Enter");
    await cell(3, 1).click();
    await page.evaluate(() => {
      const data = new DataTransfer();
      data.setData("text/plain", "3\tagainst\n5\twith");
      document.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
    });
    await saved(page);
    await expect
      .poll(async () => (await block()).slice(2, 4).map(({ copies, cells }) => [copies, cells["neighbours"]]))
      .toEqual([
        [3, "against"],
        [5, "with"],
      ]);
    expect((await block()).slice(0, 2).map(({ cells }) => cells["others"])).toEqual(["left", "right"]);
    // What was done before a reload can be undone after it.
    await page.reload();
    await page.getByRole("button", { name: /^Undo/, disabled: false }).click();
    await expect.poll(async () => (await block())[2]?.copies).toBe(before[2]?.copies);
    expect(before[2]?.copies).toBe(2);
    expect((await block()).slice(0, 2).map(({ cells }) => cells["others"])).toEqual(["left", "right"]);
  });

  it("fills cells by dragging the corner", async () => {
    await study("compose");
    await page.getByRole("button", { name: /^Part:/ }).click();
    await page.getByRole("menuitem", { name: "Practice" }).click();
    await cell(1, 4).click();
    const handle = page.locator(".dsg-expand-rows-indicator");
    await handle.waitFor({ state: "attached" });
    const from = await handle.boundingBox();
    const to = await cell(4, 4).boundingBox();
    if (!from || !to) throw new Error("no handle");
    await page.mouse.move(from.x + 3, from.y + 3);
    await page.mouse.down();
    await page.mouse.move(to.x + 20, to.y + 14, { steps: 6 });
    await page.mouse.up();
    await saved(page);
    await expect
      .poll(async () => (await stored()).parts["practice"]!.table!.rows.slice(0, 4).map(({ cells }) => cells["others"]))
      .toEqual(["left", "left", "left", "left"]);
  });

  it("renames a column everywhere at once and binds a property to it", async () => {
    await study("compose");
    await page.getByTitle("Settings of column direction").click();
    await page.getByLabel("Name", { exact: true }).fill("heading");
    await page.locator('[data-scene-button="flock"]').click();
    await page.getByRole("button", { name: "middle bird", exact: true }).click();
    await page.getByRole("button", { name: "which way it faces is taken from heading: change" }).waitFor();
    await page.getByRole("button", { name: "Take opacity from the table or a group value" }).click();
    await page.getByRole("menuitem", { name: "heading" }).click();
    await page.getByRole("button", { name: "opacity is taken from heading: change" }).click();
    await page.getByRole("menuitem", { name: "Use a constant" }).click();
    await page.getByLabel("Opacity in per cent").waitFor();
    const undo = page.getByRole("button", { name: /^Undo/ });
    while (await undo.isEnabled()) await undo.click();
    await page.getByRole("button", { name: "which way it faces is taken from direction: change" }).waitFor();
    await saved(page);
  });

  it("adds a scene, an item, a picture and a key, and plays them back after a reload", async () => {
    await page.getByRole("button", { name: "New study" }).click();
    await page.getByLabel("Title").fill("Buoys");
    await page.getByRole("button", { name: "Create study" }).click();
    await page.waitForURL("**/compose");
    const code = page.url().split("/")[4] ?? "";
    await page.locator('[data-scene-button="fixation"]').click();
    await page.getByRole("button", { name: "Scene", exact: true }).click();
    await page.getByLabel("Name", { exact: true }).fill("buoy");
    await page.getByRole("button", { name: "Add image" }).click();
    await page.getByLabel("Picture file").setInputFiles({
      name: "buoy.svg",
      mimeType: "image/svg+xml",
      buffer: Buffer.from(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5" fill="#d55e00"/></svg>',
      ),
    });
    await page.locator('[data-scene-button="buoy"] img[src*="/media/"]').waitFor({ state: "attached" });
    await page.getByLabel("Picture file").setInputFiles({
      name: "evil.svg",
      mimeType: "image/svg+xml",
      buffer: Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1 1"><script>1</script></svg>'),
    });
    await page.getByText(/evil.svg: The SVG is refused because it holds a script/).waitFor();
    await page.getByRole("button", { name: "Answer", exact: true }).click();
    await page.getByRole("menuitem", { name: "answer", exact: true }).click();
    await page.getByRole("button", { name: "Add a key by pressing it" }).click();
    await page.keyboard.press("k");
    await page.getByRole("button", { name: "Do not allow K" }).waitFor();
    await saved(page);
    await page.reload();
    await page.locator('[data-scene-button="buoy"] img[src*="/media/"]').waitFor({ state: "attached" });
    expect(
      (await stored(code)).parts[
        Object.keys((await stored(code)).parts).find((id) => id.startsWith("block")) ?? ""
      ]?.scenes?.map(({ name }) => name),
    ).toEqual(["fixation", "buoy", "target"]);
  });

  it("writes a page with a name in it that participants read as their value", async () => {
    await study("compose");
    await page.getByRole("button", { name: /^Part:/ }).click();
    await page.getByRole("menuitem", { name: "What it was about" }).click();
    const text = page.getByRole("textbox", { name: "Text of What it was about" });
    await text.click();
    await page.keyboard.press("Control+End");
    await page.keyboard.type(" Key: {{upriver}}");
    await text.locator("span[data-name]").waitFor();
    const body = page.frameLocator('iframe[title="How participants see What it was about"]').locator(".body").last();
    await expect.poll(() => body.innerText()).toMatch(/Key: [FJ]$/m);
    await saved(page);
    expect(JSON.stringify((await stored()).parts["about"])).toContain('"ref":{"groupValue":"upriver"}');
  });

  it("keeps edits while the server is away and saves them when it is back", async () => {
    await study("plan");
    await page.context().setOffline(true);
    await page.getByLabel("Title of the study").fill("Waders in fog");
    await page.getByText("Kept here, trying again").waitFor();
    await page.context().setOffline(false);
    await saved(page);
    await expect.poll(async () => (await stored()).title).toBe("Waders in fog");
  });
});

describe("Collect and Results", () => {
  it("freeze a second release that says what changed, while the first goes on", async () => {
    await study("plan");
    await page.getByText("Near waders").first().click();
    await page.getByLabel("Passes").fill("3");
    await saved(page);
    await page.getByRole("link", { name: "Collect" }).click();
    await page.getByRole("button", { name: "Release this version" }).click();
    await page.getByRole("button", { name: "Release it" }).click();
    await page.getByRole("button", { name: /^Release 2/ }).waitFor();
    await expect
      .poll(() => page.getByRole("complementary", { name: "Releases" }).innerText())
      .toContain("Near waders: 2 → 3 passes.");
    await expect.poll(() => page.locator("[data-entry-link]").textContent()).toContain("/join/demo-waders");
    // Where data were collected, the wave stays with what it runs unless it is told otherwise.
    await page.getByRole("button", { name: "Release it runs: release 1" }).waitFor();
  });

  it("cannot release a study with errors and say where they are", async () => {
    await page.goto(`${server.address}/studies`);
    await page.getByRole("link", { name: "Reading tide tables against the clock" }).click();
    await page.getByRole("link", { name: "Compose" }).click();
    await cell(1, 3).click();
    await page.keyboard.type("q");
    await page.keyboard.press("Enter");
    await saved(page);
    await page.getByRole("link", { name: "Collect" }).click();
    await expect.poll(() => page.getByRole("button", { name: "Release this version" }).isDisabled()).toBe(true);
    await page.getByRole("link", { name: "Rehearse" }).click();
    await page.getByRole("tab", { name: /Preflight/ }).click();
    await page.getByText("Row 1 expects “q”, which is not among the allowed keys.").waitFor();
    await page.getByRole("button", { name: "Go there" }).first().click();
    await page.waitForURL("**/compose");
  });

  it("show sessions live while they are played", async () => {
    await study("collect");
    const active = page.locator('tr[data-session-state="active"]');
    const before = await active.count();
    const participant = await openWindow(browser);
    await participant.page.goto(`${server.address}/join/demo-waders`);
    await startWaders(participant.page);
    await participant.page.getByRole("button", { name: "Begin" }).waitFor();
    await expect.poll(() => active.count(), { timeout: 10_000 }).toBe(before + 1);
    await participant.context.close();
  });

  it("compare reaction times by up to two columns and list the records", async () => {
    await study("results");
    await page.getByRole("button", { name: /^Second column/ }).click();
    await page.getByRole("menuitem", { name: "nothing else" }).click();
    const table = page.locator('[data-numbers="conditions"] tbody tr');
    await expect.poll(() => table.count()).toBe(3);
    const ms = (await table.locator("td:nth-child(2)").allTextContents()).map(Number);
    expect(ms[1]! - ms[0]!).toBeGreaterThan(35);
    await page.locator("figure svg.recharts-surface").waitFor();
    await page.getByRole("button", { name: /^Measure/ }).click();
    await page.getByRole("menuitem", { name: "median reaction time of right answers" }).click();
    await page.getByRole("figure").getByText("Median reaction time of right answers by neighbours").waitFor();
    await expect
      .poll(async () => (await table.locator("td:nth-child(2)").allTextContents()).map(Number))
      .not.toEqual(ms);
    await page.getByRole("tab", { name: "records" }).click();
    const records = page.getByRole("region", { name: "Records", exact: true });
    const cellsOf = (name: string) =>
      records.evaluate((region, wanted) => {
        const at = [...region.querySelectorAll("th")].findIndex(({ textContent }) => textContent === wanted);
        return [...region.querySelectorAll("tbody tr[aria-rowindex]")].map(
          (row) => row.children[at]?.textContent ?? "",
        );
      }, name);
    await page.getByText("2,306 rows").waitFor();
    // Conditions are words of the sentence; the header sorts.
    await page.getByRole("button", { name: "+ Condition" }).click();
    await page.getByRole("menuitem", { name: "rt_ms", exact: true }).click();
    await page.getByRole("button", { name: "Comparison: is not empty" }).click();
    await page.getByRole("menuitem", { name: "is at least" }).click();
    await page.getByLabel("Value").fill("500");
    await expect.poll(() => page.locator("[data-rows]").textContent()).toMatch(/^[\d,]+ of 2,306 rows/);
    await records.getByRole("button", { name: "rt_ms" }).click();
    await records.locator("th[aria-sort=ascending]", { hasText: "rt_ms" }).waitFor();
    await expect.poll(async () => Number((await cellsOf("rt_ms"))[0])).toBeGreaterThanOrEqual(500);
    const rising = (await cellsOf("rt_ms")).map(Number);
    expect(rising).toEqual(rising.toSorted((a, b) => a - b));
    // Rows come into sight as they are scrolled to, the last ones too.
    const all = Number((await page.locator("[data-rows]").textContent())?.split(" ")[0]?.replace(",", ""));
    await records.evaluate((region) => region.scrollTo({ top: region.scrollHeight }));
    const last = records.locator(`tr[aria-rowindex="${all + 1}"] td`).first();
    await expect.poll(() => last.textContent()).toBe("amber-quay");
    await page.getByLabel("Text to find").fill("dunlin");
    await expect.poll(async () => new Set(await cellsOf("bird"))).toEqual(new Set(["wader-dunlin.svg"]));
    await page.getByRole("button", { name: "Columns" }).click();
    await page.getByRole("menuitemcheckbox", { name: "study" }).click();
    await expect.poll(() => page.locator("[data-rows]").textContent()).toContain("54 of 55 columns");
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: "Row: trials" }).click();
    await page.getByRole("menuitem", { name: "events" }).click();
    await records.getByRole("columnheader", { name: "at_ms" }).waitFor();
  });
});
