import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";
import { newPage } from "~/core/design/page";
import { newTextItem } from "~/core/items/text/text";
import { newCriterion } from "~/core/rules/criterion";
import type { Rule } from "~/core/rules/rule";
import { plainText } from "~/core/values/formatted-text";
import { launch, lookAround, newStudyInCompose, openWindow, saved, storedStudy } from "../support/browser";
import { scene } from "../support/participant";
import { startServer, type Running } from "../support/server";
import { newItem } from "~/core/items/item";
import type { Item } from "~/core/items/registry";
import { boats, cells, keys } from "../support/boats";
import { mediaOf, wav, webm } from "../support/media";
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

const addAside = (document: StudyDocument, id: string, name: string, says: string) => {
  document.parts[id] = { ...newPage((prefix) => prefix, name, plainText(says)), id };
  document.runningOrder.push({ kind: "part", part: id, aside: true });
};
const rule = (id: string, rest: Omit<Rule, "id" | "name">): Rule => ({ id, name: id, ...rest });
const builtIn = (name: string) => ({ from: { builtIn: name } });

async function begun(link: string): Promise<Page> {
  const { page } = await openWindow(browser);
  await page.goto(link);
  await press(page, "Start");
  await press(page, "Continue");
  return page;
}
const finished = (page: Page) => page.getByText("Your completion code").waitFor();
describe("practice until good enough", () => {
  it("is played again with other words before it, and the data say which attempt it was", async () => {
    const study = boats((block, document) => {
      addAside(document, "more", "Once more", "That was not enough yet: odd boats are F.");
      block.criterion = { ...newCriterion, rightShare: 0.75, trials: 4, attempts: 3, before: "more" };
    });
    const { code, link } = importReleased(server, study);
    const page = await begun(link);
    const done = await keys(page, "jjjj");
    await page.getByText("That was not enough yet").waitFor();
    // Reloaded here, it goes on with the page that came between.
    await page.reload();
    await press(page, "Continue where you left off");
    await page.getByText("That was not enough yet").waitFor();
    await press(page, "Continue");
    await keys(page, "fjfj", done);
    await press(page, "Finish");
    await finished(page);
    const { "trials.csv": trials, "events.csv": events } = await exportedFrom(server, browser, code);
    expect(cells(trials, "trial", "block_attempt", "trial_in_block", "is_right", "criterion")).toEqual([
      "1 1 1 no ",
      "2 1 2 yes ",
      "3 1 3 no ",
      "4 1 4 yes again",
      "5 2 1 yes ",
      "6 2 2 yes ",
      "7 2 3 yes ",
      "8 2 4 yes reached",
    ]);
    expect(events?.filter(({ event, part }) => event === "page-shown" && part === "Once more")).toHaveLength(1);
    await page.close();
  });
});

