import type { Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { startPanel, type Panel } from "~/cli/panel";
import type { StudyDocument } from "~/core/design/document";
import { collecting, collectingScreens, choose, stored } from "~/tests/support/collecting";
import { openWindow } from "~/tests/support/browser";
import { pageOf, question, studyOfPages } from "~/tests/support/forms";
import { exportedFrom, press } from "~/tests/support/short-study";

const screens = collectingScreens();
let panel: Panel;
beforeAll(async () => void (panel = await startPanel(0)));
afterAll(() => panel.stop());

/** Asks whether somebody takes part, and whether they like the sea: who does not is screened out. */
function twoQuestions(): StudyDocument {
  const options = ["yes", "no"].map((id) => ({ id, label: id }));
  const [takesPart, likes] = ["takes_part", "likes_the_sea"].map((name) =>
    question("one-of", name, { options, need: "must" }),
  );
  const unless = (id: string, as: "declined" | "screened-out") => ({
    ...{ id: `no-${id}`, as, text: [] },
    when: { left: { from: { question: id } }, is: "=" as const, right: "no" },
  });
  return studyOfPages([
    pageOf("consent", [takesPart!], { endings: [unless(takesPart!.id, "declined")] }),
    pageOf("sea", [likes!], { endings: [unless(likes!.id, "screened-out")] }),
  ]);
}

/** Opens what is shown at the end, and sets it for one kind of end. */
async function setEnd(
  page: Page,
  name: string,
  address: string,
  more: (row: ReturnType<Page["getByRole"]>) => Promise<unknown> = () => Promise.resolve(),
) {
  const row = page.getByRole("group", { name, exact: true });
  await stored(page, () => row.getByLabel("Return address").fill(address));
  await more(row);
}

/** Comes from the panel, and answers until an answer ends it. */
async function sent(from: Page, ...answers: string[]): Promise<Page> {
  const [page] = await Promise.all([from.context().waitForEvent("page"), press(from, "Take part")]);
  if (answers.length === 0) return page;
  await press(page, "Start");
  for (const answer of answers) {
    const form = await page.waitForSelector(".page.form");
    await page.getByRole("radio", { name: answer, exact: true }).check();
    await page.getByRole("button", { name: /^(Continue|Finish)$/ }).click();
    // The next page has the same answers: this one has to be gone before they are looked for.
    await form.waitForElementState("hidden");
  }
  await page.locator(".ending").waitFor();
  return page;
}

describe("a recruiting panel", () => {
  it("sends people and takes them back, each counted by how it ended", async () => {
    const { code, link, page } = await collecting(screens, twoQuestions());
    const { page: from, context } = await openWindow(screens.browser);
    await from.goto(panel.address);
    await from.getByLabel("Name of the study").fill("At the shore");
    await from.getByLabel("Its link").fill(link);
    await press(from, "List the study");
    const addresses = await from.locator("dd").allInnerTexts();
    const [finished = "", screenedOut = "", declined = "", full = ""] = addresses;

    await press(page, "What is shown at the end");
    await setEnd(page, "Finished", finished, async (row) => {
      await stored(page, () => row.getByLabel("Code", { exact: true }).selectOption("one each, of a list"));
      await row.getByText("No codes yet.").waitFor();
      await press(page, "Add codes");
      await page.getByLabel("One code a line").fill("gull-1\n\ngull-2\ngull-1");
      await page.getByText("2 codes.").waitFor();
      await stored(page, () => press(page, "Add the codes"));
      await row.getByText("0 of 2 given out.").waitFor();
    });
    await setEnd(page, "Screened out", screenedOut, async (row) => {
      await row.getByLabel("Text").fill("This study is for those who like the sea.\nThank you all the same.");
      await stored(page, () => row.getByLabel("Text").blur());
    });
    await setEnd(page, "Declined", declined);
    // What cannot be filled in, or is no address, is said and not kept.
    const row = page.getByRole("group", { name: "Came when full" });
    await row.getByLabel("Return address").fill("https://panel.example/{{who}}");
    await row.getByText("“{{who}}” is not known.", { exact: false }).waitFor();
    await setEnd(page, "Came when full", full);

    const came: [Page, string][] = [];
    const first = await sent(from, "yes", "yes");
    await expect.poll(() => first.locator("output.code").innerText()).toBe("gull-1");
    // It stays so when it is loaded again.
    await first.reload();
    await first.getByText("gull-1").waitFor();
    came.push([first, "finished"]);
    const out = await sent(from, "yes", "no");
    await out.getByText("This study is for those who like the sea.").waitFor();
    await expect.poll(() => out.locator("output.code").count()).toBe(0);
    came.push([out, "screened out"], [await sent(from, "no"), "declined"]);
    await choose(page, /^How many/, "or until so many have finished:");
    await stored(page, () => page.getByRole("textbox", { name: "Finished sessions" }).first().fill("1"));
    const late = await sent(from);
    await late.getByText(/all the participants/).waitFor();
    came.push([late, "came when it was full"]);
    for (const [each, as] of came) {
      await each.getByRole("link", { name: "Continue" }).click();
      await each.getByText(`You are counted as: ${as}.`).waitFor();
    }
    await from.reload();
    const listed = await from.locator("tbody tr").allInnerTexts();
    expect(listed.map((line) => line.split("\t").filter((_, index) => index !== 1))).toEqual([
      ["person-0001", "finished", "gull-1"],
      ["person-0002", "screened out", expect.any(String)],
      ["person-0003", "declined", expect.any(String)],
      ["person-0004", "came when it was full", ""],
    ]);
    await page.getByText("1 of 2 given out.").waitFor();

    // The panel's name of a person is their code. Codes, and what else it sent, are in a table of their own, where asked for.
    const files = await exportedFrom(screens.server, screens.browser, code);
    const { session } = (files["sessions.csv"] ?? []).find(({ state }) => state === "finished") ?? {};
    const codes = files["codes.csv"]?.find((row) => row["session"] === session);
    expect(codes).toMatchObject({ participant_code: "person-0001", completion_code: "gull-1" });
    expect(codes?.["came_with"]).toContain(panel.sent[0]?.visit);
    const { "codes.csv": kept, ...others } = files;
    expect(kept).not.toEqual([]);
    const without = await exportedFrom(screens.server, screens.browser, code, "");
    expect(Object.keys(without)).not.toContain("codes.csv");
    for (const told of [panel.sent[0]?.visit, "person-0001", "gull-1"])
      for (const data of [without, others]) expect(JSON.stringify(data)).not.toContain(told);
    await Promise.all([page.context().close(), context.close()]);
  });
});
