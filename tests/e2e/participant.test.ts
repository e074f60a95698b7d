import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import AxeBuilder from "@axe-core/playwright";
import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Block } from "~/core/design/block";
import type { Participation } from "~/core/design/participation";
import type { StudyDocument } from "~/core/design/document";
import { wordingFor } from "~/core/wording/wording";
import { launch, lookAround, openWindow } from "../support/browser";
import { scene } from "../support/participant";
import {
  answer,
  begin,
  cliOf,
  exportedFrom,
  press,
  releaseShortStudy,
  startWaders,
  type Row,
} from "../support/short-study";
import { startServer, type Running } from "../support/server";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

const released = (
  participation: Partial<Participation>,
  change?: (document: StudyDocument, block: Block) => void,
): { code: string; link: string } => releaseShortStudy(server, participation, change);
const cli = (...args: string[]) => cliOf(server, ...args);

const oneToEight = ["1", "2", "3", "4", "5", "6", "7", "8"];
const exported = (code: string): Promise<Record<string, Row[]>> => exportedFrom(server, browser, code);
/** The window loses the focus and gets it back, as when another one comes in front. */
const lookAway = (page: Page) =>
  page.evaluate(() => {
    dispatchEvent(new Event("blur"));
    dispatchEvent(new Event("focus"));
  });

describe("the entry", () => {
  it("shows the study's own words from right to left in Arabic, asks for a code, and is accessible at twice the size", async () => {
    const words = wordingFor("ar");
    const { code, link } = released(
      { welcome: "أهلًا بك.\nثماني قوارب.", contact: "harbour@lapwing.example", ownCode: "must" },
      (document) => void (document.language = "ar"),
    );
    const { page, complaints, context } = await openWindow(browser, { viewport: { width: 640, height: 400 } });
    await page.goto(link);
    expect(
      await page.evaluate(() => [document.documentElement.lang, getComputedStyle(document.body).direction]),
    ).toEqual(["ar", "rtl"]);
    await page.getByText("ثماني قوارب.").waitFor();
    await page.getByText("harbour@lapwing.example").waitFor();
    const { violations } = await new AxeBuilder({ page }).analyze();
    expect(violations.filter(({ impact }) => impact === "serious" || impact === "critical")).toEqual([]);
    await press(page, words.start);
    await page.getByRole("alert").getByText(words.codeMissing).waitFor();
    await page.getByLabel(words.yourCode).fill("tern-7");
    await press(page, words.start);
    await press(page, "Continue");
    await answer(page, 0, 8);
    await press(page, "Finish");
    await page.getByText(words.done).waitFor();
    const files = await exported(code);
    const [session] = files["sessions.csv"] ?? [];
    expect(session).toMatchObject({ state: "finished", clock_step_ms: "0.005" });
    expect(files["codes.csv"]).toMatchObject([{ session: session?.session, participant_code: "tern-7" }]);
    expect(Number(session?.refresh_hz)).toBeGreaterThan(50);
    expect(complaints).toEqual([]);
    await context.close();
  });

  it("waits until the window is large enough and a keyboard is there", async () => {
    const { link } = released({ checks: { smallest: { width: 900, height: 500 }, keyboard: true, sound: false } });
    const { page, context } = await openWindow(browser, { viewport: { width: 700, height: 450 } });
    await page.goto(link);
    await press(page, "Start");
    await page.getByText("it needs 900 × 500 and has 700 × 450").waitFor();
    await page.setViewportSize({ width: 1000, height: 600 });
    await page.getByText("This study needs a keyboard").waitFor();
    await page.keyboard.press("a");
    await page.keyboard.press("Space");
    await page.getByRole("button", { name: "Continue" }).waitFor();
    await context.close();
  });

  it("asks again for the number of tones until it is right", async () => {
    const { link } = released({ checks: { keyboard: false, sound: true } });
    const { page, context } = await openWindow(browser);
    await page.addInitScript(() => {
      const original = AudioScheduledSourceNode.prototype.start;
      (globalThis as unknown as { tones: number }).tones = 0;
      OscillatorNode.prototype.start = function (this: OscillatorNode, when?: number) {
        (globalThis as unknown as { tones: number }).tones++;
        original.call(this, when);
      };
    });
    await page.goto(link);
    await press(page, "Start");
    const heard = async () => {
      await page.evaluate(() => ((globalThis as unknown as { tones: number }).tones = 0));
      await press(page, "Play the tones");
      await page.getByText("How many tones did you hear?").waitFor();
      return page.evaluate(() => (globalThis as unknown as { tones: number }).tones);
    };
    const first = await heard();
    await press(page, String(first === 2 ? 3 : 2));
    await page.getByText("That was not the number of tones").waitFor();
    await press(page, String(await heard()));
    await page.getByRole("button", { name: "Continue" }).waitFor();
    await context.close();
  });

  it("says what cannot be loaded, with a code for the researcher, and begins only when all is there and unchanged", async () => {
    const { page, context } = await openWindow(browser);
    let how: "gone" | "changed" | "there" = "gone";
    await page.route("**/api/session/media/**", async (route) => {
      if (how === "there") return route.continue();
      if (how === "gone") return route.fulfill({ status: 404, body: "{}" });
      const response = await route.fetch();
      const body = Buffer.from(await response.body());
      body[body.length - 2] = 32;
      return route.fulfill({ response, body });
    });
    await page.goto(`${server.address}/join/demo-waders`);
    await startWaders(page);
    await page.getByText(/could not be loaded: wader-/).waitFor({ timeout: 30_000 });
    await page.getByText(/Code for the researcher: s-\w+ · 404/).waitFor();
    how = "changed";
    await press(page, "Try again");
    await page.getByText(/Code for the researcher: s-\w+ · differs/).waitFor({ timeout: 30_000 });
    how = "there";
    await press(page, "Try again");
    await page.getByRole("button", { name: "Begin" }).waitFor();
    await context.close();
  });
});

