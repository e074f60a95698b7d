import { networkInterfaces } from "node:os";
import type { Page } from "playwright-core";
import { expect, it } from "vitest";
import { partNodes } from "~/core/design/lookup";
import { openedStore } from "~/server/database/open";
import { keys } from "~/tests/support/boats";
import { openWindow } from "~/tests/support/browser";
import { oneBoat } from "~/tests/support/collecting";
import { exportedBy, press } from "~/tests/support/short-study";
import { miras, shareWith, signIn, teamScreens, windowOf } from "~/tests/support/team";

// As in a closed network: others reach it by its number, over plain HTTP.
const screens = teamScreens({ HOST: "0.0.0.0" });
const here = () => {
  const own = Object.values(networkInterfaces())
    .flatMap((each) => each ?? [])
    .find(({ family, internal }) => family === "IPv4" && !internal);
  return `http://${own?.address ?? "127.0.0.1"}:${screens.server.port}`;
};
const key = "tide-7";

/** The page of a computer that Mira has enrolled for studies, signed out again. */
async function enrolled(name: string, ...codes: string[]): Promise<Page> {
  const { page } = await openWindow(screens.browser);
  await signIn(page, here(), "mira");
  await page.waitForURL("**/studies");
  await page.goto(`${here()}/laboratory`);
  await page.getByLabel("Name of the computer").fill(name);
  await page.getByLabel("The assistants’ key").fill(key);
  for (const code of codes) await page.locator(`[data-study][value="${code}"]`).check();
  await press(page, "Enrol this computer");
  await page.getByRole("heading", { name }).waitFor();
  await page.goto(`${here()}/account`);
  await press(page, "Mira Sandvik");
  await page.getByRole("menuitem", { name: "Sign out" }).click();
  await page.waitForURL("**/sign-in");
  return page;
}
const lines = (page: Page) => page.locator("[data-lab-list] tbody tr").allInnerTexts();
const openList = async (page: Page) => {
  await page.getByLabel("Key").fill(key);
  await press(page, "Open the list");
};
/** The study of one trial, from its first page to the way back. */
async function playedThrough(page: Page): Promise<void> {
  await page.waitForURL("**/play?**");
  await press(page, "Continue");
  await keys(page, "f");
  await press(page, "Finish");
  await page.getByText("Your completion code").waitFor();
}

it("an assistant's day at an enrolled computer: who is next, a start without a password, the way back with the key, the log", async () => {
  const document = oneBoat();
  const { code } = miras(screens, document);
  const { code: other } = miras(screens, { ...oneBoat(), title: "Not for this computer" });
  const page = await enrolled("Laboratory 2", code);
  // It is known as what it is, and opens nothing else.
  await page.goto(here());
  await page.getByRole("heading", { name: "Laboratory 2" }).waitFor();
  expect(await page.getByText("Not for this computer").count()).toBe(0);
  for (const path of [
    `/studies/${code}/results`,
    `/studies/${code}/plan`,
    `/studies/${other}/laboratory`,
    "/studies",
  ]) {
    await page.goto(`${here()}${path}`);
    await page.getByRole("button", { name: "Sign in" }).waitFor();
  }
  await page.goto(`${here()}/laboratory`);
  await page.getByRole("link", { name: new RegExp(document.title) }).click();
  await press(page, "Start participant 1");
  await playedThrough(page);
  await page.getByRole("link", { name: "For the assistant" }).click();
  await page.getByText("The list is closed.").waitFor();
  // Whoever takes part goes nowhere from here, by no address.
  for (const path of [`/studies/${code}/laboratory`, "/laboratory", "/"]) {
    await page.goto(`${here()}${path}`);
    await page.getByText("The list is closed.").waitFor();
    expect(await page.locator("[data-lab-list]").count()).toBe(0);
  }
  expect(await page.evaluate((address) => fetch(address).then(({ status }) => status), `/studies/${code}/lab`)).toBe(
    403,
  );
  await page.goto(`${here()}/studies/${code}/laboratory`);
  await page.getByLabel("Key").fill("ebb-7");
  await press(page, "Open the list");
  await page.getByText("This is not the key of this computer.").waitFor();
  await openList(page);
  await expect
    .poll(async () => (await lines(page)).map((line) => line.replaceAll(/\s+/g, " ")))
    .toEqual([expect.stringMatching(/^2 next$/), expect.stringMatching(/^1 finished/)]);
  await page.getByLabel("What happened").fill("Window blind closed at 10:20.");
  await press(page, "Note it");
  await page.getByText("“Window blind closed at 10:20.” Laboratory 2").waitFor();

  // A number that is said, and one that is refused in words.
  await page.getByLabel("Number of the participant").fill("31");
  await press(page, "Start participant 31");
  await playedThrough(page);
  await page.getByRole("link", { name: "For the assistant" }).click();
  await openList(page);
  await expect.poll(async () => (await lines(page))[0]).toMatch(/^32\s+next/);

  // What was noted stands with the session, for those who may see it; the computer is listed, and dismissed.
  const mira = await windowOf(screens, "mira");
  await mira.goto(`${screens.server.address}/studies/${code}/collect`);
  await mira.getByRole("link", { name: "1", exact: true }).click();
  await mira.getByText("Window blind closed at 10:20.").waitFor();
  await mira.goto(`${screens.server.address}/studies/${code}/people`);
  await mira.getByText("not tested yet").waitFor();
  await press(mira, "Dismiss");
  await mira.getByText("may no longer start sessions").waitFor();
  // The data go on saying where they were collected.
  const files = await exportedBy(mira, screens.server.address, code);
  expect(files["sessions.csv"]?.map(({ laboratory_computer }) => laboratory_computer)).toEqual([
    ...["Laboratory 2", "Laboratory 2"],
  ]);
  await page.goto(`${here()}/studies/${code}/laboratory`);
  await page.getByRole("button", { name: "Sign in" }).waitFor();
});

