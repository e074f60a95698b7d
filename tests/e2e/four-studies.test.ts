import type { Page } from "playwright-core";
import { beforeEach, describe, expect, it } from "vitest";
import { newStudyInCompose, openWindow, saved } from "../support/browser";
import { scene } from "../support/participant";
import { exportedFrom, press, type Row } from "../support/short-study";
import { withScreens, type Screens } from "../support/screens";

/*
 * Four studies as a newcomer would build them: from blank, by mouse and keys, with the steps each takes counted; played with
 * real keys by its link; every exported cell that follows from what was pressed compared with it.
 */

const screens = withScreens();
let server: Screens["server"];
let page: Page;
let steps = 0;
beforeEach(() => {
  ({ server, page } = screens);
  steps = 0;
});

/** One step of building: a click, something chosen, or something typed. */
const button = (name: string | RegExp) => {
  steps++;
  return page.getByRole("button", { name, ...(typeof name === "string" ? { exact: true } : {}) }).click();
};
const item = (name: string | RegExp) => {
  steps++;
  return page.getByRole("menuitem", { name, ...(typeof name === "string" ? { exact: true } : {}) }).click();
};
const fill = (label: string, value: string) => {
  steps++;
  return page.getByLabel(label, { exact: true }).fill(value);
};
const choose = (label: string, value: string | { label: string }) => {
  steps++;
  return page.getByLabel(label, { exact: true }).selectOption(value);
};
const go = (section: string) => {
  steps++;
  return page.getByRole("link", { name: new RegExp(`^${section}$`, "i") }).click();
};
const sceneButton = (name: string) => {
  steps++;
  return page.locator(`[data-scene-button="${name}"]`).click();
};
const header = (name: string) => {
  steps++;
  return page.getByTitle(`Settings of column ${name}`).click();
};
const partRow = (name: string) => page.locator(`[data-part-row="${name}"] [data-part]`);
const margin = () => page.getByRole("complementary", { name: "Settings of what is selected" });

/** A scene behind the chosen one, under a name. */
async function newSceneCalled(name: string) {
  await button("Scene");
  await page.getByRole("heading", { name: "scene", exact: true }).waitFor();
  await fill("Name", name);
}
/** A short fixation, and a target that waits for whoever plays on a machine that does other work too. */
async function unhurried() {
  await sceneButton("fixation");
  await fill("Duration in milliseconds", "50");
  await sceneButton("target");
  await fill("Longest wait in milliseconds", "60000");
}
/** A text in the chosen scene, empty, with the focus in it. */
async function newText() {
  await button("Add text");
  steps++;
  await page.getByRole("textbox", { name: "Text of text" }).click();
  await page.keyboard.press("Control+a");
}
async function released(): Promise<string> {
  await saved(page);
  await go("Collect");
  await button("Release this version");
  await button("Release it");
  const link = page.locator("[data-entry-link]");
  await link.waitFor();
  return (await link.textContent()) ?? "";
}

/** What the scenes called “told” said, by trial, as the page itself saw it frame by frame. */
type Watching = { told: Record<string, string> };
function watchTold() {
  const told: Watching["told"] = ((window as unknown as Watching).told = {});
  requestAnimationFrame(function look() {
    const stage = document.querySelector<HTMLElement>("#stage");
    const text = stage?.shadowRoot?.querySelector(".scene.shown .text:not([hidden])")?.textContent;
    if (stage?.dataset.scene === "told" && text) told[stage.dataset.trial ?? ""] = text.trim();
    requestAnimationFrame(look);
  });
}

