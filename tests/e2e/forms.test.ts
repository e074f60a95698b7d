import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { plainText } from "~/core/values/formatted-text";
import type { StudyDocument } from "~/core/design/document";
import { launch, openWindow } from "../support/browser";
import { pageOf, question, studyOfPages } from "../support/forms";
import { startServer, type Running } from "../support/server";
import { exportedFrom, importReleased, press, type Row } from "../support/short-study";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

const released = (document: StudyDocument) => importReleased(server, document);

const birds = ["curlew", "dunlin", "knot"].map((id) => ({ id, label: id }));
/** A question of every kind on one page, then a page that thanks. */
const everything = (): StudyDocument =>
  studyOfPages([
    pageOf(
      "all",
      [
        { kind: "text", id: "t", text: plainText("About the shore") },
        question("one-of", "bird", { options: birds, other: "another, namely" }),
        question("one-of", "harbour", { options: birds, layout: "menu" }),
        question("several-of", "seen", {
          options: [...birds, { id: "none", label: "none of these", alone: true }],
          least: 1,
        }),
        question("scale", "effort", { labels: ["not at all", "", "", "", "", "", "very"], ratherNot: true }),
        question("statements", "views", {
          statements: [
            { id: "a", name: "calm", text: "The shore is calm." },
            { id: "b", name: "loud", text: "The shore is loud.", reversed: true },
          ],
        }),
        question("pairs", "felt", { pairs: [{ id: "p", name: "cold_warm", left: "cold", right: "warm" }] }),
        question("line", "sure", { showsValue: true }),
        question("number", "age", { least: 18, most: 99, need: "must", unit: "years" }),
        question("short-text", "place"),
        question("long-text", "story", { most: 200 }),
        question("date", "visit", { latest: "2026-12-31" }),
        question("time", "low_tide"),
        question("ranking", "best", { options: birds, order: "listed" }),
        question("shares", "split", { options: birds, total: 10 }),
        question("agree", "consent", { label: "I agree." }),
        question("own-code", "code"),
      ],
      { continueLabel: "Hand in" },
    ),
    pageOf("end", [{ kind: "text", id: "t", text: plainText("Thank you.") }], { continueLabel: "Finish", back: true }),
  ]);

const section = (page: Page, name: string) => page.locator(`[data-question="${name}"]`);
const problem = (page: Page, name: string) => section(page, name).locator(".problem");

/** Answers everything by keys alone, from the first field on. */
async function byKeys(page: Page): Promise<void> {
  const { keyboard } = page;
  const onto = async (name: string) => {
    // As far as the question, wherever the focus is.
    for (let tabs = 0; tabs < 60; tabs++) {
      const here = await page.evaluate(
        () => document.activeElement?.closest<HTMLElement>("[data-question]")?.dataset.question ?? "",
      );
      if (here === name) return;
      await keyboard.press("Tab");
    }
    throw new Error(`${name} was not reached`);
  };
  await onto("bird");
  await keyboard.press("Space");
  await keyboard.press("ArrowDown");
  await onto("harbour");
  await keyboard.press("Enter");
  await keyboard.type("kno");
  await keyboard.press("Enter");
  await keyboard.press("Enter");
  await onto("seen");
  await keyboard.press("Space");
  await keyboard.press("Tab");
  await keyboard.press("Tab");
  await keyboard.press("Space");
  await onto("effort");
  await keyboard.press("Space");
  for (let point = 1; point < 5; point++) await keyboard.press("ArrowRight");
  await onto("views");
  await keyboard.press("Space");
  await keyboard.press("Tab");
  await keyboard.press("Space");
  await keyboard.press("ArrowRight");
  await onto("felt");
  await keyboard.press("Space");
  await onto("sure");
  await keyboard.press("Home");
  await keyboard.press("ArrowRight");
  await onto("age");
  await keyboard.type("41");
  await onto("place");
  await keyboard.type("Zürich; “bay”, 北");
  await onto("story");
  await keyboard.type("Line one\nline two, with a comma");
  await onto("visit");
  await keyboard.type("05142026");
  await onto("low_tide");
  await keyboard.type("0230PM");
  await onto("best");
  await keyboard.press("Tab");
  await keyboard.press("Enter");
  await onto("split");
  await keyboard.type("3");
  await keyboard.press("Tab");
  await keyboard.type("7");
  await onto("consent");
  await keyboard.press("Space");
  await onto("code");
  await keyboard.type("mar 40");
  await keyboard.press("Tab");
  await keyboard.type("MAR40");
}

