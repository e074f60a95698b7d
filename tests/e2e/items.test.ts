import { unzipSync } from "fflate";
import Papa from "papaparse";
import type { Page } from "playwright-core";
import { beforeEach, describe, expect, it } from "vitest";
import { blocksInOrder } from "~/core/design/lookup";
import { newStudyInCompose, saved, storedStudy, still } from "../support/browser";
import { webm, wav } from "../support/media";
import { withScreens, type Screens } from "../support/screens";
import { scene } from "../support/participant";

const screens = withScreens();
let server: Screens["server"];
let page: Page;
let context: Screens["context"];
beforeEach(() => void ({ server, page, context } = screens));

/** A study whose target waits 20 s at most and asks for what the test sets; its scene is opened. */
async function make(title: string): Promise<string> {
  const code = await newStudyInCompose(page, server.address, title);
  await page.locator('[data-scene-button="target"]').dblclick();
  await page.getByLabel("Longest wait in milliseconds").fill("20000");
  return code;
}
const add = (kind: string) => page.getByRole("button", { name: `Add ${kind}`, exact: true }).click();
const bind = async (what: string, column: string) => {
  await page.getByRole("button", { name: `Take ${what} from the table or a group value` }).click();
  await page.getByRole("menuitem", { name: column, exact: true }).click();
};
/** Sets the answer: takes its keys away and gives another way. */
async function answerBy(way: string) {
  await page.getByRole("button", { name: "Figure 1" }).click();
  await page.getByRole("button", { name: "Answer", exact: true }).click();
  await page.getByRole("menuitem", { name: "answer", exact: true }).click();
  await page.getByRole("button", { name: "Another way to answer" }).click();
  await page.getByRole("menuitem", { name: way }).click();
  await page.getByRole("button", { name: "Not by keys" }).click();
}
const columnNamed = async (name: string, values: string[]) => {
  await page.getByRole("button", { name: "Column", exact: true }).click();
  await page.getByLabel("Name", { exact: true }).fill(name);
  const header = await page.locator(".dsg-row").first().locator(".dsg-cell").allInnerTexts();
  const at = header.findIndex((text) => text.trim() === name);
  for (const [index, value] of values.entries()) {
    await page
      .locator(".dsg-row")
      .nth(index + 1)
      .locator(".dsg-cell")
      .nth(at)
      .click();
    await page.keyboard.type(value);
    await page.keyboard.press("Enter");
  }
};
const svg = (color: string) => ({
  name: `${color}.svg`,
  mimeType: "image/svg+xml",
  buffer: Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><rect width="10" height="10" fill="${color}"/></svg>`,
  ),
});
/** Gives the item a file, and waits until it has arrived. */
async function giveFile(kind: string, file: { name: string; mimeType: string; buffer: Buffer }) {
  await page.getByLabel(`${kind} file`).setInputFiles(file);
  await page.locator("option:checked", { hasText: file.name }).waitFor({ state: "attached" });
}
/** Rehearses the study in a new tab, up to its first trial's target. */
async function play(code: string): Promise<{ played: Page; problems: string[] }> {
  await saved(page);
  await page.goto(`${server.address}/studies/${code}/rehearse`);
  const [played] = await Promise.all([
    context.waitForEvent("page"),
    page.getByRole("button", { name: "Play in a new tab" }).click(),
  ]);
  const problems: string[] = [];
  played.on("pageerror", (error) => problems.push(error.message));
  await played.getByRole("button", { name: "Continue" }).click();
  await scene(played, "target");
  return { played, problems };
}
const itemId = async (name: string, code: string): Promise<string> =>
  blocksInOrder(await storedStudy(page, server.address, code))
    .flatMap(({ scenes }) => scenes.flatMap(({ items }) => items))
    .find((each) => each.name === name)?.id ?? "";
const item = async (played: Page, name: string, code: string) =>
  played.locator(`#stage .scene.shown [data-item="${await itemId(name, code)}"]`);
/**
 * What each item of the scene on show was, each state once, as the page itself saw it frame by frame: it became so in the
 * frame in which it was seen or in the one before, however long a busy machine took between the two.
 */
type Watched = { itemStates: Record<string, string[]>; itemTimes: Record<string, [before: number, seen: number][]> };
function watchItems() {
  const states: Watched["itemStates"] = ((window as unknown as Watched).itemStates = {});
  const times: Watched["itemTimes"] = ((window as unknown as Watched).itemTimes = {});
  let before = 0;
  requestAnimationFrame(function look(now) {
    for (const element of document
      .querySelector("#stage")
      ?.shadowRoot?.querySelectorAll<HTMLElement>(".scene.shown [data-item]") ?? []) {
      const seen = (states[element.dataset.item ?? ""] ??= []);
      const state = Number(getComputedStyle(element).opacity) < 0.01 ? "waiting" : "seen";
      if (seen.at(-1) === state) continue;
      seen.push(state);
      (times[element.dataset.item ?? ""] ??= []).push([before, now]);
    }
    before = now;
    requestAnimationFrame(look);
  });
}
/** The rehearsal's trials as they are exported. */
async function records(code: string): Promise<Record<string, string>[]> {
  const answer = await page.request.get(`${server.address}/studies/${code}/data?pilots=yes`);
  const files = unzipSync(new Uint8Array(await answer.body()));
  const name = Object.keys(files).find((each) => each.endsWith("trials.csv")) ?? "";
  const text = new TextDecoder().decode(files[name]).replace(/^\uFEFF/, "");
  return Papa.parse<Record<string, string>>(text.trimEnd(), { header: true }).data;
}
const recorded = (code: string, count: number) => expect.poll(async () => (await records(code)).length).toBe(count);

it("text, picture, shape, grating and array are placed, bound, shown, and their draws recorded", async () => {
  const code = await newStudyInCompose(page, server.address, "Seen things");
  await columnNamed("size", ["12", "12"]);
  await page.getByLabel("Holds").selectOption("number");
  await page.locator('[data-scene-button="target"]').dblclick();
  await add("text");
  await page.getByRole("textbox", { name: "Text of text" }).click();
  await page.keyboard.press("Control+a");
  await page.keyboard.type("شاطئ {{word}} ");
  await page.getByLabel("Font", { exact: true }).selectOption("Newsreader");
  await page.getByLabel("Letter size in stage units").fill("8");
  await bind("letter size", "size");
  await add("image");
  await giveFile("picture", svg("teal"));
  await page.getByLabel("Fit").selectOption("stretch");
  await bind("width", "size");
  await add("shape");
  await page.getByLabel("Form").selectOption("ring");
  await bind("gap", "size");
  await add("grating");
  await page.getByLabel("Envelope").selectOption("circle");
  await page.getByLabel("Drift in cycles per second").fill("2");
  await bind("width", "size");
  await add("array");
  await page.getByLabel("Arranged").selectOption("scattered");
  await bind("number of elements", "size");
  const { played, problems } = await play(code);
  const text = await item(played, "text", code);
  await expect.poll(() => text.innerText()).toMatch(/^شاطئ (gull|ferry)/);
  const sizes = await text.evaluate((element) => {
    const unit = Math.min(innerWidth, innerHeight) / 100;
    const style = getComputedStyle(element);
    return {
      letters: parseFloat(style.fontSize) / unit,
      family: style.fontFamily,
      dir: getComputedStyle(element.firstElementChild as Element).direction,
    };
  });
  expect(sizes.letters).toBeCloseTo(12, 1);
  expect(sizes).toMatchObject({ family: expect.stringContaining("Newsreader") as string, dir: "rtl" });
  expect(
    await (await item(played, "image", code)).locator("img").evaluate((img: HTMLImageElement) => img.naturalWidth),
  ).toBeGreaterThan(0);
  await expect.poll(async () => (await item(played, "shape", code)).locator("path").count()).toBe(1);
  const strip = (await item(played, "grating", code)).locator("canvas");
  const at = () => strip.evaluate((canvas) => canvas.getBoundingClientRect().left);
  const before = await at();
  await expect.poll(at).not.toBe(before);
  await expect.poll(async () => (await item(played, "array", code)).locator("[data-element]").count()).toBe(12);
  const drawn = await (await item(played, "array", code)).locator("[data-element]").evaluateAll((elements) =>
    elements.map((element) => {
      const unit = Math.min(innerWidth, innerHeight) / 100;
      const box = element.getBoundingClientRect();
      return [(box.left + box.width / 2 - innerWidth / 2) / unit, (innerHeight / 2 - box.top - box.height / 2) / unit];
    }),
  );
  await played.keyboard.press("f");
  await scene(played, "target", 1);
  await played.keyboard.press("j");
  await recorded(code, 2);
  const [first] = await records(code);
  const places = (first?.["target_array_places"] ?? "")
    .split("; ")
    .map((each) => each.replace("*", "").split(" ").map(Number));
  expect(places).toHaveLength(12);
  places.forEach(([x, y], index) => {
    expect(x).toBeCloseTo(drawn[index]![0]!, 0);
    expect(y).toBeCloseTo(drawn[index]![1]!, 0);
  });
  expect((first?.["target_array_places"]?.match(/\*/g) ?? []).length).toBe(1);
  expect(problems).toEqual([]);
});

it("an item comes on and goes at its offsets, in frames, and that is recorded", async () => {
  const code = await make("Offsets");
  await page.getByRole("button", { name: "word", exact: true }).click();
  await page.getByRole("button", { name: "Change when it appears" }).click();
  await page.getByLabel("Appears, in milliseconds after its scene").fill("300");
  await page.getByRole("button", { name: "Change when it goes" }).click();
  await page.getByLabel("Goes, in milliseconds after its scene").fill("700");
  await context.addInitScript(watchItems);
  const { played } = await play(code);
  const id = await itemId("word", code);
  await expect
    .poll(() => played.evaluate((item) => (window as unknown as Watched).itemStates[item] ?? [], id))
    .toEqual(["waiting", "seen", "waiting"]);
  const [onset, came, went] = await played.evaluate((item) => (window as unknown as Watched).itemTimes[item] ?? [], id);
  await played.keyboard.press("f");
  await scene(played, "target", 1);
  await played.keyboard.press("f");
  await recorded(code, 2);
  const [first] = await records(code);
  const from = Number(first?.["target_onset_ms"]);
  const [began, ended] = ["began", "ended"].map((what) => Number(first?.[`target_word_${what}_ms`]) - from);
  // Never before its time; and the file has the times that the page saw, also where a busy machine was late.
  expect(began).toBeGreaterThan(300 - 17.5);
  expect(ended).toBeGreaterThan(700 - 17.5);
  for (const [written, seen] of [
    [began!, came!],
    [ended!, went!],
  ] as const) {
    expect(written).toBeGreaterThan(seen[0] - onset![1] - 1);
    expect(written).toBeLessThan(seen[1] - onset![0] + 1);
  }
  // The second trial was answered before the item came.
  expect((await records(code))[1]?.["target_word_began_ms"]).toBe("");
});

it("sounds and a video play, a scene lasts until they end, and when they began and ended is recorded", async () => {
  const code = await newStudyInCompose(page, server.address, "Heard things");
  await columnNamed("loud", ["40", "60"]);
  await page.getByLabel("Holds").selectOption("number");
  await page.locator('[data-scene-button="fixation"]').dblclick();
  await add("sound");
  await page.getByLabel("Plays").selectOption("file");
  await giveFile("sound", wav());
  await bind("volume", "loud");
  await add("sound");
  await page.getByLabel("Length in milliseconds").fill("300");
  await add("video");
  await giveFile("video", await webm(page));
  await bind("volume", "loud");
  await page.getByRole("button", { name: "Back to scene fixation" }).click();
  await page.getByLabel("Lasts").selectOption("media-end");
  const { played, problems } = await play(code);
  await played.keyboard.press("f");
  await scene(played, "target", 1);
  await played.keyboard.press("f");
  await recorded(code, 2);
  for (const row of await records(code)) {
    const onset = Number(row["fixation_onset_ms"]);
    const lasted = Number(row["fixation_lasted_ms"]);
    expect(lasted).toBeGreaterThan(280);
    for (const name of ["sound", "sound_2", "video"]) {
      const [began, ended] = ["began", "ended"].map((what) => Number(row[`fixation_${name}_${what}_ms`]));
      expect(began).toBeGreaterThanOrEqual(onset - 20);
      expect(ended).toBeGreaterThan(began!);
      expect(ended! - onset).toBeLessThanOrEqual(lasted + 20);
    }
    expect(Number(row["fixation_sound_ended_ms"]) - Number(row["fixation_sound_began_ms"])).toBeGreaterThan(200);
  }
  expect(problems).toEqual([]);
});

describe("answers are given", () => {
  const finish = async (code: string, played: Page, again: () => Promise<void>) => {
    await scene(played, "target", 1);
    await again();
    await recorded(code, 2);
    return records(code);
  };

  it("with buttons, by mouse and by keyboard, each standing for a value", async () => {
    const code = await make("Buttons");
    await add("button");
    await page.getByRole("textbox", { name: "Label of the button" }).fill("Near");
    await page.getByLabel("x", { exact: true }).fill("-20");
    await page.getByLabel("y", { exact: true }).fill("-30");
    await add("button");
    await bind("label of the button", "word");
    await page.getByLabel("x", { exact: true }).fill("20");
    await page.getByLabel("y", { exact: true }).fill("-30");
    await answerBy("Pointing at items, buttons or regions");
    await page
      .getByRole("button", { name: /stands for its name: change/ })
      .first()
      .click();
    await page.getByLabel("button stands for").fill("n");
    await page.getByRole("button", { name: "right answer is taken from key: change" }).click();
    await page.getByRole("menuitem", { name: "Use a constant" }).click();
    await page.getByRole("textbox", { name: "Right answer" }).fill("n");
    const { played } = await play(code);
    await (await item(played, "button", code)).click();
    const rows = await finish(code, played, async () => {
      await played.keyboard.press("Tab");
      await played.keyboard.press("Tab");
      await played.keyboard.press("Enter");
    });
    expect(rows.map((row) => [row["answer"], row["is_right"]])).toEqual([
      ["n", "yes"],
      ["button 2", "no"],
    ]);
    expect(Number(rows[0]?.["answer_x"])).toBeCloseTo(-20, -1);
    expect(Number(rows[0]?.["rt_ms"])).toBeGreaterThan(20);
  });

  it("by pointing at the target of an array, and at a region", async () => {
    const code = await make("Pointing");
    await page.getByRole("button", { name: "word", exact: true }).click();
    await page.getByRole("button", { name: "Remove item" }).click();
    await add("array");
    await answerBy("Pointing at items, buttons or regions");
    for (const what of [/^array/, "A region of the stage"]) {
      await page.getByRole("button", { name: "Add an item or region" }).click();
      await page.getByRole("menuitem", { name: what }).click();
    }
    await page.getByRole("button", { name: "No right answer" }).click();
    await page.getByLabel("region: x").fill("-70");
    await page.getByLabel("region: w").fill("10");
    const { played } = await play(code);
    const boats = await item(played, "array", code);
    await boats.locator('[data-element="target"]').click();
    const rows = await finish(code, played, async () => {
      const size = played.viewportSize() ?? { width: 1280, height: 800 };
      const unit = Math.min(size.width, size.height) / 100;
      await played.mouse.click(size.width / 2, size.height / 2);
      await played.mouse.click(size.width / 2 - 70 * unit, size.height / 2);
    });
    expect(rows.map(({ answer }) => answer)).toEqual(["target", "region"]);
  });

  it("by finger and by pen, at the moment of the touch; a menu never comes over the trial", async () => {
    const code = await make("Touching");
    await answerBy("Pointing at items, buttons or regions");
    await page.getByRole("button", { name: "Add an item or region" }).click();
    await page.getByRole("menuitem", { name: "A region of the stage" }).click();
    await page.getByRole("button", { name: "No right answer" }).click();
    const { played } = await play(code);
    const size = played.viewportSize() ?? { width: 1280, height: 800 };
    const unit = Math.min(size.width, size.height) / 100;
    const at = { x: size.width / 2 + 3 * unit, y: size.height / 2 - 2 * unit };
    await played.evaluate(() => {
      const seen = ((window as unknown as { seen: object[] }).seen = []) as object[];
      for (const what of ["contextmenu", "pointerdown"])
        addEventListener(what, (event) =>
          seen.push({ what, by: (event as PointerEvent).pointerType, isKept: event.defaultPrevented }),
        );
    });
    await played.mouse.click(20, 20, { button: "right" });
    const browser = await context.newCDPSession(played);
    await browser.send("Input.dispatchTouchEvent", { type: "touchStart", touchPoints: [at] });
    await browser.send("Input.dispatchTouchEvent", { type: "touchEnd", touchPoints: [] });
    const pen = { ...at, button: "left", clickCount: 1, pointerType: "pen" } as const;
    const rows = await finish(code, played, async () => {
      await browser.send("Input.dispatchMouseEvent", { type: "mousePressed", ...pen });
      await browser.send("Input.dispatchMouseEvent", { type: "mouseReleased", ...pen });
    });
    expect(rows.map((row) => [row.answer, Number(row["answer_x"]), Number(row["answer_y"])])).toEqual([
      ["region", expect.closeTo(3, 0), expect.closeTo(2, 0)],
      ["region", expect.closeTo(3, 0), expect.closeTo(2, 0)],
    ]);
    const seen = await played.evaluate(() => (window as unknown as { seen: { what: string }[] }).seen);
    expect(seen.filter(({ what }) => what === "contextmenu")).toEqual([
      expect.objectContaining({ isKept: true }) as unknown,
    ]);
    expect(seen.filter(({ what }) => what === "pointerdown")).toMatchObject([
      { by: "mouse" },
      { by: "touch" },
      { by: "pen" },
    ]);
  });

  it("by typing, taken with Enter, compared as a number with a tolerance", async () => {
    const code = await make("Typing");
    await add("entry");
    await page.getByLabel("Takes", { exact: true }).selectOption("number");
    await bind("letter size", "word");
    await page.getByRole("button", { name: "letter size is taken from word: change" }).click();
    await page.getByRole("menuitem", { name: "Use a constant" }).click();
    await answerBy("Text typed into an entry");
    await page.getByRole("button", { name: "right answer is taken from key: change" }).click();
    await page.getByRole("menuitem", { name: "Use a constant" }).click();
    await page.getByRole("textbox", { name: "Right answer" }).fill("42");
    await page.getByLabel("Compared").selectOption("number");
    await page.getByLabel("Off by up to").fill("0.5");
    const { played } = await play(code);
    await played.keyboard.type("many");
    await played.keyboard.press("Enter");
    await still(played);
    expect(await played.locator("#stage").getAttribute("data-scene")).toBe("target");
    await played.keyboard.press("Control+a");
    await played.keyboard.type("41,6");
    await played.keyboard.press("Enter");
    const rows = await finish(code, played, async () => {
      await played.keyboard.type("40");
      await played.keyboard.press("Enter");
    });
    expect(rows.map((row) => [row["answer"], row["is_right"]])).toEqual([
      ["41,6", "yes"],
      ["40", "no"],
    ]);
  });

  it("with a slider that shows no mark before the first touch, taken with a button", async () => {
    const code = await make("Judging");
    await add("slider");
    await page.getByLabel("y", { exact: true }).fill("-20");
    await bind("left end", "word");
    await add("button");
    await page.getByRole("textbox", { name: "Label of the button" }).fill("Go on");
    await page.getByLabel("y", { exact: true }).fill("-40");
    await answerBy("A slider");
    await page.getByLabel("Taken when").selectOption({ label: "with button in target" });
    await page.getByRole("button", { name: "No right answer" }).click();
    const { played } = await play(code);
    const range = (await item(played, "slider", code)).locator("input");
    expect(await range.evaluate((input) => input.classList.contains("untouched"))).toBe(true);
    const button = await item(played, "button", code);
    // Nothing is taken before the slider was touched.
    await button.click();
    await still(played);
    const box = await range.boundingBox();
    await played.mouse.click((box?.x ?? 0) + (box?.width ?? 0) * 0.75, (box?.y ?? 0) + (box?.height ?? 0) / 2);
    expect(await range.evaluate((input) => input.classList.contains("untouched"))).toBe(false);
    await button.click();
    const rows = await finish(code, played, async () => {
      await (await item(played, "slider", code)).locator("input").press("ArrowRight");
      await (await item(played, "button", code)).click();
    });
    expect(Number(rows[0]?.["answer"])).toBeGreaterThan(70);
    expect(Number(rows[0]?.["answer"])).toBeLessThan(80);
    expect(rows[1]?.["answer"]).toBe("51");
  });

  it("by a web page of its own, in a frame that can reach nothing of the study", async () => {
    const code = await make("A page of its own");
    await add("web page");
    await page.getByLabel("Page", { exact: true }).selectOption("file");
    await giveFile("page", {
      name: "dial.html",
      mimeType: "text/html",
      buffer: Buffer.from(
        `<!doctype html><title>Dial</title><button style="width:100%;height:100%" onclick="let reach='nothing';try{reach=String(parent.document.title)}catch{};parent.postMessage({lapwing:'turned '+reach},'*')">Turn</button>`,
      ),
    });
    await bind("width", "word");
    await page.getByRole("button", { name: "width is taken from word: change" }).click();
    await page.getByRole("menuitem", { name: "Use a constant" }).click();
    await page.getByLabel("width", { exact: true }).fill("40");
    await answerBy("A value that a web page sends");
    const { played, problems } = await play(code);
    const press = () => played.frameLocator("#stage iframe >> visible=true").getByRole("button").click();
    await press();
    const rows = await finish(code, played, press);
    expect(rows.map((row) => [row["answer"], row["target_web_page_sent"]])).toEqual([
      ["turned nothing", "turned nothing"],
      ["turned nothing", "turned nothing"],
    ]);
    expect(problems).toEqual([]);
  });

  it("twice in a trial, each with its own time; too early ones are recorded; feedback follows", async () => {
    const code = await newStudyInCompose(page, server.address, "Choice and confidence");
    await page.locator('[data-scene-button="target"]').click();
    // A busy machine may take its time to look at it.
    await page.getByLabel("Longest wait in milliseconds").fill("60000");
    await page.keyboard.press("Enter");
    await page.getByRole("button", { name: "Scene", exact: true }).click();
    await page.getByLabel("Name", { exact: true }).fill("sure");
    await page.getByLabel("Lasts").selectOption("until-answer");
    await page.getByRole("button", { name: "Add text", exact: true }).click();
    await page.getByRole("textbox", { name: "Text of text" }).click();
    await page.keyboard.press("Control+a");
    await page.keyboard.type("{{last.outcome}} in {{last.rt_ms}} ms ");
    await page.getByRole("button", { name: "Answer", exact: true }).click();
    await page.getByRole("menuitem", { name: "Another answer" }).click();
    // The first is given a name, since columns begin with it from now on.
    await expect.poll(() => page.getByLabel("Name of the first answer").inputValue()).toBe("choice");
    await page.getByRole("button", { name: "Add the second answer" }).click();
    await page.getByRole("textbox", { name: "Name" }).fill("sure");
    for (const key of ["F", "J"]) await page.getByRole("button", { name: `Do not allow ${key}` }).click();
    for (const key of ["1", "2"]) {
      await page.getByRole("button", { name: "Add a key by pressing it" }).click();
      await page.keyboard.press(key);
    }
    await saved(page);
    await page.goto(`${server.address}/studies/${code}/rehearse`);
    const [played] = await Promise.all([
      context.waitForEvent("page"),
      page.getByRole("button", { name: "Play in a new tab" }).click(),
    ]);
    await played.getByRole("button", { name: "Continue" }).click();
    await scene(played, "fixation");
    await played.keyboard.press("j");
    for (const [trial, sure] of [
      [0, "1"],
      [1, "2"],
    ] as const) {
      await scene(played, "target", trial);
      await played.keyboard.press("f");
      await scene(played, "sure", trial);
      const told = await (await item(played, "text", code)).innerText();
      expect(told).toMatch(/^(right|wrong) in \d+ ms/);
      await played.keyboard.press(sure);
    }
    await recorded(code, 2);
    const rows = await records(code);
    expect(rows.map((row) => [row["choice_answer"], row["sure_answer"], row["sure_is_right"]])).toEqual([
      ["f", "1", ""],
      ["f", "2", ""],
    ]);
    expect(rows[0]?.["choice_early_answers"]).toBe("1");
    expect(Number(rows[0]?.["sure_rt_ms"])).toBeGreaterThan(10);
  });
});