describe("rules", () => {
  it("give points and a bonus told at the end, show wrong trials again, and stand in the data", async () => {
    const study = boats((block, document) => {
      document.variables = [
        { id: "v", name: "bonus", type: "number", start: 0, from: { urlParameter: "start" } },
        { id: "prize", name: "prize", type: "number", start: null },
      ];
      block.rules = [
        rule("points", {
          when: { on: "answer", how: "right" },
          do: [
            { do: "set", what: { variable: "prize" }, to: { calculate: "random-pick", of: [2, 5] } },
            { do: "add", what: { variable: "v" }, to: { from: { variable: "prize" } } },
          ],
        }),
        rule("again", {
          when: { on: "trial-ends" },
          if: { left: builtIn("last.right"), is: "≠", right: true },
          do: [{ do: "repeat-trial", most: 2 }],
        }),
      ];
      const bye = document.parts["bye"];
      if (bye?.kind === "page")
        bye.flow = [
          {
            kind: "text",
            id: "t",
            text: [{ as: "paragraph", runs: [{ text: "Bonus: " }, { ref: { variable: "v" } }] }],
          },
        ];
    });
    const { code, link } = importReleased(server, study);
    const page = await begun(`${link}?start=100`);
    await keys(page, "fjjjf");
    const told = await page.getByText(/^Bonus: \d+$/).innerText();
    await press(page, "Finish");
    await finished(page);
    const {
      "trials.csv": trials,
      "events.csv": events,
      "sessions.csv": sessions,
    } = await exportedFrom(server, browser, code);
    expect(cells(trials, "trial", "boat", "is_right", "showing")).toEqual([
      "1 1 yes 1",
      "2 2 yes 1",
      "3 3 no 1",
      "4 4 yes 1",
      "5 3 yes 2",
    ]);
    const prizes = (trials ?? []).filter(({ is_right }) => is_right === "yes").map(({ prize }) => Number(prize));
    const sum = 100 + prizes.reduce((total, prize) => total + prize, 0);
    expect(told).toBe(`Bonus: ${sum}`);
    expect(sessions?.[0]).toMatchObject({ bonus: String(sum) });
    expect(trials?.map(({ bonus }) => Number(bonus)).at(-1)).toBe(sum);
    const fired = (events ?? []).filter(({ event }) => event === "rule");
    expect(fired.filter(({ name }) => name === "again").map(({ value }) => value)).toEqual([
      "show the trial again at the end of the block, 2 times at most",
    ]);
    expect(fired.filter(({ name }) => name === "points").map(({ value }) => value?.split(" = ")[0])).toEqual(
      Array.from({ length: 4 }, () => ["prize", "bonus"]).flat(),
    );
    await page.close();
  });

  it("answer keys that are no answers, pointing, time and the window, within the trial", async () => {
    const study = boats((block) => {
      const [, target] = block.scenes;
      const hint = {
        ...newTextItem((prefix) => prefix, "hint", "Look well"),
        id: "hint",
        at: { x: 0, y: 25 },
        when: { left: false, is: "=" as const, right: true },
      };
      target!.items.push(hint);
      block.scenes.push({
        id: "slow",
        name: "too slow",
        lasts: { kind: "ms", ms: 150 },
        items: [{ ...newTextItem((prefix) => prefix, "slow", "Too slow"), id: "slow-text" }],
        when: { left: false, is: "=", right: true },
      });
      block.rules = [
        rule("help", {
          when: { on: "key", key: "KeyH", act: "press" },
          do: [{ do: "item", item: "hint", property: "shown", to: true }],
        }),
        rule("moved", {
          when: { on: "pointer", act: "press", item: "n" },
          do: [{ do: "item", item: "hint", property: "text", to: "Pressed" }],
        }),
        rule("slow", {
          when: { on: "answer", how: "given" },
          if: { left: builtIn("last.rt_ms"), is: ">", right: 600 },
          do: [{ do: "go-to-scene", scene: "slow" }],
        }),
        rule("waited", {
          when: { on: "scene-begins", scene: "target", afterMs: 700 },
          do: [{ do: "event", name: "waited", value: builtIn("block.trials_done") }],
        }),
        rule("stop", {
          when: { on: "key", key: "KeyQ", act: "release" },
          do: [{ do: "end-block" }],
        }),
      ];
    });
    const { code, link } = importReleased(server, study);
    const page = await begun(link);
    const first = await scene(page, "target");
    const hint = page.locator('#stage [data-item="hint"]');
    expect(await hint.isVisible()).toBe(false);
    await page.keyboard.press("h");
    await hint.waitFor({ state: "visible" });
    await page.locator('#stage [data-item="n"]').click({ force: true });
    await page.locator('#stage [data-item="hint"]', { hasText: "Pressed" }).waitFor();
    // Longer than the limit of the rule, and than what it waits for: the page tells the time itself.
    await page.evaluate(() => new Promise((resolve) => setTimeout(resolve, 900)));
    await page.keyboard.press("f");
    await scene(page, "too slow", first - 1);
    const second = await scene(page, "target", first);
    expect(await hint.isVisible()).toBe(false);
    await page.keyboard.press("q");
    await press(page, "Finish");
    await finished(page);
    expect(second).toBe(2);
    const { "trials.csv": trials, "events.csv": events } = await exportedFrom(server, browser, code);
    expect(trials).toHaveLength(2);
    const fired = (events ?? []).filter(({ event }) => event === "rule");
    expect(cells(fired, "trial", "name")).toEqual(["1 help", "1 moved", "1 waited", "1 slow", "2 stop"]);
    await page.close();
  });

  it("hear that a video begins and has ended, and that full screen was left", async () => {
    const maker = await openWindow(browser);
    await maker.page.goto(`${server.address}/sign-in`);
    const film = mediaOf("film", await webm(maker.page), { width: 64, height: 48, ms: 640 });
    await maker.context.close();
    const said = (name: string): Rule["do"] => [{ do: "event", name }];
    const study = boats((block, document) => {
      document.settings.fullScreen = true;
      block.table.rows = block.table.rows.slice(0, 1);
      block.scenes[1]!.items.push({
        ...(newItem((prefix) => prefix, "video", "film") as object),
        ...{ id: "v", file: "film", volume: 0 },
      } as Item);
      block.rules = [
        rule("runs", { when: { on: "media", what: "begins", item: "v" }, do: said("runs") }),
        rule("ran", {
          when: { on: "media", what: "ends", item: "v" },
          do: [{ do: "item", item: "n", property: "text", to: "It is over" }],
        }),
        rule("smaller", { when: { on: "window", what: "full-screen-left" }, do: said("smaller") }),
      ];
    });
    const { code, link } = importReleased(server, study, [film]);
    const page = await begun(link);
    await scene(page, "target");
    await page.locator("#stage").getByText("It is over").waitFor();
    expect(await page.evaluate(() => document.fullscreenElement !== null)).toBe(true);
    await page.evaluate(() => document.exitFullscreen());
    await page.waitForFunction(() => document.fullscreenElement === null);
    await page.keyboard.press("f");
    await press(page, "Finish");
    await finished(page);
    const { "events.csv": events } = await exportedFrom(server, browser, code);
    const fired = events?.filter(({ event }) => event === "rule") ?? [];
    expect(cells(fired, "name")).toEqual(["runs", "ran", "smaller"]);
    await page.close();
  });

  it("answer held keys, scrolling, entering and leaving, sounds, and a page that sends; do things to sounds, late and repeatedly", async () => {
    const bell = mediaOf("bell", wav(), { ms: 250 });
    const dial = mediaOf("dial", {
      name: "dial.html",
      mimeType: "text/html",
      buffer: Buffer.from(
        `<!doctype html><title>Dial</title><button style="width:100%;height:100%" onclick="parent.postMessage({lapwing:'turned'},'*')">Turn</button>`,
      ),
    });
    const said = (name: string): Rule["do"] => [{ do: "event", name }];
    const study = boats((block) => {
      const [, target] = block.scenes;
      const made = (kind: "sound" | "web", name: string, more: object): Item =>
        ({ ...newItem((prefix) => prefix, kind, name), id: name, ...more }) as Item;
      target!.items.push(
        made("sound", "tone", { source: { from: "tone", hertz: 440, ms: 250, rampMs: 5 } }),
        made("sound", "hum", { source: { from: "noise", ms: 60_000, rampMs: 5 }, volume: 5 }),
        made("web", "page", { page: { from: "file", file: "dial" }, at: { x: 40, y: -30 }, size: { w: 20, h: 20 } }),
      );
      block.table.rows = block.table.rows.slice(0, 2);
      block.rules = [
        rule("held", { when: { on: "key", key: "KeyH", act: "hold", heldMs: 300 }, do: said("held") }),
        rule("pressed", { when: { on: "key", key: "KeyH", act: "press" }, do: said("pressed") }),
        rule("scrolled", {
          when: { on: "scroll" },
          if: { left: builtIn("block.trials_done"), is: "=", right: 0 },
          do: [{ do: "item", item: "n", property: "turned", to: 90 }],
        }),
        rule("entered", { when: { on: "pointer", act: "enter", item: "n" }, do: said("entered") }),
        rule("left", { when: { on: "pointer", act: "leave", item: "n" }, do: said("left") }),
        rule("rings", { when: { on: "media", what: "begins", item: "tone" }, do: said("rings") }),
        rule("rang", {
          when: { on: "media", what: "ends", item: "tone" },
          do: [
            { do: "sound", file: "bell", volume: 40 },
            { do: "media", item: "hum", act: "volume", volume: 1 },
            { do: "media", item: "hum", act: "pause" },
            { do: "media", item: "hum", act: "play" },
            { do: "media", item: "hum", act: "stop" },
            { do: "marker", marker: "rang" },
          ],
        }),
        rule("told", { when: { on: "message", item: "page", says: "turned" }, do: said("told") }),
        rule("every", {
          when: { on: "trial-begins" },
          do: [{ do: "event", name: "again", afterMs: 20, repeat: { everyMs: 30, times: 3 } }],
        }),
      ];
    });
    const { code, link } = importReleased(server, study, [bell, dial]);
    const page = await begun(link);
    const done = await scene(page, "target");
    await page.locator('#stage[data-marker="rang"]').waitFor();
    const boat = page.locator('#stage .scene.shown [data-item="n"]');
    await boat.hover({ force: true });
    await page.mouse.wheel(0, 40);
    await expect.poll(() => boat.evaluate((element) => element.style.cssText)).toContain("90deg");
    await page.frameLocator("#stage iframe >> visible=true").getByRole("button").click();
    // The keys are the page's own again.
    await page.mouse.click(5, 5);
    await page.keyboard.down("h");
    await page.evaluate(() => new Promise((resolve) => setTimeout(resolve, 450)));
    await page.keyboard.up("h");
    await page.keyboard.press("f");
    await scene(page, "target", done);
    // Held for a moment only.
    await page.keyboard.press("h");
    await page.keyboard.press("j");
    await press(page, "Finish");
    await finished(page);
    const { "events.csv": events } = await exportedFrom(server, browser, code);
    const fired = (events ?? []).filter(({ event }) => event === "rule");
    const of = (trial: string, name?: string) =>
      fired.filter((each) => each["trial"] === trial && (name === undefined || each["name"] === name));
    const names = (trial: string) => [...new Set(of(trial).map(({ name }) => name))];
    expect(names("1").toSorted()).toEqual(
      ["entered", "every", "held", "left", "pressed", "rang", "rings", "scrolled", "told"].toSorted(),
    );
    expect(names("2")).toContain("pressed");
    expect(names("2")).not.toContain("held");
    expect(of("1", "every")).toHaveLength(3);
    expect(of("1", "rang").map(({ value }) => value)).toEqual([
      "play “bell.wav”",
      "set the volume of “hum” to 1 % (1)",
      "pause “hum”",
      "play “hum”",
      "stop “hum”",
      "send the marker “rang”",
    ]);
    await page.close();
  });

  it("go on from a page by themselves, end the session in their own words, and survive a reload", async () => {
    const study = boats((_, document) => {
      const hello = document.parts["hello"];
      if (hello?.kind === "page")
        hello.rules = [
          rule("on", {
            when: { on: "part-begins", afterMs: 400 },
            do: [{ do: "go-to-part", part: "boats" }],
          }),
        ];
      document.rules = [
        rule("enough", {
          when: { on: "answer", how: "wrong" },
          do: [{ do: "end-session", as: "screened-out", text: plainText("This study needs sharper eyes.") }],
        }),
      ];
    });
    const { code, link } = importReleased(server, study);
    const { page } = await openWindow(browser);
    await page.goto(link);
    await press(page, "Start");
    // Nobody presses Continue.
    const first = await keys(page, "f");
    await scene(page, "target", first);
    await page.reload();
    await press(page, "Continue where you left off");
    await keys(page, "f", first);
    await page.getByText("This study needs sharper eyes.").waitFor();
    const { "sessions.csv": sessions, "trials.csv": trials } = await exportedFrom(server, browser, code);
    expect(sessions?.[0]).toMatchObject({ state: "screened-out" });
    expect(cells(trials, "trial", "is_right")).toEqual(["1 yes", "2 no"]);
    await page.close();
  });
});