async function answersOf(code: string): Promise<{ answers: Row[]; sessions: Row[]; files: Record<string, Row[]> }> {
  const files = await exportedFrom(server, browser, code);
  return { answers: files["answers.csv"] ?? [], sessions: files["sessions.csv"] ?? [], files };
}
const cell = (rows: Row[], name: string, line = "") =>
  rows.find((row) => row["question"] === name && row["line"] === line);

describe("a page with every kind of question", () => {
  it("is answered by keys alone, survives a reload in the middle, and comes out as it was entered", async () => {
    const { code, link } = released(everything());
    const { page, context, complaints } = await openWindow(browser);
    await page.goto(link);
    await press(page, "Start");
    await page.getByText("About the shore").waitFor();
    await byKeys(page);
    // A reload takes nothing that was entered.
    await page.reload();
    await press(page, "Continue where you left off");
    await expect
      .poll(() => section(page, "story").locator("textarea").inputValue())
      .toBe("Line one\nline two, with a comma");
    await expect.poll(() => section(page, "bird").getByRole("radio", { name: "dunlin" }).isChecked()).toBe(true);
    await expect
      .poll(() => section(page, "best").locator("li .says").allInnerTexts())
      .toEqual(["dunlin", "curlew", "knot"]);
    await press(page, "Hand in");
    await page.getByText("Thank you.").waitFor();
    // Back, and one answer revised.
    await press(page, "Back");
    await section(page, "bird").getByRole("radio", { name: "another, namely" }).check();
    await section(page, "bird").getByRole("textbox").fill("sanderling");
    await press(page, "Hand in");
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    const { answers, sessions } = await answersOf(code);
    expect(cell(answers, "bird")).toMatchObject({
      state: "answered",
      value: "other",
      label: "sanderling",
      changes: "2",
      earlier_values: "dunlin",
    });
    const values: [string, string, string][] = [
      ["harbour", "", "knot"],
      ["seen", "", "curlew; knot"],
      ["effort", "", "5"],
      ["views", "calm", "1"],
      ["views", "loud", "2"],
      ["felt", "cold_warm", "1"],
      ["sure", "", "1"],
      ["age", "", "41"],
      ["place", "", "Zürich; “bay”, 北"],
      ["story", "", "Line one\nline two, with a comma"],
      ["visit", "", "2026-05-14"],
      ["low_tide", "", "14:30"],
      ["best", "", "dunlin > curlew > knot"],
      ["split", "curlew", "3"],
      ["split", "dunlin", "7"],
      ["split", "knot", "0"],
      ["consent", "", "yes"],
      ["code", "", "MAR40"],
    ];
    for (const [name, line, value] of values)
      expect([name, line, cell(answers, name, line)?.["value"]]).toEqual([name, line, value]);
    expect(cell(answers, "views", "loud")).toMatchObject({ points: "4", label: "2" });
    for (const row of answers) {
      expect(row["state"]).toBe("answered");
      expect(Number(row["last_ms"])).toBeGreaterThanOrEqual(Number(row["first_ms"]));
    }
    expect(sessions[0]).toMatchObject({
      bird: "other",
      bird_other: "sanderling",
      seen_curlew: "yes",
      seen_dunlin: "no",
      seen_none_of_these: "no",
      effort: "5",
      views_calm: "1",
      best_knot: "3",
      split_dunlin: "7",
      consent: "yes",
      low_tide: "14:30",
    });
    expect(complaints).toEqual([]);
    await context.close();
  });

  it("on a phone, by touch: says what is missing or wrong, brings it into view, and takes what is rather not said", async () => {
    const { code, link } = released(everything());
    const { page, context } = await openWindow(browser, {
      viewport: { width: 390, height: 844 },
      hasTouch: true,
      isMobile: true,
    });
    await page.goto(link);
    await page.getByRole("button", { name: "Start" }).tap();
    const handIn = page.getByRole("button", { name: "Hand in" });
    await handIn.tap();
    await problem(page, "bird").getByText("You have not answered this.").waitFor();
    await problem(page, "age").getByText("Please answer this question.").waitFor();
    await expect(problem(page, "consent").innerText()).resolves.toBe("Please tick this box to go on.");
    // Nothing is wider than the screen.
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    await section(page, "age").getByRole("textbox").fill("seven");
    await section(page, "place").getByRole("textbox").tap();
    await problem(page, "age").getByText("Please type a number, for example 12.").waitFor();
    await section(page, "age").getByRole("textbox").fill("7");
    await section(page, "place").getByRole("textbox").tap();
    await problem(page, "age").getByText("Please type a number from 18 to 99.").waitFor();
    await handIn.tap();
    await expect.poll(() => page.evaluate(() => document.activeElement?.getAttribute("inputmode"))).toBe("numeric");
    await section(page, "age").getByRole("textbox").fill("70");
    await section(page, "effort").getByText("I would rather not say").tap();
    await section(page, "consent").getByRole("checkbox").tap();
    await section(page, "sure").getByRole("slider").tap();
    await section(page, "seen").getByText("curlew").tap();
    await section(page, "seen").getByText("none of these").tap();
    await expect.poll(() => section(page, "seen").getByRole("checkbox", { checked: true }).count()).toBe(1);
    await section(page, "split").getByRole("textbox").first().fill("4");
    await handIn.tap();
    await problem(page, "split").getByText("Together they should make 10; at present they make 4.").waitFor();
    await section(page, "split").getByRole("textbox").last().fill("6");
    await section(page, "code").getByRole("textbox").first().fill("MAR4");
    await handIn.tap();
    await problem(page, "code").getByText("The two are not the same.").waitFor();
    await section(page, "code").getByRole("textbox").first().fill("");
    await handIn.tap();
    await page.getByRole("button", { name: "Finish" }).tap();
    await page.getByText("Your completion code").waitFor();
    const { answers } = await answersOf(code);
    const states = Object.fromEntries(answers.map((row) => [row["question"], row["state"]]));
    expect(states).toMatchObject({
      bird: "skipped",
      seen: "answered",
      effort: "rather-not",
      sure: "answered",
      age: "answered",
      story: "skipped",
      split: "answered",
      consent: "answered",
      code: "skipped",
    });
    expect(cell(answers, "seen")?.["value"]).toBe("none of these");
    expect(cell(answers, "effort")?.["value"]).toBe("");
    await context.close();
  });
});

