import type { Browser } from "playwright-core";
import { afterAll, beforeAll, expect, it } from "vitest";
import { partNodes } from "~/core/design/lookup";
import { openedStore } from "~/server/database/open";
import { boats, keys } from "~/tests/support/boats";
import { launch, lookAround, openWindow, saved } from "~/tests/support/browser";
import { startServer, type Running } from "~/tests/support/server";
import { exportedFrom, importReleased, press } from "~/tests/support/short-study";

let server: Running;
let browser: Browser;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer({ demo: true })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

/** All sessions ended so many days earlier than they did. */
async function daysPass(days: number) {
  const store = openedStore(server.folder, undefined);
  const rows = await store.db
    .selectFrom("session")
    .select(["id", "finished_at"])
    .where("finished_at", "is not", null)
    .execute();
  for (const { id, finished_at } of rows)
    await store.db
      .updateTable("session")
      .set({ finished_at: new Date(Date.parse(finished_at ?? "") - days * 86_400_000).toISOString() })
      .where("id", "=", id)
      .execute();
  await store.close();
}

it("a week after the first sitting the same person comes to the parts of the second, and is listed as due, then done", async () => {
  const document = boats((block) => void (block.table.rows = block.table.rows.slice(0, 1)));
  document.sittings = [
    { id: "one", name: "First sitting", reminder: "" },
    {
      id: "two",
      name: "A week later",
      due: { from: 6, until: 8, late: "may" },
      reminder: "{{who}}, come back by {{until}}: {{link}}",
    },
  ];
  for (const node of partNodes(document.runningOrder)) if (node.part === "boats") node.onlySittings = ["two"];
  const { code, link } = importReleased(server, document);
  const { page } = await openWindow(browser);
  await lookAround(page, server.address);
  await page.goto(`${server.address}/studies/${code}/collect`);
  const listed = (state: string) => page.locator(`tr[data-sitting-state="${state}"]`).filter({ hasText: "tern" });

  const { page: tern } = await openWindow(browser);
  await tern.goto(`${link}?participant=tern`);
  await press(tern, "Start");
  await press(tern, "Continue");
  await press(tern, "Finish");
  await tern.getByText("Your completion code").waitFor();
  await listed("waiting").getByText("1 of 2").waitFor();
  // Too early it is still the first one, which is over; on another computer it is said from when the next can begin.
  await tern.reload();
  await tern.getByText("Your completion code").waitFor();
  const { page: early } = await openWindow(browser);
  await early.goto(`${link}?participant=tern`);
  await early.getByText(/^Your next sitting can begin from/).waitFor();

  await daysPass(7);
  await page.reload();
  await listed("due").waitFor();
  await page.context().grantPermissions(["clipboard-read", "clipboard-write"]);
  await page.getByRole("button", { name: "Copy the reminder for participant 1" }).click();
  await page.getByText("The reminder is copied.").waitFor();
  const copied = await page.evaluate(() => navigator.clipboard.readText());
  expect(copied).toMatch(/^tern, come back by \w+ \d+: http.*\?participant=tern$/);
  await tern.goto("about:blank");
  await tern.goto(copied.split(": ").at(-1) ?? "");
  await press(tern, "Start");
  await press(tern, "Continue");
  await keys(tern, "f");
  await press(tern, "Finish");
  await tern.getByText("Your completion code").waitFor();
  await listed("done").getByText("2 of 2").waitFor();
  const { "trials.csv": trials = [], "sessions.csv": sessions = [] } = await exportedFrom(server, browser, code);
  expect(trials.map(({ participant, sitting }) => [participant, sitting])).toEqual([["1", "2"]]);
  expect(sessions.map(({ sitting, state }) => [sitting, state])).toEqual([
    ["1", "finished"],
    ["2", "finished"],
  ]);
});

it("sittings are made in Plan, parts are given to them, and each is rehearsed by itself", async () => {
  const { code } = importReleased(
    server,
    boats((block) => void (block.table.rows = block.table.rows.slice(0, 1))),
  );
  const { page } = await openWindow(browser);
  await lookAround(page, server.address);
  await page.goto(`${server.address}/studies/${code}/plan`);
  await page.getByRole("button", { name: "Several sittings of a person" }).click();
  await page.getByLabel("First day of sitting 2").fill("9");
  await page.getByRole("alert").getByText("Must be at most 8.").waitFor();
  await page.getByLabel("First day of sitting 2").fill("7");
  await page.locator('[data-part="boats"]').click();
  await page.getByLabel("First sitting", { exact: true }).uncheck();
  await page.locator('[data-part="boats"]').getByText("sitting 2").waitFor();
  await saved(page);
  await page.getByRole("link", { name: "Rehearse" }).click();
  const trial = page.frameLocator("iframe").locator("#stage .scene.shown");
  const played = page.frameLocator("iframe");
  await page.getByRole("button", { name: "Play here" }).click();
  await played.getByRole("button", { name: "Continue" }).click();
  await played.getByRole("button", { name: "Finish" }).waitFor();
  expect(await trial.count()).toBe(0);
});
