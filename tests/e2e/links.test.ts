import { readFile } from "node:fs/promises";
import { describe, expect, it } from "vitest";
import { keys } from "~/tests/support/boats";
import { openWindow } from "~/tests/support/browser";
import { scene } from "~/tests/support/participant";
import { collecting, collectingScreens, choose, playToEnd, stored, visitor } from "~/tests/support/collecting";
import { exportedFrom, press } from "~/tests/support/short-study";

const screens = collectingScreens();
/** A day so far from now, as it is typed. */
const typed = (days: number) => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 16);

describe("what a link asks", () => {
  it("can be a word, which is asked for until it is right, while another link asks for none", async () => {
    const { link, page } = await collecting(screens);
    await choose(page, /^Who may take part/, /who knows the word/);
    await stored(page, () => page.getByRole("textbox", { name: "The word" }).fill("Sandpiper"));
    await press(page, "Another link");
    await page.getByRole("group", { name: "Link 2" }).waitFor();
    const who = await visitor(screens, link);
    await press(who, "Start");
    await who.getByLabel("The word you were given").fill("gull");
    await press(who, "Continue");
    await who.getByText("This is not the word.").waitFor();
    await who.getByLabel("The word you were given").fill(" sandpiper");
    await press(who, "Continue");
    await who.getByText("Eight boats pass.").waitFor();
    const other = await page.getByRole("group", { name: "Link 2" }).locator("[data-entry-link]").innerText();
    const free = await visitor(screens, other);
    await press(free, "Start");
    await free.getByText("Eight boats pass.").waitFor();
    await Promise.all([page, who, free].map((each) => each.context().close()));
  });

  it("can be a time; who comes too early or too late reads so, in the study's words or its own", async () => {
    const { link, page } = await collecting(screens);
    await choose(page, /^From when/, "from this time on:");
    await stored(page, () => page.getByLabel("Opens").fill(typed(2)));
    const early = await visitor(screens, link);
    await early.getByText(/^This study is not open yet\. It opens on .*20\d\d.*\.$/).waitFor();
    await choose(page, /^Until when/, "until this time:");
    await stored(page, () => page.getByLabel("Is over").fill(typed(1)));
    await page.getByText("It would be over before it opens.").waitFor();
    await choose(page, /^From when/, "from now on");
    await stored(page, () => page.getByLabel("Is over").fill(typed(-1)));
    await early.reload();
    await early.getByText("This study is over. Thank you for your interest.").waitFor();
    await press(page, "What is said to those who cannot begin");
    await page.getByLabel("After its time").fill("The tide is out. See you next year.");
    await stored(page, () => page.getByLabel("After its time").blur());
    await early.reload();
    await early.getByText("The tide is out. See you next year.").waitFor();
    // It stands there after a reload, and the time can be taken away again.
    await page.reload();
    await press(page, "What is said to those who cannot begin");
    await expect.poll(() => page.getByLabel("After its time").inputValue()).toBe("The tide is out. See you next year.");
    await choose(page, /^Until when/, "until it is closed");
    await early.reload();
    await early.getByRole("button", { name: "Start", exact: true }).waitFor();
    await Promise.all([page, early].map((each) => each.context().close()));
  });

  it("can be once per browser: who has finished, or begun in another tab, begins no second time", async () => {
    const { link, page } = await collecting(screens);
    await choose(page, /^How often/, "once per browser");
    const { page: first, context } = await openWindow(screens.browser);
    await first.goto(link);
    await playToEnd(first);
    const again = await context.newPage();
    await again.goto(link);
    await again.getByText("You have taken part in this study already.").waitFor();
    await expect.poll(() => again.getByRole("button").count()).toBe(0);
    const other = await visitor(screens, link);
    await press(other, "Start");
    await other.getByText("Eight boats pass.").waitFor();
    // A reload goes on with what was begun.
    await other.reload();
    await press(other, "Continue where you left off");
    await other.getByText("Eight boats pass.").waitFor();
    await choose(page, /^How often/, "per browser so often:");
    await again.reload();
    await press(again, "Start");
    await again.getByText("Eight boats pass.").waitFor();
    await Promise.all([page, first, other].map((each) => each.context().close()));
  });

  it("can be how many finish; who is inside then finishes, and the next one reads that it is full", async () => {
    const { link, page, panel } = await collecting(screens);
    await choose(page, /^How many/, /until so many have finished/);
    await stored(page, () => page.getByLabel("Finished sessions").fill("1"));
    const [inside, first] = [await visitor(screens, link), await visitor(screens, link)];
    await press(inside, "Start");
    await inside.getByText("Eight boats pass.").waitFor();
    await playToEnd(first);
    const late = await visitor(screens, link);
    await late.getByText("This study has all the participants it needs.").waitFor();
    await press(inside, "Continue");
    await keys(inside, "f");
    await press(inside, "Finish");
    await inside.getByText("Your completion code").waitFor();
    await panel.getByText("2 started, 2 finished").waitFor();
    await Promise.all([page, inside, first, late].map((each) => each.context().close()));
  });

  it("can be that nobody goes on once they have left; what they did is kept all the same", async () => {
    const { code, link, page, panel } = await collecting(screens);
    await choose(page, /^Going on/, "not go on once they have left");
    const who = await visitor(screens, link);
    await press(who, "Start");
    await press(who, "Continue");
    await scene(who, "target");
    await who.reload();
    await press(who, "Continue where you left off");
    await who.getByText("The time in which this study could be continued is over.").waitFor();
    await panel.getByText("1 started, 0 finished").waitFor();
    await choose(page, /^Going on/, /within some hours/);
    await who.reload();
    await press(who, "Continue where you left off");
    expect(await scene(who, "target")).toBe(1);
    await choose(page, /^Going on/, "not go on once they have left");
    // What is recorded and has not arrived is taken in all the same; and one may begin anew, as the link says.
    await who.route("**/api/session/records", (route) => route.abort());
    await who.keyboard.press("f");
    await who.getByRole("button", { name: "Finish" }).waitFor();
    await who.unroute("**/api/session/records");
    await who.reload();
    await press(who, "Continue where you left off");
    await who.getByText("The time in which this study could be continued is over.").waitFor();
    const { "trials.csv": trials = [] } = await exportedFrom(screens.server, screens.browser, code);
    expect(trials.map(({ answer }) => answer)).toEqual(["f"]);
    await press(who, "Continue");
    await playToEnd(who);
    await panel.getByText("2 started, 1 finished").waitFor();
    await Promise.all([page, who].map((each) => each.context().close()));
  });

  it("is refused where it makes no sense, and belongs to the study", async () => {
    const { code, link, page } = await collecting(screens);
    const token = link.split("/").at(-1);
    const post = (body: object, of = code) =>
      page.request.post(`${screens.server.address}/studies/${of}/collect.data`, {
        data: body,
        headers: { Origin: screens.server.address },
      });
    const open = { who: { kind: "anyone" }, goOn: { kind: "whenever" }, says: {} };
    const statuses = [];
    for (const body of [
      {
        do: "set-link",
        link: token,
        terms: { ...open, until: { at: "2026-12-01T00:00:00.000Z", zone: "Atlantis/Harbour" } },
      },
      { do: "set-link", link: token, terms: { ...open, mostFinished: 0 } },
      { do: "set-link", link: token, label: "x".repeat(81) },
      { do: "set-link", link: token, label: "Poster in the hall" },
    ])
      statuses.push((await post(body)).status());
    expect(statuses.map((status) => status < 300)).toEqual([false, false, false, true]);
    await post({ do: "set-link", link: token, label: "Not mine" }, "amber-quay");
    await page.reload();
    await page.getByRole("group", { name: "Poster in the hall" }).waitFor();
    await page.context().close();
  });

  it("has a poster to print, with its address as a code that leads there", async () => {
    const { link, page, panel } = await collecting(screens);
    await panel.getByRole("link", { name: "Poster" }).click();
    await page.getByRole("heading", { name: "Eight boats" }).waitFor();
    await page.getByText(link, { exact: true }).waitFor();
    const code = page.getByRole("img", { name: `Code to scan: ${link}` });
    // It is drawn: as wide as it is high, with black and white in it.
    const drawn = await code.evaluate(async (image: HTMLImageElement) => {
      await image.decode();
      const canvas = Object.assign(document.createElement("canvas"), { width: 200, height: 200 });
      const surface = canvas.getContext("2d")!;
      surface.drawImage(image, 0, 0, 200, 200);
      const { data } = surface.getImageData(0, 0, 200, 200);
      return {
        ratio: image.naturalWidth / image.naturalHeight,
        tones: new Set(data.filter((_, at) => at % 4 === 0)).size,
      };
    });
    expect(drawn.ratio).toBe(1);
    expect(drawn.tones).toBeGreaterThan(1);
    await page.emulateMedia({ media: "print" });
    expect(await page.getByRole("button", { name: "Print" }).isVisible()).toBe(false);
    await page.context().close();
  });
});