describe("on the way", () => {
  it("a trial in which the window was left is broken off and comes again, after a calm page", async () => {
    const { code, link } = released({ interrupted: "redo" });
    const { page, context } = await openWindow(browser);
    await begin(page, link);
    await answer(page, 0, 2);
    expect(await scene(page, "target", 2)).toBe(3);
    await lookAway(page);
    await page.getByRole("heading", { name: "The study is waiting for you" }).waitFor();
    await page.getByText("The last trial will be repeated.").waitFor();
    await press(page, "Continue");
    expect(await scene(page, "target", 2)).toBe(3);
    await answer(page, 2, 8);
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    const files = await exported(code);
    expect(files["trials.csv"]?.map(({ trial }) => trial)).toEqual(oneToEight);
    const events = files["events.csv"] ?? [];
    expect(events.find(({ event }) => event === "trial-broken-off")).toMatchObject({ trial: "3", value: "focus" });
    const order = events.map(({ event }) => event);
    for (const each of ["opened", "display", "focus-lost", "paused", "went-on", "key-down", "page-shown", "end"])
      expect(order).toContain(each);
    // Every key that was pressed is there by its own time, and the answer taken from it has the same.
    const answers = events.filter(({ event }) => event === "answer");
    const keys = events.filter(({ event }) => event === "key-down").map(({ at_ms }) => at_ms);
    expect(answers.length).toBe(8);
    for (const { at_ms } of answers) expect(keys).toContain(at_ms);
    await context.close();
  });

  it("or is finished first, where the study wants that; scenes are counted in frames", async () => {
    const { code, link } = released({ interrupted: "finish" });
    const { page, context } = await openWindow(browser);
    await begin(page, link);
    expect(await scene(page, "target", 0)).toBe(1);
    await lookAway(page);
    await page.keyboard.press("f");
    await page.getByRole("heading", { name: "The study is waiting for you" }).waitFor();
    await press(page, "Continue");
    await answer(page, 1, 8);
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    const rows = (await exported(code))["trials.csv"] ?? [];
    expect(rows.map(({ trial }) => trial)).toEqual(oneToEight);
    expect(rows.map((row) => row["trial_interrupted"])).toEqual(["focus", ...Array<string>(7).fill("")]);
    for (const row of rows)
      expect(Math.abs(Number(row["wait_lasted_ms"]) - (Number(row["wait_frames"]) * 1000) / 60)).toBeLessThan(3);
    await context.close();
  });

  it("on a display without a fixed refresh no frames are planned, and scenes end at the frame nearest to their time", async () => {
    const { code, link } = released({});
    const { page, context } = await openWindow(browser);
    await page.addInitScript(() => {
      let count = 0;
      window.requestAnimationFrame = (callback) =>
        window.setTimeout(() => callback(performance.now()), [5, 16, 9, 22, 7, 12, 19][count++ % 7]);
    });
    await begin(page, link);
    await answer(page, 0, 8);
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    const files = await exported(code);
    expect(files["sessions.csv"]?.[0]?.refresh_kind).toBe("variable");
    const rows = files["trials.csv"] ?? [];
    expect(rows.map((row) => row["wait_planned_frames"])).toEqual(Array.from({ length: 8 }, () => ""));
    const off = rows.map((row) => Math.abs(Number(row["wait_lasted_ms"]) - Number(row["wait_planned_ms"])));
    expect(off.sort((a, b) => a - b)[4]).toBeLessThan(23);
    await context.close();
  });

  it("leaving for good is asked twice, is a state of its own, and removes the answers where the study says so", async () => {
    const { code, link } = released({ withdrawn: "remove" });
    const { page, context } = await openWindow(browser);
    await begin(page, link);
    await answer(page, 0, 2);
    await scene(page, "target", 2);
    await page.keyboard.press("Escape");
    await press(page, "Leave the study");
    await page.getByText("Your answers will be removed.").waitFor();
    await press(page, "Stay in the study");
    await answer(page, 3, 4);
    await scene(page, "target", 4);
    await page.keyboard.press("Escape");
    await press(page, "Leave the study");
    await press(page, "Leave the study");
    await page.getByText("You have left the study").waitFor();
    await page.getByText("Your answers are removed.").waitFor();
    const files = await exported(code);
    expect(files["trials.csv"]).toEqual([]);
    expect(files["sessions.csv"]?.[0]).toMatchObject({ state: "withdrawn" });
    expect(files["codes.csv"]?.[0]).toMatchObject({ completion_code: "", participant_code: "" });
    expect(files["sessions.csv"]?.[0]?.records_removed_at).not.toBe("");
    await page.reload();
    await page.getByText("You have left the study").waitFor();
    await context.close();
  });

  it("full screen is taken up again after it was left", async () => {
    const { code, link } = released({ interrupted: "redo" }, (document) => void (document.settings.fullScreen = true));
    const { page, context } = await openWindow(browser);
    const isFull = () => page.evaluate(() => document.fullscreenElement !== null);
    await begin(page, link);
    expect(await isFull()).toBe(true);
    await answer(page, 0, 1);
    expect(await scene(page, "target", 1)).toBe(2);
    await page.evaluate(() => document.exitFullscreen());
    await page.getByText("The study no longer fills the screen.").waitFor();
    await press(page, "Continue");
    expect(await scene(page, "target", 1)).toBe(2);
    expect(await isFull()).toBe(true);
    await answer(page, 1, 8);
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    const events = (await exported(code))["events.csv"] ?? [];
    expect(events.find(({ event }) => event === "trial-broken-off")).toMatchObject({
      trial: "2",
      value: "full-screen",
    });
    await context.close();
  });

  it.each([
    ["trial", 600],
    [undefined, 633],
  ] as const)(
    "a late frame moves the rest of a trial only where scenes are timed one by one (%s)",
    async (timedFrom, whole) => {
      const { code, link } = released({}, (_, block) => {
        const [first] = block.scenes;
        if (!first) throw new Error("no scene");
        block.scenes = ["one", "two", "three"].map((name) => ({
          ...first,
          id: name,
          name,
          lasts: { kind: "ms", ms: 200 },
          items: [],
        }));
        block.answers = [];
        if (timedFrom) block.timedFrom = timedFrom;
      });
      const { page, context } = await openWindow(browser);
      // The computer is busy for a moment when the first scene of each trial is to end.
      await page.addInitScript(() => {
        document.addEventListener("DOMContentLoaded", () => {
          const stage = document.getElementById("stage") as HTMLElement;
          let trial = "";
          new MutationObserver(() => {
            if (stage.dataset.scene !== "one" || stage.dataset.trial === trial) return;
            trial = stage.dataset.trial ?? "";
            setTimeout(() => {
              const until = performance.now() + 52;
              while (performance.now() < until);
            }, 175);
          }).observe(stage, { attributes: true });
        });
      });
      await page.goto(link);
      await press(page, "Start");
      await press(page, "Continue");
      await press(page, "Finish");
      await page.getByText("Your completion code").waitFor();
      const rows = (await exported(code))["trials.csv"] ?? [];
      expect(rows.length).toBe(8);
      const middle = (of: (row: Row) => number) => rows.map(of).sort((a, b) => a - b)[4] ?? 0;
      const lasted = (name: string) => (row: Row) => Number(row[`${name}_lasted_ms`]);
      expect(middle((row) => Number(row.late_frames))).toBeGreaterThanOrEqual(1);
      expect(middle(lasted("one"))).toBeGreaterThan(214);
      const total = middle((row) => lasted("one")(row) + lasted("two")(row) + lasted("three")(row));
      expect(Math.abs(total - whole)).toBeLessThan(18);
      await context.close();
    },
  );

  it("has breaks that last a while and tell how it goes", async () => {
    const { code, link } = released({}, (_, block) => {
      block.breaks = {
        everyTrials: 3,
        leastSeconds: 2,
        body: [
          { as: "heading", runs: [{ text: "A rest" }] },
          { as: "paragraph", runs: [{ ref: { builtIn: "block.trials_done" } }, { text: " boats have passed." }] },
        ],
      };
    });
    const { page, context } = await openWindow(browser);
    await begin(page, link);
    await answer(page, 0, 3);
    await page.getByText("3 boats have passed.").waitFor();
    await page.getByText("You can continue in 2 s.").waitFor();
    await press(page, "Continue");
    await answer(page, 3, 6);
    // Loading the page anew in a break comes back to the break.
    await page.getByText("6 boats have passed.").waitFor();
    await page.reload();
    await press(page, "Continue where you left off");
    await page.getByText("6 boats have passed.").waitFor();
    await press(page, "Continue");
    await answer(page, 6, 8);
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    const events = (await exported(code))["events.csv"] ?? [];
    expect(events.filter(({ event }) => event === "break-done").length).toBe(2);
    expect(events.filter(({ event, value }) => event === "opened" && value?.startsWith("again")).length).toBe(1);
    await context.close();
  });
});