describe("a page that reacts", () => {
  it("asks further by an answer, counts a score in later text, and ends the session kindly for who cannot take part", async () => {
    const study = studyOfPages(
      [
        pageOf("screen", [question("number", "age", { need: "must" })], {
          endings: [
            {
              id: "young",
              when: { left: { from: { question: "q-age" } }, is: "<", right: 18 },
              as: "screened-out",
              text: plainText("Thank you. This study is for grown-ups."),
              address: "https://panel.example/back",
            },
            {
              id: "no",
              when: { left: { from: { question: "q-age" } }, is: "=", right: 99 },
              as: "declined",
              text: plainText("Thank you all the same."),
            },
          ],
        }),
        pageOf("test", [
          question("one-of", "one", {
            options: [
              { id: "r", label: "right", right: true },
              { id: "w", label: "wrong" },
            ],
          }),
          question("one-of", "two", {
            options: [
              { id: "r", label: "right", right: true },
              { id: "w", label: "wrong" },
            ],
          }),
          question("long-text", "why", {
            need: "must",
            when: { left: { from: { question: "q-two" } }, is: "=", right: "wrong" },
          }),
        ]),
        pageOf("told", [
          {
            kind: "text",
            id: "t",
            text: [
              {
                as: "paragraph",
                runs: [
                  { text: "You got " },
                  { ref: { score: "known" } },
                  { text: " right; at " },
                  { ref: { question: "q-age" } },
                  { text: "." },
                ],
              },
            ],
          },
        ]),
      ],
      {
        scores: [
          {
            id: "known",
            name: "known",
            of: "share-right",
            from: [{ question: "q-one" }, { question: "q-two" }],
            atLeast: 1,
          },
        ],
      },
    );
    const { code, link } = released(study);
    const take = async (age: string) => {
      const opened = await openWindow(browser);
      await opened.page.goto(link);
      await press(opened.page, "Start");
      await section(opened.page, "age").getByRole("textbox").fill(age);
      await press(opened.page, "Continue");
      return opened;
    };
    const young = await take("12");
    await young.page.getByText("This study is for grown-ups.").waitFor();
    expect(await young.page.getByRole("link", { name: "Continue" }).getAttribute("href")).toBe(
      "https://panel.example/back",
    );
    const declined = await take("99");
    await declined.page.getByText("Thank you all the same.").waitFor();
    const { page } = await take("31");
    await section(page, "one").getByRole("radio", { name: "right" }).check();
    expect(await section(page, "why").isVisible()).toBe(false);
    await section(page, "two").getByRole("radio", { name: "wrong" }).check();
    await section(page, "why").getByRole("textbox").fill("A guess");
    await press(page, "Continue");
    await page.getByText("You got 50 % right; at 31.").waitFor();
    await press(page, "Continue");
    await page.getByText("Your completion code").waitFor();
    const { answers, sessions } = await answersOf(code);
    expect(sessions.map(({ state, counts, age, known }) => [state, counts, age, known]).sort()).toEqual([
      ["declined", "no", "", ""],
      ["finished", "yes", "31", "0.5"],
      ["screened-out", "no", "12", ""],
    ]);
    // Of who declined nothing is kept but that somebody did.
    expect(answers.filter(({ session_state }) => session_state === "declined")).toEqual([]);
    expect(
      cell(
        answers.filter(({ session_state }) => session_state === "finished"),
        "one",
      ),
    ).toMatchObject({ is_right: "yes", points: "1" });
    for (const { context } of [young, declined]) await context.close();
  });

  it("shows one question after the other, warns of its end, and goes on by itself with what is typed", async () => {
    const { code, link } = released(
      studyOfPages([
        pageOf("steps", [question("scale", "effort"), question("short-text", "word", { need: "must" })], {
          shows: "one",
        }),
        pageOf("timed", [question("long-text", "story"), question("number", "age", { least: 18 })], {
          time: { most: 4, warns: 3, countdown: true },
        }),
      ]),
    );
    const { page, context } = await openWindow(browser);
    await page.goto(link);
    await press(page, "Start");
    await page.getByText("Question 1 of 2").waitFor();
    expect(await section(page, "word").isVisible()).toBe(false);
    await section(page, "effort").getByRole("radio").nth(3).check();
    await press(page, "Continue");
    await page.getByText("Question 2 of 2").waitFor();
    await press(page, "Back");
    await expect.poll(() => section(page, "effort").getByRole("radio").nth(3).isChecked()).toBe(true);
    await press(page, "Continue");
    await section(page, "word").getByRole("textbox").fill("tide");
    await press(page, "Continue");
    await page.getByText(/^Time left: 0:0\d$/).waitFor();
    await section(page, "story").getByRole("textbox").fill("The tide came");
    await section(page, "age").getByRole("textbox").fill("1x");
    await page.getByText(/This page goes on in \d seconds/).waitFor();
    await page.getByText("Your completion code").waitFor();
    const { answers } = await answersOf(code);
    expect(cell(answers, "effort")).toMatchObject({ value: "4", state: "answered" });
    expect(cell(answers, "story")).toMatchObject({ value: "The tide came", state: "answered" });
    expect(cell(answers, "age")).toMatchObject({ value: "", state: "timed-out", typed: "1x" });
    await context.close();
  });

  it("whose time is up while somebody makes up their mind to leave is recorded all the same", async () => {
    const { code, link } = released(
      studyOfPages([
        pageOf("timed", [question("short-text", "word")], { time: { most: 3, countdown: true } }),
        pageOf("next", [question("scale", "effort")]),
      ]),
    );
    const { page, context } = await openWindow(browser);
    await page.goto(link);
    await press(page, "Start");
    await section(page, "word").getByRole("textbox").fill("tide");
    await page.keyboard.press("Escape");
    await page.getByRole("heading", { name: "The study is waiting for you" }).waitFor();
    await press(page, "Leave the study");
    await page.getByText("Do you want to leave the study for good?").waitFor();
    // Behind the question the page's time runs out.
    await page.locator(".time-left").getByText("0:00").waitFor({ state: "attached" });
    await press(page, "Leave the study");
    await page.getByText(/You have left the study/).waitFor();
    const { answers, sessions, files } = await answersOf(code);
    expect(sessions).toMatchObject([{ state: "withdrawn" }]);
    expect(cell(answers, "word")).toMatchObject({ value: "tide", state: "answered" });
    expect(files["kept-aside.csv"]).toBeUndefined();
    await context.close();
  });

  it("is read from right to left where its language is", async () => {
    const { link } = released(
      studyOfPages(
        [
          pageOf("p", [
            question("statements", "views"),
            question("one-of", "bird", { options: birds, layout: "menu" }),
          ]),
        ],
        {
          language: "ar",
        },
      ),
    );
    const { page, context, complaints } = await openWindow(browser);
    await page.goto(link);
    await page.getByRole("button").first().click();
    await section(page, "views").waitFor();
    expect(await page.evaluate(() => getComputedStyle(document.body).direction)).toBe("rtl");
    await page.locator(".page.form .buttons button").first().click();
    await problem(page, "views").getByText("لم تجب عن هذا السؤال").waitFor();
    expect(complaints).toEqual([]);
    await context.close();
  });
});