describe("links for one person each", () => {
  it("are made from a pasted list, taken away as CSV, used once, gone on with elsewhere, and made anew", async () => {
    const { page } = await collecting(screens);
    await press(page, "Links for one person each");
    const dialog = page.getByRole("dialog", { name: "Links in First wave, one a person" });
    await dialog.getByRole("button", { name: "Make the links" }).click();
    await dialog.getByText("Name them, for example by the course.").waitFor();
    await dialog.getByLabel("What they are called together").fill("Students of course B");
    const names = Array.from({ length: 40 }, (_, index) => `course-b-${String(index + 1).padStart(2, "0")}`);
    const pasted = names.map((name, index) => (index === 4 ? `${name}\tcomes later` : name));
    await dialog.getByLabel(/^A name a line/).fill([...pasted, names[0]].join("\n"));
    await dialog.getByRole("button", { name: "Make the links" }).click();
    await dialog.getByText("Line 41: “course-b-01” stands in the list twice.").waitFor();
    await dialog.getByLabel(/^A name a line/).fill(pasted.join("\n"));
    await dialog.getByText("40 links: course-b-01 to course-b-40.").waitFor();
    await dialog.getByRole("button", { name: "Make the links" }).click();
    const panel = page.getByRole("group", { name: "Students of course B" });
    await panel.getByText("0 used, 0 finished").waitFor();
    const [file] = await Promise.all([
      page.waitForEvent("download"),
      panel.getByRole("button", { name: "Links as CSV" }).click(),
    ]);
    const rows = (await readFile(await file.path(), "utf8")).trim().split(/\r?\n/);
    expect(rows.length).toBe(41);
    const cellsOf = (row = "") => row.split(",");
    expect(cellsOf(rows[5]).slice(0, 2)).toEqual(["course-b-05", "comes later"]);
    const address = cellsOf(rows[1])[2] ?? "";
    const first = await visitor(screens, address);
    await press(first, "Start");
    await press(first, "Continue");
    await scene(first, "target");
    const elsewhere = await visitor(screens, address);
    await press(elsewhere, "Start");
    await scene(elsewhere, "target");
    await elsewhere.keyboard.press("f");
    await press(elsewhere, "Finish");
    await elsewhere.getByText("Your completion code").waitFor();
    const again = await visitor(screens, address);
    await again.getByText("You have taken part in this study already.").waitFor();
    await panel.getByText("1 used, 1 finished").waitFor();
    await panel.getByRole("button", { name: "One by one" }).click();
    await panel
      .getByRole("row", { name: /course-b-01/ })
      .getByText("finished")
      .waitFor();
    // Who lost theirs gets another address.
    const second = panel.getByRole("row", { name: /course-b-02/ });
    const before = await second.getByText("/join/").innerText();
    await second.getByRole("button", { name: "Give course-b-02 another address" }).click();
    await press(page, "Give another");
    await expect.poll(() => second.getByText("/join/").innerText()).not.toBe(before);
    const lost = await visitor(screens, before);
    await lost.getByText("This link does not lead to a study that is open.").waitFor();
    const found = await visitor(screens, await second.getByText("/join/").innerText());
    await found.getByRole("button", { name: "Start", exact: true }).waitFor();
    await panel.getByRole("button", { name: "Close the links" }).click();
    await panel.getByText("Closed: no one can begin with them.").waitFor();
    await Promise.all([page, first, elsewhere, again, lost, found].map((each) => each.context().close()));
  });
});