describe("one session", () => {
  it("is taken over by a second window, and the first one stops", async () => {
    const { code, link } = released({});
    const { page, context } = await openWindow(browser);
    await begin(page, link);
    await answer(page, 0, 2);
    const second = await context.newPage();
    await second.goto(link);
    await second.getByText("open in another window").waitFor();
    await press(second, "Continue here instead");
    await press(second, "Continue where you left off");
    await page.getByText("open in another window").waitFor();
    await answer(second, 2, 8);
    await press(second, "Finish");
    await second.getByText("Your completion code").waitFor();
    expect((await exported(code))["trials.csv"]?.map(({ trial }) => trial)).toEqual(oneToEight);
    await context.close();
  });

  it("another person begins on the same computer, where the study lets others; nothing of the first is lost", async () => {
    const { code, link } = released({ others: true });
    const { page, context } = await openWindow(browser);
    await begin(page, link);
    await answer(page, 0, 2);
    await scene(page, "target", 2);
    await context.setOffline(true);
    await answer(page, 2, 3);
    await scene(page, "target", 3);
    await page.close();
    await context.setOffline(false);
    const next = await context.newPage();
    await next.goto(link);
    await press(next, "Start as another person");
    await next.getByText("belong to the person who started").waitFor();
    await press(next, "Start as another person");
    await press(next, "Start");
    await press(next, "Continue");
    await answer(next, 0, 8);
    await press(next, "Finish");
    await next.getByText("Your completion code").waitFor();
    // A key that was still to come does not begin anything.
    await next.keyboard.press("Enter");
    await next.reload();
    await next.getByText("Your completion code").waitFor();
    await press(next, "Start as another person");
    await next.getByRole("button", { name: "Start", exact: true }).waitFor();
    const files = await exported(code);
    expect(files["sessions.csv"]?.map(({ state, trials }) => [state, trials])).toEqual([
      ["not finished", "3"],
      ["finished", "8"],
    ]);
    await context.close();
  });

  /** The code a participant is shown at the beginning, read and noted. */
  const codeForGoingOn = async (page: Page) => {
    const code = page.getByText(/^[A-Z2-9]{4}-[A-Z2-9]{4}$/);
    const text = (await code.textContent()) ?? "";
    await press(page, "Continue");
    return text;
  };

  it("goes on at another computer with the code that was shown at the beginning, and the first one says so", async () => {
    const { code, link } = released({ elsewhere: true });
    const own = `${link}?participant=knot-3`;
    const first = await openWindow(browser);
    await first.page.goto(own);
    await press(first.page, "Start");
    const goOn = await codeForGoingOn(first.page);
    await press(first.page, "Continue");
    await answer(first.page, 0, 3);
    await scene(first.page, "target", 3);
    const other = await openWindow(browser);
    await other.page.goto(link);
    await press(other.page, "I have begun on another computer");
    await other.page.getByLabel("Code for going on").fill("AAAA-AAAA");
    await press(other.page, "Continue");
    await other.page.getByText("No session that can go on has this code").waitFor();
    await other.page.getByLabel("Code for going on").fill(goOn.toLowerCase());
    await press(other.page, "Continue");
    expect(await scene(other.page, "target", 3)).toBe(4);
    await first.page.getByText("is continuing on another computer").waitFor({ timeout: 20_000 });
    // A window that was closed with something unsent says so too when it is opened again, and sends it.
    await first.page.reload();
    await first.page.getByText("is continuing on another computer").waitFor();
    await answer(other.page, 3, 8);
    await press(other.page, "Finish");
    await other.page.getByText("Your completion code").waitFor();
    const files = await exported(code);
    expect(files["sessions.csv"]?.length).toBe(1);
    expect(new Set(files["trials.csv"]?.map(({ trial }) => trial)).size).toBe(8);
    await first.context.close();
    await other.context.close();
  });

  it("that went on at another computer gets what the first one still had, also after that was closed", async () => {
    const { code, link } = released({ elsewhere: true });
    const own = `${link}?participant=dunlin-9`;
    const first = await openWindow(browser);
    await first.page.goto(own);
    await press(first.page, "Start");
    const goOn = await codeForGoingOn(first.page);
    await press(first.page, "Continue");
    await answer(first.page, 0, 3);
    await scene(first.page, "target", 3);
    await first.context.setOffline(true);
    await answer(first.page, 3, 4);
    await scene(first.page, "target", 4);
    await first.page.close();
    await first.context.setOffline(false);
    const other = await openWindow(browser);
    await other.page.goto(link);
    await press(other.page, "I have begun on another computer");
    await other.page.getByLabel("Code for going on").fill(goOn);
    await press(other.page, "Continue");
    await scene(other.page, "target", 3);
    const again = await first.context.newPage();
    await again.goto(own);
    await press(again, "Continue where you left off");
    await again.getByText("is continuing on another computer").waitFor();
    await expect.poll(async () => (await exported(code))["trials.csv"]?.map(({ trial }) => trial)).toContain("4");
    await first.context.close();
    await other.context.close();
  });

  it("keeps what differs under a used number aside, and the researcher sees how it differs", async () => {
    const { code, link } = released({});
    const { page, context } = await openWindow(browser);
    await begin(page, link);
    await answer(page, 0, 1);
    await scene(page, "target", 1);
    await expect.poll(async () => (await exported(code))["trials.csv"]?.length).toBe(1);
    const again = await page.evaluate(async () => {
      const secret = await new Promise<string>((resolve) => {
        const opening = indexedDB.open("lapwing");
        opening.onsuccess = () => {
          const all = opening.result.transaction("session").objectStore("session").getAll();
          all.onsuccess = () => resolve((all.result as { secret: string }[])[0]?.secret ?? "");
        };
      });
      const headers = { Authorization: `Bearer ${secret}`, "Content-Type": "application/json" };
      const { records } = (await (await fetch("/api/session", { headers })).json()) as {
        records: { kind: string; answers: { given: { rt: number } }[] }[];
      };
      const trial = records.find(({ kind }) => kind === "trial");
      if (trial?.answers[0]) trial.answers[0].given.rt = 123;
      const sent = await fetch("/api/session/records", { method: "POST", headers, body: JSON.stringify([trial]) });
      return (await sent.json()) as unknown;
    });
    expect(again).toMatchObject({ ok: true, keptAside: [2] });
    await lookAround(page, server.address);
    await page.goto(`${server.address}/studies/${code}/collect`);
    await page.getByRole("button", { name: "1 record kept aside" }).click();
    const told = page.getByRole("dialog", { name: "Records kept aside" });
    await told.getByText("answers 1 given rt").waitFor();
    expect((await told.locator("tbody tr").first().locator("td").allInnerTexts()).at(-1)).toBe("123");
    await context.close();
  });

  it("is whole where every sending takes three seconds and one in five fails, half of these after the server had it", async () => {
    const { code, link } = released({});
    const { page, context } = await openWindow(browser);
    let sendings = 0;
    await page.route("**/api/session/records", async (route) => {
      const which = sendings++ % 10;
      await new Promise((resolve) => setTimeout(resolve, 3000));
      if (which === 1) return route.abort();
      // Stored, but the participant never hears of it.
      if (which === 3) return void (await route.fetch(), await route.fulfill({ status: 502, body: "<html></html>" }));
      return route.continue();
    });
    await begin(page, link);
    await answer(page, 0, 8);
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor({ timeout: 60_000 });
    expect((await exported(code))["trials.csv"]?.map(({ trial }) => trial)).toEqual(oneToEight);
    await context.close();
  });

  it("ends patiently while the server stays away, and its answers can be handed in as a file", async () => {
    const { code, link } = released({ contact: "harbour@lapwing.example" });
    const { page, context } = await openWindow(browser);
    await begin(page, link);
    await answer(page, 0, 2);
    await page.route("**/api/session/records", (route) =>
      route.fulfill({ status: 200, contentType: "text/html", body: "<html>Sign in to the network</html>" }),
    );
    await answer(page, 2, 8);
    await press(page, "Finish");
    await page.getByText(/sending … \d of 11/).waitFor();
    await page.getByText("The server cannot be reached right now").waitFor();
    const [download] = await Promise.all([
      page.waitForEvent("download", { timeout: 40_000 }),
      page.getByRole("button", { name: "Save my answers as a file" }).click({ timeout: 30_000 }),
    ]);
    const file = join(mkdtempSync(join(tmpdir(), "lapwing-answers-")), download.suggestedFilename());
    await download.saveAs(file);
    await page.getByText("harbour@lapwing.example").waitFor();
    expect(cli("take-in", file)).toMatch(/Stored up to record 11; the session is finished/);
    expect((await exported(code))["trials.csv"]?.length).toBe(8);
    await page.unroute("**/api/session/records");
    await page.getByText("Your completion code").waitFor({ timeout: 60_000 });
    expect((await exported(code))["trials.csv"]?.length).toBe(8);
    await context.close();
  });
});