describe("making rules", () => {
  it("takes a few clicks for a sound when wrong, and every word can be chosen", async () => {
    const { page, context, complaints } = await openWindow(browser);
    await lookAround(page, server.address);
    const code = await newStudyInCompose(page, server.address, "Lights of the pier");
    await page.getByRole("tab", { name: /^Rules/ }).click();
    await page.getByRole("button", { name: "Add a rule" }).click();
    await page.getByRole("menuitem", { name: "A point for each right answer, one less for each wrong one" }).click();
    await page.getByText("When an answer is right, add").waitFor();
    // Another trigger from the sentence itself.
    await page.getByRole("button", { name: "an answer is wrong" }).click();
    await page.getByRole("menuitem", { name: "no answer came" }).click();
    // A condition and an action more, in the margin.
    const margin = page.getByRole("complementary", { name: "Settings of what is selected" });
    await margin.getByRole("button", { name: "condition", exact: true }).click();
    await margin.getByRole("button", { name: "another action" }).click();
    await page.getByRole("menuitem", { name: "end the block" }).click();
    await saved(page);
    const study = await storedStudy(page, server.address, code);
    const block = Object.values(study.parts).find((part) => part.kind === "block") as Block;
    expect(block.rules[1]).toMatchObject({
      when: { on: "answer", how: "none" },
      if: { left: { from: { builtIn: "last.right" } }, is: "=", right: true },
      do: [{ do: "add" }, { do: "end-block" }],
    });
    // The variable is renamed where it stands, and its sentence follows.
    await page.goto(`${server.address}/studies/${code}/plan`);
    await page.getByRole("button", { name: /^points/ }).click();
    await page.getByLabel("Name", { exact: true }).fill("shells");
    await page.getByText("rule 1 of block").waitFor();
    await page.getByRole("button", { name: /^Remove the variable/ }).click();
    await page.getByText(/It is used in rule 1 of block “Block 1”; rule 2/).waitFor();
    await page.getByRole("button", { name: "Keep it" }).click();
    await page.getByRole("link", { name: "Compose" }).click();
    await page.getByRole("tab", { name: /^Rules/ }).click();
    await page.getByText("When an answer is right, add 1 to shells").waitFor();
    // A text of its own, written with the rule.
    await page.getByRole("button", { name: /^Settings of rule 1/ }).click();
    await page.getByRole("button", { name: "another action" }).click();
    await page.getByRole("menuitem", { name: "show a page and come back" }).click();
    await page.getByLabel("Page", { exact: true }).selectOption("new");
    await page.getByLabel("Text of the page A text").fill("The tide has turned.");
    await saved(page);
    await page
      .getByText(/show the page “?A text”? and come back/)
      .first()
      .waitFor();
    // All values, with what they mean.
    await page.getByRole("button", { name: "Values" }).click();
    await page.getByRole("dialog").getByText("block.wrong_in_a_row").waitFor();
    await page.keyboard.press("Escape");
    // Found by search.
    await page.keyboard.press("Control+k");
    await page.getByRole("combobox").fill("no answer came");
    await page.getByRole("option", { name: /no answer came/ }).waitFor();
    await page.keyboard.press("Escape");
    expect(complaints).toEqual([]);
    await context.close();
  });

  it("shows what rules did in a trial that is tried out, and over 200 simulated participants", async () => {
    const { page, context } = await openWindow(browser);
    await lookAround(page, server.address);
    await page.goto(`${server.address}/studies/grey-ferry/compose`);
    await page.getByRole("button", { name: /^Part:/ }).click();
    await page.getByRole("menuitem", { name: "Practice" }).click();
    await page.getByRole("button", { name: "Play trial" }).click();
    const dialog = page.getByRole("dialog", { name: "The trial being played" });
    await dialog.locator('[data-scene="boat"]').waitFor();
    await page.keyboard.press("j");
    await dialog.locator("[data-fired] li").first().waitFor();
    await expect.poll(() => dialog.locator("[data-fired]").innerText()).toMatch(/^rule [12]: points = -?1$/);
    await page.keyboard.press("Escape");
    await page.goto(`${server.address}/studies/grey-ferry/plan`);
    await page.getByRole("button", { name: "200 at once" }).click();
    const told = page.locator("[data-reactions]");
    await told.waitFor({ timeout: 60_000 });
    await expect.poll(() => told.innerText()).toMatch(/“Practice” was played once by \d{1,3}/);
    await expect
      .poll(() => told.innerText())
      .toMatch(/Rule 1 of block “Practice” did something in 200 of 200 sessions/);
    await context.close();
  });

  it("are seen at work in Rehearse: what values are now, what each rule did, and why it did not", async () => {
    const { page, context } = await openWindow(browser);
    await lookAround(page, server.address);
    await page.goto(`${server.address}/studies/grey-ferry/rehearse`);
    const [played] = await Promise.all([
      context.waitForEvent("page"),
      page.getByRole("button", { name: "Play in a new tab" }).click(),
    ]);
    await press(played, "Begin");
    await press(played, "Continue");
    await played.locator('#stage[data-scene="boat"]').waitFor();
    await page.getByRole("tab", { name: "Values" }).click();
    // A boat is answered in time sooner or later, however busy the machine is.
    const added = page.getByText(/add (1|-1|−1) to points/);
    await expect
      .poll(async () => {
        await played.keyboard.press("f");
        return added.count();
      })
      .toBeGreaterThan(0);
    await page.getByText("block.wrong_in_a_row").waitFor();
    await page
      .getByText(/did nothing: wrong answers in a row was [0-2], not 3/)
      .first()
      .waitFor();
    await context.close();
  });

  it("writes practice until good enough as a sentence", async () => {
    const { page, context } = await openWindow(browser);
    await lookAround(page, server.address);
    const code = await newStudyInCompose(page, server.address, "Lamps");
    await page.getByRole("tab", { name: /^Until good enough/ }).click();
    await page.getByRole("button", { name: "Repeat the block until good enough" }).click();
    await page.getByLabel("Share right, in per cent").fill("90");
    await page.getByLabel("How many trials").fill("2");
    for (const [what, says] of [
      ["How many more attempts", "three times"],
      ["The page before another attempt", "a new page is shown …"],
      ["What follows then", "the session ends kindly"],
    ] as const) {
      await page.getByRole("button", { name: new RegExp(`^${what}:`) }).click();
      await page.getByRole("menuitem", { name: says, exact: true }).click();
    }
    await saved(page);
    const study = await storedStudy(page, server.address, code);
    const block = Object.values(study.parts).find((part) => part.kind === "block") as Block;
    const aside = study.runningOrder.find((node) => node.kind === "part" && node.aside);
    expect(block.criterion).toMatchObject({ rightShare: 0.9, trials: 2, attempts: 4, otherwise: "end" });
    expect(aside).toMatchObject({ part: block.criterion?.before });
    await page.getByText("90 % of 2 means 2 right.").waitFor();
    await page.getByText(/Somebody who guesses/).waitFor();
    await context.close();
  });
});

