import type { Browser, Page } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Piece } from "~/core/design/page";
import type { StudyDocument } from "~/core/design/document";
import { launch, lookAround, newStudyInCompose, openWindow, saved, storedStudy } from "../support/browser";
import { pageOf, studyWithOpening } from "../support/forms";
import { startServer, type Running } from "../support/server";
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

/** Three pages before places are given, and one after them that tells which place it is. */
function pagesOnly(): StudyDocument {
  const study = studyWithOpening();
  const told: Piece = {
    kind: "text",
    id: "told",
    text: [
      {
        as: "paragraph",
        runs: [
          { text: "Number " },
          { ref: { builtIn: "participant.number" } },
          { text: " in " },
          { ref: { builtIn: "participant.group" } },
        ],
      },
    ],
  };
  const place = pageOf("place", [told], { continueLabel: "Finish" });
  const opening = study.runningOrder.slice(0, 3);
  const parts = Object.fromEntries(["consent", "about", "habits"].map((id) => [id, study.parts[id]!]));
  return {
    ...study,
    parts: { ...parts, place },
    runningOrder: [...opening, { kind: "part", part: "place" }],
  };
}

const field = (page: Page, name: string) => page.locator(`[data-question="${name}"]`);

/** From the link as far as the age. */
async function toAge(page: Page, link: string, takesPart: "yes" | "no", age?: number): Promise<void> {
  await page.goto(link);
  await press(page, "Start");
  await field(page, "takes_part").getByRole("radio", { name: takesPart }).check();
  await press(page, "Continue");
  if (age === undefined) return;
  await field(page, "age").getByRole("textbox").fill(String(age));
  await press(page, "Continue");
}

describe("places given after the first pages", () => {
  it("go to two who finish, and not to one who declines and one who is screened out", async () => {
    const { code, link } = importReleased(server, pagesOnly());
    const told: string[] = [];
    for (const [takesPart, age] of [
      ["no", undefined],
      ["yes", 24],
      ["yes", 15],
      ["yes", 41],
    ] as const) {
      const { page, context, complaints } = await openWindow(browser);
      await toAge(page, link, takesPart, age);
      if (takesPart === "yes" && age >= 18) {
        await page.locator("[data-question^=habit_]").first().waitFor();
        await press(page, "Continue");
        // Nothing was answered there: asked once more, then it goes on.
        await press(page, "Continue");
        told.push(await page.getByText(/^Number \d+ in /).innerText());
        await press(page, "Finish");
        await page.getByText("Your completion code").waitFor();
      } else await page.locator(".ending").waitFor();
      expect(complaints).toEqual([]);
      await context.close();
    }
    const files = await exportedFrom(server, browser, code);
    const sessions = (files["sessions.csv"] ?? []).toSorted((a, b) =>
      (a.started_at ?? "") < (b.started_at ?? "") ? -1 : 1,
    );
    expect(
      sessions.map(({ participant, group_name, stratum, state, age, order_of_parts }) => [
        participant,
        group_name,
        stratum,
        state,
        age,
        order_of_parts,
      ]),
    ).toEqual([
      ["", "", "", "declined", "", "Page consent > Page about > Page habits"],
      [
        "1",
        told[0]?.split(" in ")[1],
        "below 30",
        "finished",
        "24",
        "Page consent > Page about > Page habits > Page place",
      ],
      ["", "", "", "screened-out", "15", "Page consent > Page about > Page habits"],
      [
        "2",
        told[1]?.split(" in ")[1],
        "30 or more",
        "finished",
        "41",
        "Page consent > Page about > Page habits > Page place",
      ],
    ]);
    expect(told.map((each) => each.split(" ")[1])).toEqual(["1", "2"]);
    // Three of the six habits are asked, each as often as the others.
    const asked = (files["answers.csv"] ?? []).filter(
      ({ page, state }) => page === "Page habits" && state !== "not-shown",
    );
    expect(asked.map(({ session }) => session)).toHaveLength(6);
    // Collect tells who has no number, and leads to what is kept of them.
    const { page, context } = await openWindow(browser);
    await lookAround(page, server.address);
    await page.goto(`${server.address}/studies/${code}/collect`);
    const screened = page.locator('[data-session-state="screened-out"]');
    await expect.poll(() => screened.locator("td").first().innerText()).toBe("–");
    await screened.getByRole("link", { name: "data" }).click();
    await page.getByRole("heading", { name: "Somebody without a number" }).waitFor();
    await context.close();
  });

  it("are waited for while the network is away, which is said, also over a reload", async () => {
    const { link } = importReleased(server, pagesOnly());
    const { page, context } = await openWindow(browser);
    await toAge(page, link, "yes", 30);
    await page.locator("[data-question^=habit_]").first().waitFor();
    await page.route("**/api/session/**", (route) => route.abort());
    await press(page, "Continue");
    await press(page, "Continue");
    await page.getByText("The server cannot be reached just now").waitFor();
    await page.unroute("**/api/session/**");
    await page.route("**/api/session/place", (route) => route.abort());
    // What was answered is on this computer: it comes to the same point again.
    await page.reload();
    await press(page, "Continue where you left off");
    await page.getByText("The server cannot be reached just now").waitFor();
    await page.unroute("**/api/session/place");
    await page.getByText("Number 1 in ").waitFor();
    await page.reload();
    await press(page, "Continue where you left off");
    await page.getByText("Number 1 in ").waitFor();
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    await context.close();
  });
});

