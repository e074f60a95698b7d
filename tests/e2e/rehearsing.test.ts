import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Browser, Frame, FrameLocator, Page } from "playwright-core";
import { plannedAssignment } from "~/core/allocate/allocate";
import { newPage } from "~/core/design/page";
import type { Rule } from "~/core/rules/rule";
import { plainText } from "~/core/values/formatted-text";
import { boats } from "~/tests/support/boats";
import { launch, lookAround, openWindow } from "~/tests/support/browser";
import { scene } from "~/tests/support/participant";
import { startServer, type Running } from "~/tests/support/server";
import { begin, exportedFrom, importReleased, press } from "~/tests/support/short-study";

let server: Running;
let browser: Browser;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

/** Whenever the level changes, five points are given. */
const heard: Rule = {
  id: "heard",
  name: "Heard",
  when: { on: "variable", variable: "level" },
  do: [{ do: "add", what: { points: true }, to: 5 }],
};
/** Four boats, each shown until F or J after 400 ms; its text says what the level is. */
const levels = () =>
  boats((block, document) => {
    document.variables = [{ id: "level", name: "level", type: "number", start: 1 }];
    document.rules = [heard];
    block.scenes[0]!.lasts = { kind: "ms", ms: 400 };
    // However slow the machine is that tries it.
    block.scenes[1]!.lasts = { kind: "until-answer" };
    const [text] = block.scenes[1]!.items;
    if (text?.kind === "text")
      text.text = [
        {
          as: "paragraph",
          runs: [{ text: "Level " }, { ref: { variable: "level" } }, { text: ", boat " }, { ref: { column: "boat" } }],
        },
      ];
  });

async function rehearsing(code: string): Promise<Page> {
  const { page } = await openWindow(browser);
  await lookAround(page, server.address);
  await page.goto(`${server.address}/studies/${code}/rehearse`);
  return page;
}
const choose = async (page: Page, label: RegExp, says: string) => {
  await page.getByRole("button", { name: label }).click();
  await page.getByRole("menuitem", { name: says, exact: true }).click();
};
/** Plays within the page: its frame, to wait in and to press in. */
async function playHere(page: Page): Promise<{ frame: Frame; here: FrameLocator }> {
  await press(page, "Play here");
  const here = page.frameLocator('iframe[title="The study as it is rehearsed"]');
  await here.getByText("pilot", { exact: true }).waitFor();
  return { frame: page.frames().find((each) => new URL(each.url()).pathname === "/play")!, here };
}
const valueNow = (page: Page, name: string) => page.locator(`dt:text-is("${name}") + dd`);