describe("a script", () => {
  const script = (id: string, code: string, limitMs = 9000): Rule =>
    rule(id, {
      when: { on: "answer", how: "given" },
      if: { left: builtIn("block.trials_done"), is: "=", right: Number(id.slice(-1)) },
      do: [
        {
          do: "script",
          code,
          gets: [{ name: "time", value: builtIn("last.rt_ms") }],
          gives: [
            { name: "result", variable: `v${id.slice(-1)}` },
            { name: "said", variable: "said" },
          ],
          limitMs,
        },
      ],
    });
  it("gives values back that stand in the data; a slow one, one that throws and one that reaches out stop nothing", async () => {
    const reaching = `
      const tried = {};
      const kinds = ["document", "window", "parent", "localStorage"];
      const reached = kinds.filter((name) => { try { return self[name] !== undefined && self[name] !== null; } catch { return false; } });
      return fetch("/healthz").then(() => "fetched", () => "refused").then(async (net) => {
        let imported = "imported";
        try { importScripts(values.nothing ?? "https://example.org/a.js"); } catch { imported = "refused"; }
        let socket = "open";
        try { await new Promise((done, fail) => { const s = new WebSocket("ws://" + "localhost"); s.onopen = done; s.onerror = fail; }); } catch { socket = "refused"; }
        return { said: [net, imported, socket, reached.join("+")].join(" ") };
      });`;
    const study = boats((block, document) => {
      block.order.passes = 2;
      document.variables = [
        ...[1, 2, 3, 4].map((each) => ({ id: `v${each}`, name: `result_${each}`, type: "number" as const, start: -1 })),
        { id: "said", name: "said_last", type: "text", start: "" },
      ];
      block.rules = [
        script("script-1", "return { result: values.time > 0 ? values.time * 2 : 0, said: 'sum' };"),
        script("script-2", "for (;;) {}", 200),
        script("script-3", "throw new RangeError('no such shore');"),
        script("script-4", reaching),
        rule("reached", {
          when: { on: "variable", variable: "said" },
          if: { left: { from: { variable: "said" } }, is: "≠", right: "sum" },
          do: [{ do: "marker", marker: "reached" }],
        }),
      ];
    });
    const { code, link } = importReleased(server, study);
    const page = await begun(link);
    const problems: string[] = [];
    page.on("pageerror", (error) => problems.push(error.message));
    await keys(page, "fjfjfj");
    // Reaching out takes longer than a trial: the next stays until all has come.
    await page.locator('#stage[data-trial="7"][data-marker="reached"]').waitFor();
    await keys(page, "fj", 6);
    await press(page, "Finish");
    await finished(page);
    const { "trials.csv": trials, "events.csv": events } = await exportedFrom(server, browser, code);
    const last = trials?.at(-1);
    // Exported times have a tenth of a millisecond.
    expect(Math.abs(Number(last?.["result_1"]) - 2 * Number(trials?.[0]?.["rt_ms"]))).toBeLessThan(0.11);
    expect([last?.["result_2"], last?.["result_3"], last?.["result_4"]]).toEqual(["-1", "-1", "-1"]);
    const given = events?.filter(({ event }) => event === "script-gave").map(({ value }) => value);
    expect(given).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/^result = .*; said = sum$/),
        "It took longer than 200 ms.",
        "RangeError: no such shore",
        "said = refused refused refused ",
      ]),
    );
    expect(problems).toEqual([]);
    await page.close();
  });
});