it("a rehearsal has its place from the beginning, and shows what is answered in the columns of the export", async () => {
  const { code } = importReleased(server, pagesOnly());
  const { page, context } = await openWindow(browser);
  await lookAround(page, server.address);
  await page.goto(`${server.address}/studies/${code}/rehearse`);
  await page.getByRole("textbox", { name: "Participant" }).fill("4");
  const [played] = await Promise.all([
    context.waitForEvent("page"),
    page.getByRole("button", { name: "Play in a new tab" }).click(),
  ]);
  await field(played, "takes_part").getByRole("radio", { name: "yes" }).check();
  await press(played, "Continue");
  await field(played, "age").getByRole("textbox").fill("52");
  await press(played, "Continue");
  await played.locator("[data-question^=habit_]").first().waitFor();
  await press(played, "Continue");
  await press(played, "Continue");
  await played.getByText(/^Number 4 in /).waitFor();
  await page.bringToFront();
  const answered = page.getByRole("row").filter({ hasText: "takes_part" });
  await expect.poll(() => answered.innerText()).toMatch(/yes/);
  await page.getByRole("row").filter({ hasText: "52" }).waitFor();
  await context.close();
});

describe("the line in Plan", () => {
  it("is moved below the first page by dragging, by keys and by choice, stays between the parts, and is undone", async () => {
    const { page, context } = await openWindow(browser);
    await lookAround(page, server.address);
    const code = await newStudyInCompose(page, server.address, "Where places are given");
    await page.getByRole("link", { name: "Plan" }).click();
    const table = page.getByRole("table", { name: "Running order" });
    const shown = () =>
      table
        .locator("[data-part-row], [data-places-line]")
        .evaluateAll((rows) => rows.map((row) => (row as HTMLElement).dataset.partRow ?? "line"));
    await table.locator("[data-part-row]").first().waitFor();
    const [first = "", block = "", last = ""] = (await shown()).slice(1);
    expect(await shown()).toEqual(["line", first, block, last]);
    const handle = page.getByRole("button", { name: /^Move the line/ });
    const grip = (await handle.boundingBox())!;
    const under = (await table.locator(`[data-part-row="${block}"]`).boundingBox())!;
    await page.mouse.move(grip.x + 5, grip.y + 5);
    await page.mouse.down();
    await page.mouse.move(grip.x + 5, grip.y + 20, { steps: 4 });
    await page.mouse.move(grip.x + 5, under.y + under.height - 3, { steps: 8 });
    await page.mouse.up();
    // Below trials it cannot go: it stops after the page before them.
    await expect.poll(shown).toEqual([first, "line", block, last]);
    await saved(page);
    const stored = await storedStudy(page, server.address, code);
    expect(stored.parts[stored.allocation.after ?? ""]?.name).toBe(first);
    await handle.focus();
    await page.keyboard.press("Space");
    await page.getByText("The line where places are given stays where it is.").waitFor({ state: "attached" });
    await page.keyboard.press("ArrowUp");
    await page.getByText(`The line where places are given takes the place of ${first}.`).waitFor({ state: "attached" });
    await page.keyboard.press("Space");
    await expect.poll(shown).toEqual(["line", first, block, last]);
    await table.getByRole("button", { name: "places are given here" }).click();
    await page.getByLabel("Places are given", { exact: true }).selectOption({ label: `after “${first}”` });
    await expect.poll(shown).toEqual([first, "line", block, last]);
    await page.getByText("Whoever declines or is screened out there takes no place").waitFor();
    // A page that goes above it stands above it; the page it stood after can go.
    await table.locator(`[data-part-row="${last}"] [data-part]`).press("Control+ArrowUp");
    await table.locator(`[data-part-row="${last}"] [data-part]`).press("Control+ArrowUp");
    await expect.poll(shown).toEqual([last, first, "line", block]);
    await table.locator(`[data-part-row="${first}"] [data-part]`).click();
    await page.getByRole("button", { name: "Remove the part" }).click();
    await page.getByRole("dialog").getByRole("button", { name: "Remove" }).click();
    await expect.poll(shown).toEqual([last, "line", block]);
    await page.keyboard.press("Control+z");
    await expect.poll(shown).toEqual([last, first, "line", block]);
    await context.close();
  });
});