/** Takes part by a link; `play` answers the trials. Returns what was told in them, in their order. */
async function takePart(link: string, play: (page: Page) => Promise<void>): Promise<string[]> {
  const own = await openWindow(screens.browser);
  await own.page.addInitScript(watchTold);
  await own.page.goto(link);
  await press(own.page, "Start");
  await press(own.page, "Continue");
  await play(own.page);
  await own.page.getByRole("button", { name: "Finish" }).waitFor();
  const told = await own.page.evaluate(() => (window as unknown as Watching).told);
  await press(own.page, "Finish");
  await own.page.getByText("Your completion code").waitFor();
  expect(own.complaints).toEqual([]);
  await own.context.close();
  return Object.keys(told)
    .sort((a, b) => Number(a) - Number(b))
    .map((trial) => told[trial] ?? "");
}
const trialsOf = async (code: string): Promise<Row[]> =>
  (await exportedFrom(server, screens.browser, code))["trials.csv"] ?? [];

const picture = (name: string, color: string) => ({
  name,
  mimeType: "image/svg+xml",
  buffer: Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 6"><title>${name}</title><rect width="9" height="6" fill="${color}"/></svg>`,
  ),
});

describe("from blank to data", () => {
  it("forty pictures of two kinds, with a sound after wrong answers", async () => {
    const code = await newStudyInCompose(page, server.address, "Birds and boats");
    await unhurried();
    await button("Rows from files");
    const files = ["bird", "boat"].flatMap((kind) =>
      Array.from({ length: 20 }, (_, index) =>
        picture(`${kind}-${index + 1}.svg`, kind === "bird" ? "#a3460f" : "#2e7d8c"),
      ),
    );
    steps++;
    await page.getByLabel("Files for rows").setInputFiles(files);
    await page.getByText("40 of 40 files are here").waitFor();
    steps++;
    await page.getByLabel("Pattern of the file names").fill("{kind}-{n}.svg");
    await button("Add 40 rows");
    // The two rows a new table begins with go.
    const cell = (row: number, column: number) => page.locator(".dsg-row").nth(row).locator(".dsg-cell").nth(column);
    steps += 2;
    await cell(1, 2).click();
    await cell(2, 2).click({ modifiers: ["Shift"] });
    await button("Remove rows 1–2");
    await expect.poll(() => page.locator("h2.caption").first().innerText()).toContain("40 rows, 40 trials");
    // The right key follows from the kind.
    await header("key");
    await choose("From", { label: "cases of kind" });
    await fill("Value for bird", "f");
    await fill("Value for boat", "j");
    // The picture takes the place of the word.
    await sceneButton("target");
    await button("Add image");
    await button("Take picture from the table or a group value");
    // A picture is taken from columns of pictures only.
    await expect.poll(() => page.getByRole("menuitem").allInnerTexts()).toEqual(["picture"]);
    await item("picture");
    await sceneButton("target");
    await button("word");
    await button("Remove item");
    await sceneButton("target");
    await newSceneCalled("told");
    await choose("Lasts", "media-end");
    await choose("Shown if", { label: "the answer was wrong" });
    await page.locator("aside").getByText("last.outcome").waitFor();
    await button("Add sound");
    await choose("Plays", "tone");
    const link = await released();

    const pressed: string[] = [];
    await takePart(link, async (played) => {
      for (let trial = 0; trial < 40;) {
        trial = await scene(played, "target", trial);
        const key = trial % 3 === 0 ? "j" : "f";
        await played.keyboard.press(key);
        pressed.push(key);
      }
    });
    const rows = await trialsOf(code);
    expect(rows.map((row) => row["answer"])).toEqual(pressed);
    for (const row of rows) {
      const wanted = row["kind"] === "bird" ? "f" : "j";
      const isRight = row["answer"] === wanted;
      expect(row).toMatchObject({
        key: wanted,
        is_right: isRight ? "yes" : "no",
        outcome: isRight ? "right" : "wrong",
        picture: `${row["kind"]}-${row["n"]}.svg`,
        practice: "no",
        attempt: "1",
        counts: "yes",
      });
      expect(row["told_onset_ms"] !== "").toBe(!isRight);
      expect(row["told_sound_began_ms"] !== "").toBe(!isRight);
    }
    expect(new Set(rows.map((row) => row["picture"])).size).toBe(40);
    console.log(`forty pictures: ${steps} steps`);
  });

  it("two groups with swapped keys", async () => {
    const code = await newStudyInCompose(page, server.address, "Left gull, right ferry");
    await unhurried();
    await go("Plan");
    await button("Group");
    await item("Another group");
    await page.getByText("The first group is still called “Everyone”.").waitFor();
    await button("Call it Group 1");
    for (const [name, first, second] of [
      ["gull_key", "f", "j"],
      ["ferry_key", "j", "f"],
    ] as const) {
      await button("Group");
      await item("A value that differs by group");
      steps += 1;
      await margin().getByLabel("Name", { exact: true }).fill(name);
      await fill(`${name} in Group 1`, first);
      await fill(`${name} in Group 2`, second);
    }
    await go("Compose");
    await header("key");
    await choose("From", { label: "cases of word" });
    for (const word of ["gull", "ferry"]) {
      await button(`Take value for ${word} from the table or a group value`);
      await item(`${word}_key`);
    }
    const link = await released();
    for (let count = 0; count < 2; count++)
      await takePart(link, async (played) => {
        for (let trial = 0; trial < 2;) {
          trial = await scene(played, "target", trial);
          await played.keyboard.press("f");
        }
      });
    const rows = await trialsOf(code);
    expect(new Set(rows.map((row) => row["group_name"]))).toEqual(new Set(["Group 1", "Group 2"]));
    for (const row of rows) {
      const [gull, ferry] = row["group_name"] === "Group 1" ? ["f", "j"] : ["j", "f"];
      const key = row["word"] === "gull" ? gull : ferry;
      expect(row).toMatchObject({
        gull_key: gull,
        ferry_key: ferry,
        key,
        answer: "f",
        is_right: key === "f" ? "yes" : "no",
      });
    }
    expect(rows).toHaveLength(4);
    console.log(`two groups: ${steps} steps`);
  });

  it("crossed factors, with practice sharing the trial and feedback in practice only", async () => {
    const code = await newStudyInCompose(page, server.address, "Near and far lights");
    await unhurried();
    await button("Cross factors");
    await fill("Name of factor 1", "side");
    await fill("Levels of side", "left, right");
    await button("New factor");
    await fill("Name of factor 2", "distance");
    await fill("Levels of distance", "near, far");
    steps++;
    await page.getByLabel(/start over/).check();
    await button("Add 4 rows");
    await header("key");
    await choose("From", { label: "cases of side" });
    await fill("Value for left", "f");
    await fill("Value for right", "j");
    // The word shows the side; feedback comes behind the target.
    await sceneButton("target");
    await newSceneCalled("told");
    await fill("Duration in milliseconds", "200");
    await choose("Shown if", { label: "only in practice" });
    await newText();
    await page.keyboard.type("Took ");
    await button("Insert a value");
    await item(/reaction time of this trial/);
    // What is typed next goes on in the text.
    await page.keyboard.type(" ms");
    await expect
      .poll(() => page.getByRole("textbox", { name: "Text of text" }).innerText())
      .toBe("Took reaction time of this trial ms");
    await page.locator("figure, [role=group]").getByText("in practice").first().waitFor();
    await go("Plan");
    steps += 2;
    await partRow("Block 1").click();
    await margin().getByRole("button", { name: "Copy the part" }).click();
    await item(/The same block again/);
    // The copy is selected.
    steps++;
    await margin().getByLabel("Name", { exact: true }).fill("Practice");
    steps += 2;
    await margin().getByLabel("Practice: left out of results").check();
    await partRow("Practice").press("Control+ArrowUp");
    const link = await released();

    const told = await takePart(link, async (played) => {
      for (let trial = 0; trial < 8;) {
        trial = await scene(played, "target", trial);
        await played.keyboard.press("f");
      }
    });
    const rows = await trialsOf(code);
    expect(rows.map((row) => [row["part"], row["practice"], row["trial_in_block"]])).toEqual([
      ...[1, 2, 3, 4].map((trial) => ["Practice", "yes", String(trial)]),
      ...[1, 2, 3, 4].map((trial) => ["Block 1", "no", String(trial)]),
    ]);
    expect(rows.map((row) => row["told_onset_ms"] !== "")).toEqual([...Array(4).fill(true), ...Array(4).fill(false)]);
    // What was told is a whole number of the time itself, of which the file holds tenths: a half can go either way.
    expect(told).toHaveLength(4);
    for (const [index, text] of told.entries()) {
      const [, ms] = /^Took (\d+) ms$/.exec(text) ?? [];
      expect(Math.abs(Number(ms) - Number(rows[index]?.["rt_ms"]))).toBeLessThanOrEqual(0.55);
    }
    for (const part of ["Practice", "Block 1"])
      expect(
        rows
          .filter((row) => row["part"] === part)
          .map((row) => `${row["side"]} ${row["distance"]} ${row["key"]} ${row["is_right"]}`)
          .toSorted(),
      ).toEqual(["left far f yes", "left near f yes", "right far j no", "right near j no"]);
    console.log(`crossed factors: ${steps} steps`);
  });

  it("a typed answer with “n of m right”, and a Latin square of three", async () => {
    const code = await newStudyInCompose(page, server.address, "Names of boats");
    await unhurried();
    await sceneButton("target");
    await button("Add entry");
    await button("Answer");
    await item("answer");
    await button("Another way to answer");
    await item("Text typed into an entry");
    await button("Not by keys");
    await button("right answer is taken from key: change");
    await item("word");
    await sceneButton("target");
    await newSceneCalled("told");
    await fill("Duration in milliseconds", "200");
    await newText();
    await button("Insert a value");
    await item(/right answers in this block/);
    await page.keyboard.type(" of ");
    await button("Insert a value");
    await item(/trials so far in this block/);
    await page.keyboard.type(" right");
    await go("Plan");
    for (const name of ["Second", "Third"]) {
      steps += 2;
      await partRow("Block 1").click();
      await margin().getByRole("button", { name: "Copy the part" }).click();
      await item("An independent copy");
      steps++;
      await margin().getByLabel("Name", { exact: true }).fill(name);
    }
    steps += 3;
    await partRow("Block 1").click();
    await partRow("Block 1").press("Shift+ArrowDown");
    await partRow("Third").press("Shift+ArrowDown");
    await margin().getByRole("button", { name: "Latin", exact: true }).click();
    const link = await released();

    const all: { typed: string[]; told: string[] }[] = [];
    for (let participant = 0; participant < 3; participant++) {
      const typed: string[] = [];
      const told = await takePart(link, async (played) => {
        for (let trial = 0; trial < 6;) {
          trial = await scene(played, "target", trial);
          const word = trial % 2 === 0 ? "ferry" : "gull";
          await played.locator("#stage .scene.shown .entry input").focus();
          await played.keyboard.type(word);
          await played.keyboard.press("Enter");
          typed.push(word);
        }
      });
      all.push({ typed, told });
    }
    const rows = await trialsOf(code);
    const orders = all.map((_, index) => {
      const own = rows.filter((row) => row["participant"] === String(index + 1));
      expect(own.map((row) => row["answer"])).toEqual(all[index]!.typed);
      let right = 0;
      own.forEach((row, at) => {
        const isRight = row["answer"] === row["word"];
        right = (at % 2 === 0 ? 0 : right) + (isRight ? 1 : 0);
        expect(row["is_right"]).toBe(isRight ? "yes" : "no");
        expect(all[index]!.told[at]).toBe(`${right} of ${(at % 2) + 1} right`);
        // The first key came before the answer was given.
        expect(Number(row["answer_first_key_ms"])).toBeGreaterThan(0);
        expect(Number(row["answer_first_key_ms"])).toBeLessThanOrEqual(Number(row["rt_ms"]));
      });
      return [...new Set(own.map((row) => row["part"]))];
    });
    // Over three participants each block comes once in each position.
    for (const position of [0, 1, 2])
      expect(new Set(orders.map((order) => order[position]))).toEqual(new Set(["Block 1", "Second", "Third"]));
    console.log(`typed answers: ${steps} steps`);
  });
});
