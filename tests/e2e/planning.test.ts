import { unzipSync } from "fflate";
import Papa from "papaparse";
import type { Page } from "playwright-core";
import { expect, it } from "vitest";
import { openWindow, downloaded, newStudyInCompose, saved, storedStudy } from "../support/browser";
import { withScreens } from "../support/screens";

const screens = withScreens();
const margin = (page: Page) => page.getByRole("complementary", { name: "Settings of what is selected" });
const row = (page: Page, name: string) => page.locator(`[data-part-row="${name}"] [data-part]`);
const rename = async (page: Page, label: string, name: string) => {
  await margin(page).getByLabel(label, { exact: true }).fill(name);
};

/** Takes part as someone would who presses F every now and then and every button there is, until the end. */
async function takePart(page: Page, link: string): Promise<void> {
  await page.goto(link);
  const button = page.locator("#page button");
  for (const end = Date.now() + 60_000; Date.now() < end;) {
    if (await page.locator("output").isVisible()) return;
    if (await button.isVisible()) await button.click({ timeout: 1000 }).catch(() => undefined);
    await page.keyboard.press("f");
    await page.waitForTimeout(40);
  }
  throw new Error("The session did not come to its end.");
}

it("two groups × a Latin bracket of three blocks between fixed pages, practice before, two limits: twelve sessions get exactly what was announced", async () => {
  const { page, server, browser } = screens;
  const code = await newStudyInCompose(page, server.address, "Lights over the quay");
  await page.locator('[data-scene-button="fixation"]').click();
  await page.getByLabel("Duration in milliseconds").fill("40");

  // Two limits on the order of the block's trials, in Plan's margin.
  await page.getByRole("link", { name: "Plan" }).click();
  await row(page, "Block 1").click();
  await rename(page, "Name", "Near");
  await margin(page).getByLabel("Passes").fill("4");
  for (const limit of ["A longest run of equal values", "Only some values in the first trials"]) {
    await margin(page).getByRole("button", { name: "Limit", exact: true }).click();
    await page.getByRole("menuitem", { name: limit }).click();
  }
  await margin(page).getByRole("button", { name: "Values: choose values" }).click();
  await page.getByRole("menuitem", { name: "gull", exact: true }).click();

  // Practice is the same block once more; the two others are copies of their own.
  const copy = async (from: string, how: string | RegExp, name: string) => {
    await row(page, from).click();
    await margin(page).getByRole("button", { name: "Copy the part" }).click();
    await page.getByRole("menuitem", { name: how }).click();
    await row(page, from === "Near" && /same/.test(String(how)) ? "Near again" : `${from} copy`).click();
    await rename(page, "Name", name);
  };
  await copy("Near", "An independent copy", "Mixed");
  await copy("Near", "An independent copy", "Far");
  await copy("Near", /The same block again/, "Practice");
  await margin(page).getByLabel("Practice: left out of results").check();
  await margin(page).getByLabel("Passes").fill("1");
  await row(page, "Practice").press("Control+ArrowUp");
  await page.getByRole("button", { name: "Group", exact: true }).click();
  await page.getByRole("menuitem", { name: "Another group" }).click();
  await rename(page, "Name", "Evening");

  // A bracket is made by selecting rows, here with the keyboard.
  await row(page, "Near").click();
  await row(page, "Near").press("Shift+ArrowDown");
  await row(page, "Far").press("Shift+ArrowDown");
  await margin(page).getByRole("button", { name: "Latin", exact: true }).click();
  await page.getByRole("button", { name: "Bracket: Latin, parts 3 to 5" }).waitFor();
  await expect.poll(() => page.locator("h1.caption").textContent()).toContain("6 combinations");
  await expect.poll(() => page.locator("[data-bracket-span]").count()).toBe(1);
  await saved(page);
  expect((await storedStudy(page, server.address, code)).runningOrder.map((node) => node.kind)).toEqual([
    "part",
    "part",
    "bracket",
    "part",
  ]);

  await margin(page).getByLabel("Participants listed").selectOption("12");
  const announced = await margin(page)
    .locator("tr[data-participant]")
    .evaluateAll((lines) =>
      lines.map((line) => ({
        group: line.querySelectorAll("td")[1]?.textContent?.trim() ?? "",
        order: [...line.querySelectorAll<HTMLElement>("td:nth-child(3) [title]")].map((each) => each.title),
      })),
    );
  expect(announced).toHaveLength(12);

  await page.getByRole("link", { name: "Collect" }).click();
  await page.getByRole("button", { name: "Release this version" }).click();
  await page.getByRole("button", { name: "Release it" }).click();
  const link = (await page.locator("[data-entry-link]").textContent()) ?? "";
  const one = async () => {
    const own = await openWindow(browser);
    await takePart(own.page, link);
    expect(own.complaints).toEqual([]);
    await own.context.close();
  };
  for (let pair = 0; pair < 6; pair++) await Promise.all([one(), one()]);

  await page.getByRole("link", { name: "Results" }).click();
  await page.getByRole("tab", { name: "export" }).click();
  const zip = unzipSync(
    await downloaded(page, () => page.getByRole("link", { name: "All data, for a statistics program (zip)" }).click()),
  );
  const trials = Papa.parse<Record<string, string>>(new TextDecoder().decode(zip["trials.csv"]).trimEnd(), {
    header: true,
  }).data;
  for (const [index, { group, order }] of announced.entries()) {
    const own = trials.filter(({ participant }) => participant === String(index + 1));
    expect(own).toHaveLength(2 + 3 * 8);
    expect(new Set(own.map((each) => each["group_name"]))).toEqual(new Set([group]));
    expect([...new Set(own.map(({ part }) => part))]).toEqual(["Practice", ...order]);
    for (const part of order) {
      const words = own.filter((each) => each.part === part).map(({ word }) => word);
      expect(words[0]).toBe("gull");
      expect(words.some((word, at) => at > 1 && word === words[at - 1] && word === words[at - 2])).toBe(false);
    }
  }
  const cells = announced.map(({ group, order }) => `${group} ${order.join()}`);
  expect(new Set(cells).size).toBe(6);
  for (const cell of cells) expect(cells.filter((each) => each === cell)).toHaveLength(2);

  // Plan shows beside the planned cells how they are filled.
  await page.getByRole("link", { name: "Plan" }).click();
  await page.getByRole("button", { name: "Who gets what" }).click();
  const filled = await margin(page)
    .locator("tr[data-cell] td:last-child")
    .evaluateAll((all) => all.map((cell) => cell.textContent));
  expect(filled).toEqual(new Array(6).fill("2"));
}, 300_000);