describe("a rehearsal", () => {
  it("begins with the trial that was chosen and the values that were set, which can be set again while it plays", async () => {
    const { code } = importReleased(server, levels());
    const page = await rehearsing(code);
    await choose(page, /^Begins with/, "with Boats");
    await page.getByLabel("Trial it begins with").fill("3");
    await press(page, "Set values");
    await page.getByLabel("level begins with").fill("x");
    await page.getByText("“x” is no number.").waitFor();
    await page.getByLabel("level begins with").fill("7");
    await press(page, "1 value set");
    const { frame, here } = await playHere(page);
    expect(await scene(frame, "target")).toBe(3);
    await expect.poll(() => frame.locator(".scene.shown .text").innerText()).toBe("Level 7, boat 3");
    await page.getByRole("tab", { name: "Values" }).click();
    await page.getByRole("button", { name: "Set level" }).click();
    await page.getByLabel("New value of level").fill("9");
    await page.keyboard.press("Enter");
    await expect.poll(() => frame.locator(".scene.shown .text").innerText()).toBe("Level 9, boat 3");
    // The click beside it has paused it after this trial.
    await frame.locator("#stage").click();
    await page.keyboard.press("f");
    await here.getByRole("button", { name: "Continue" }).click();
    await expect.poll(() => valueNow(page, "level").innerText()).toMatch(/^9/);
    await expect.poll(() => valueNow(page, "session.points").innerText()).toMatch(/^5/);
    await page.getByText("from Boats, trial 3", { exact: true }).waitFor();
    expect(await scene(frame, "target", 3)).toBe(4);
    await page.keyboard.press("j");
    await here.getByText("Thank you.").waitFor();
    await page.getByRole("tab", { name: "Records" }).click();
    await expect.poll(() => page.locator("[data-rehearsal-records] tbody tr").count()).toBe(2);
    await page.context().close();
  });

  it("is played in a window of its own, which says so where it cannot be begun", async () => {
    const { code } = importReleased(server, levels());
    const page = await rehearsing(code);
    const inWindow = async () =>
      (await Promise.all([page.context().waitForEvent("page"), press(page, "Play in a new tab")]))[0];
    const played = await inWindow();
    await press(played, "Continue");
    expect(await scene(played, "target")).toBe(1);
    await page.route("**/rehearsals", (route) =>
      route.request().method() === "POST" ? route.abort() : route.continue(),
    );
    const refused = await inWindow();
    await refused.getByText("The server cannot be reached. Try again.").waitFor();
    await page.getByText("The server cannot be reached. Try again.").waitFor();
    await page.context().close();
  });

  it("goes on after a reload as it was begun, and its judge believes it", async () => {
    const { code } = importReleased(server, levels());
    const page = await rehearsing(code);
    await choose(page, /^Begins with/, "with Boats");
    await page.getByLabel("Trial it begins with").fill("2");
    const [played] = await Promise.all([page.context().waitForEvent("page"), press(page, "Play in a new tab")]);
    expect(await scene(played, "target")).toBe(2);
    await played.keyboard.press("j");
    expect(await scene(played, "target", 2)).toBe(3);
    await played.reload();
    expect(await scene(played, "target", 2)).toBe(3);
    await played.keyboard.press("f");
    await scene(played, "target", 3);
    await played.keyboard.press("j");
    await press(played, "Finish");
    await page.bringToFront();
    await page.getByText("3 of 4").waitFor();
    await page
      .getByRole("button", { name: /from Boats, trial 2/ })
      .getByText("finished")
      .waitFor();
    await page.context().close();
  });

  it("plays four times as fast, in the study's own time, and says so", async () => {
    const { code } = importReleased(server, levels());
    const page = await rehearsing(code);
    await choose(page, /^Begins with/, "with Boats");
    await choose(page, /^Played/, "four times as fast");
    const { frame } = await playHere(page);
    await frame.waitForFunction(() => document.querySelector<HTMLElement>("#stage")?.dataset.scene === "target");
    const told = await frame.evaluate(
      () =>
        new Promise<number>((resolve) => {
          const stage = document.querySelector<HTMLElement>("#stage")!;
          let from = 0;
          new MutationObserver(() => {
            if (stage.dataset.scene === "wait") from = performance.now();
            if (stage.dataset.scene === "target" && from > 0) resolve(performance.now() - from);
          }).observe(stage, { attributes: true });
          dispatchEvent(new KeyboardEvent("keydown", { code: "KeyF", key: "f" }));
        }),
    );
    await page.keyboard.press("j");
    await page.getByRole("tab", { name: "Records" }).click();
    await expect.poll(() => page.locator("[data-rehearsal-records] tbody tr").count()).toBe(2);
    const header = await page.locator("[data-rehearsal-records] thead th").allTextContents();
    const second = await page.locator("[data-rehearsal-records] tbody tr").nth(1).locator("td").allTextContents();
    const lasted = Number(second[header.indexOf("wait_lasted_ms")]);
    expect(lasted / told).toBeGreaterThan(3.3);
    expect(lasted / told).toBeLessThan(4.7);
    await page.getByText("from Boats, 4 times as fast", { exact: true }).waitFor();
    await page.getByRole("tab", { name: "Timing" }).click();
    await page.getByText(/timing says nothing about the study/).waitFor();
    await page.context().close();
  });

  it("waits before each trial where it is played trial by trial, and says what came of the last", async () => {
    const { code } = importReleased(server, levels());
    const page = await rehearsing(code);
    await choose(page, /^Played/, "trial by trial");
    const { frame, here } = await playHere(page);
    await here.getByRole("button", { name: "Continue" }).click();
    await here.getByText("Trial 1 comes next.").waitFor();
    await here.getByRole("button", { name: "Play it" }).click();
    await scene(frame, "target");
    await page.keyboard.press("j");
    await here.getByText(/^The last trial: wrong, “j”, \d+ ms\.$/).waitFor();
    await here.getByText("Trial 2 comes next.").waitFor();
    await page.context().close();
  });

  it("leaves the ribbon as it was, coloured by its column, when one comes from another screen", async () => {
    const { page } = await openWindow(browser);
    await lookAround(page, server.address);
    await page.goto(`${server.address}/studies/amber-quay/plan`);
    const ribbon = page.locator("[data-ribbon='1']");
    await ribbon.getByText("against", { exact: true }).waitFor();
    await page.getByRole("link", { name: "Rehearse" }).click();
    await choose(page, /^Begins with/, "with Near waders");
    await page.getByLabel("Trial it begins with").fill("4");
    await page.getByText(/Trial \d+ of participant 1 · Near waders/).waitFor();
    await expect.poll(() => ribbon.getByText("against", { exact: true }).isVisible()).toBe(true);
    await page.context().close();
  });

  it("is refused where the participant does not come to the part, in words", async () => {
    const study = levels();
    const { group } = plannedAssignment(study, 1);
    study.parts["other"] = newPage(() => "other", "Only others");
    study.runningOrder.push({ kind: "part", part: "other", onlyGroups: [group === "a" ? "b" : "a"] });
    const { code } = importReleased(server, study);
    const page = await rehearsing(code);
    const answer = await page.request.post(`${server.address}/studies/${code}/rehearsals`, {
      data: { participant: 1, from: { part: "other", trial: 1 }, values: [] },
      headers: { Origin: server.address },
    });
    expect([answer.status(), ((await answer.json()) as { reason: string }).reason]).toEqual([
      422,
      "Participant 1 does not come to this part. Choose another, or another participant.",
    ]);
    await page.context().close();
  });
});