it("an assistant sees no group, unless the study says so; due sittings are listed and begin with what was given before", async () => {
  const document = oneBoat();
  document.sittings = [
    { id: "one", name: "First sitting", reminder: "" },
    { id: "two", name: "A week later", due: { from: 6, until: 8, late: "may" }, reminder: "" },
  ];
  for (const node of partNodes(document.runningOrder)) if (node.part === "boats") node.onlySittings = ["one", "two"];
  document.groups = ["ebb", "flood"].map((id) => ({ ...document.groups[0]!, id, name: id }));
  const { code } = miras(screens, document);
  const mira = await windowOf(screens, "mira");
  await mira.goto(`${screens.server.address}/studies/${code}/people`);
  await shareWith(mira, "ada", "assistant");
  const ada = await windowOf(screens, "ada");
  await ada.getByRole("link", { name: document.title }).first().click();
  await ada.waitForURL("**/laboratory");
  await press(ada, "Start participant 1");
  await playedThrough(ada);
  await ada.getByRole("link", { name: "For the assistant" }).click();
  await expect.poll(async () => (await lines(ada)).length).toBe(2);
  const seen = await ada.evaluate((address) => fetch(address).then((answer) => answer.text()), `/studies/${code}/lab`);
  for (const group of ["ebb", "flood"]) {
    expect(await ada.content()).not.toContain(group);
    expect(seen).not.toContain(group);
  }
  await ada.goto(`${screens.server.address}/studies/${code}/collect`);
  await ada.getByText("You are an assistant in this study.").waitFor();

  const store = openedStore(screens.server.folder, undefined);
  await store.db
    .updateTable("session")
    .set({ finished_at: new Date(Date.now() - 7 * 86_400_000).toISOString() })
    .where("participant", "=", 1)
    .execute();
  await store.close();
  await mira.getByLabel("Assistants are shown in which group a participant is").click();
  await mira.locator("[data-log]").getByText("Assistants are shown the groups.").waitFor();
  await ada.goto(`${screens.server.address}/studies/${code}/laboratory`);
  await ada.getByRole("columnheader", { name: "group" }).waitFor();
  await ada
    .getByRole("row", { name: /due since/ })
    .getByRole("button", { name: "1" })
    .click();
  await ada.getByText("Participant").first().waitFor();
  await press(ada, "Start participant 1");
  await playedThrough(ada);
  const sessions = (await exportedBy(mira, screens.server.address, code))["sessions.csv"];
  expect(sessions?.map(({ participant, sitting }) => `${participant} ${sitting}`)).toEqual(["1 1", "1 2"]);
  expect(new Set(sessions?.map(({ group_name }) => group_name)).size).toBe(1);
});