it("an impossible order is told with its reason, in the margin and before a release", async () => {
  const { page, server } = screens;
  const code = await newStudyInCompose(page, server.address, "Too many gulls");
  await page.getByRole("link", { name: "Plan" }).click();
  await saved(page);
  await row(page, "Block 1").click();
  await margin(page).getByRole("button", { name: "Limit", exact: true }).click();
  await page.getByRole("menuitem", { name: "A longest run of equal values" }).click();
  await page.getByRole("link", { name: "Compose" }).click();
  await page.locator(".dsg-row").nth(1).locator(".dsg-cell").nth(1).click();
  await page.keyboard.type("12");
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: "Plan" }).click();
  await row(page, "Block 1").click();
  const reason =
    "12 of 13 trials have word “gull”: with at most 2 in a row at least 5 others are needed between them, there is 1.";
  await margin(page).getByText(reason).waitFor();
  await expect.poll(() => page.locator("[data-breaks]").count()).toBe(1);
  await saved(page);
  await page.getByRole("link", { name: "Collect" }).click();
  await expect.poll(() => page.getByRole("button", { name: "Release this version" }).isDisabled()).toBe(true);
  const answer = await page.request.post(`${server.address}/studies/${code}/collect`, {
    headers: { Origin: server.address },
    data: { do: "freeze", note: "", waves: [] },
  });
  expect(answer.status()).toBe(422);
});