describe("the device on which a session begins", () => {
  const narrow = () =>
    boats((block, document) => {
      block.table.rows = block.table.rows.slice(0, 1);
      document.parts["narrow"] = newPage(() => "narrow", "Narrow", plainText("Turn the device."));
      document.runningOrder.unshift({
        kind: "part",
        part: "narrow",
        when: { left: { from: { builtIn: "device.width" } }, is: "<", right: 700 },
      });
      document.variables = [{ id: "v", name: "hertz", type: "number", start: null }];
      block.rules = [
        {
          id: "r",
          name: "",
          when: { on: "trial-begins" },
          do: [{ do: "set", what: { variable: "v" }, to: { from: { builtIn: "device.refresh_hz" } } }],
        },
      ];
    });

  it("decides what is shown, is the same after a reload, and is judged with the records", async () => {
    const { code, link } = importReleased(server, narrow());
    const small = await openWindow(browser, { viewport: { width: 600, height: 800 } });
    await small.page.goto(link);
    await press(small.page, "Start");
    await small.page.getByText("Turn the device.").waitFor();
    await small.page.setViewportSize({ width: 1200, height: 800 });
    await small.page.reload();
    await press(small.page, "Continue where you left off");
    await small.page.getByText("Turn the device.").waitFor();
    await press(small.page, "Continue");
    await press(small.page, "Continue");
    await scene(small.page, "target");
    await small.page.keyboard.press("f");
    await press(small.page, "Finish");
    await small.page.getByText("Your completion code").waitFor();
    const large = await openWindow(browser);
    await begin(large.page, link);
    await scene(large.page, "target");
    await large.page.keyboard.press("f");
    await press(large.page, "Finish");
    await large.page.getByText("Your completion code").waitFor();
    const { "sessions.csv": sessions = [] } = await exportedFrom(server, browser, code);
    expect(sessions.map(({ hertz }) => Number(hertz) > 5)).toEqual([true, true]);
    expect(small.complaints).toEqual([]);
    await Promise.all([small.context.close(), large.context.close()]);
  });

  it("is told by a rehearsal too, and by no session of a study that does not look at it", async () => {
    const page = await rehearsing(importReleased(server, narrow()).code);
    await page.setViewportSize({ width: 1100, height: 800 });
    const { here } = await playHere(page);
    // The window it is supposed to have is a wide one.
    await here.getByText("Eight boats pass.").waitFor();
    const { link } = importReleased(server, levels());
    const other = await openWindow(browser);
    const asked: string[] = [];
    other.page.on("request", (request) => asked.push(new URL(request.url()).pathname));
    await begin(other.page, link);
    await scene(other.page, "target");
    expect(asked.filter((path) => path.endsWith("/device"))).toEqual([]);
    await Promise.all([page.context().close(), other.context.close()]);
  });
});