it("two hundred at once say whether the design is balanced, and give the method section", async () => {
  const { page, server } = screens;
  await page.goto(`${server.address}/studies/grey-ferry/plan`);
  await page.getByRole("button", { name: "200 at once" }).click();
  await page.locator("[data-balance='200']").waitFor({ timeout: 30_000 });
  const dialog = page.getByRole("dialog");
  await dialog.getByText("The 6 cells have 33 or 34 participants: as even as this number allows.").waitFor();
  await expect
    .poll(() => dialog.locator("[data-method]").textContent())
    .toContain(
      "Trial order was drawn anew for each participant from all orders with no more than 2 equal values of direction in a row and no row directly after itself.",
    );
});

it("sequences come as a file, are given to a block again, and a file that does not match is refused with its lines", async () => {
  const { page, server } = screens;
  const code = await newStudyInCompose(page, server.address, "Given tides");
  await page.getByRole("link", { name: "Plan" }).click();
  await saved(page);
  const file = await (await page.request.get(`${server.address}/studies/${code}/sequences.csv?participants=3`)).text();
  expect(file.split("\r\n")[0]).toBe("participant,group_name,part_place,part,pass,sub_block,trial,row,word,key");
  const unknown = await page.request.get(`${server.address}/studies/${code}/sequences.csv?release=9`);
  expect([unknown.status(), await unknown.text()]).toEqual([404, "There is no release 9 of this study."]);
  await row(page, "Block 1").click();
  await margin(page).getByLabel("Order", { exact: true }).selectOption("given");
  const upload = (text: string) =>
    page
      .getByLabel("File of sequences")
      .setInputFiles({ name: "tides.csv", mimeType: "text/csv", buffer: Buffer.from(text) });
  await upload("row,word\n1,gull\n2,heron\n9,gull\n");
  await margin(page).getByText("2 things do not match, so nothing was taken over:").waitFor();
  await margin(page).getByText("Line 4: there is no row “9”; the table has rows 1 to 2.").waitFor();
  await upload(file);
  await margin(page).getByText("3 sequences from tides.csv, 2 trials.").waitFor();
  await saved(page);
  const block = Object.values((await storedStudy(page, server.address, code)).parts).find(
    (part) => part.kind === "block",
  );
  expect(block?.kind === "block" && block.order.given?.sequences.map(({ participant }) => participant)).toEqual([
    1, 2, 3,
  ]);
});

it("a lab computer starts a session in a chosen group; a later sitting has the same place", async () => {
  const { page, server } = screens;
  await page.goto(`${server.address}/studies/amber-quay/collect`);
  for (const sitting of [1, 2]) {
    await page.goto(`${server.address}/studies/amber-quay/collect`);
    await page.getByRole("button", { name: "Start a session here" }).click();
    await page.getByLabel("Participant", { exact: true }).fill("501");
    if (sitting === 1) await page.getByLabel("Group", { exact: true }).selectOption({ label: "Sunset" });
    await page.getByRole("button", { name: "Start", exact: true }).click();
    await page.waitForURL(/\/play\?lab=amber-quay#/);
    await page.locator("#page button").waitFor();
  }
  await page.goto(`${server.address}/studies/amber-quay/collect`);
  const lines = page.locator("tr", { has: page.locator("td", { hasText: /^501$/ }) });
  await expect.poll(() => lines.count()).toBe(2);
  await expect
    .poll(() => lines.allTextContents())
    .toEqual([expect.stringMatching(/Sunset.*sitting 2/) as string, expect.stringMatching(/Sunset/) as string]);
  await lines.first().getByRole("button", { name: "do not count" }).click();
  await lines.first().getByRole("button", { name: "count again" }).waitFor();
  await expect.poll(() => lines.first().textContent()).toContain("does not count");
});
