import { expect, it } from "vitest";
import { partNodes } from "~/core/design/lookup";
import { openedStore } from "~/server/database/open";
import { keys } from "~/tests/support/boats";
import { saved } from "~/tests/support/browser";
import { collecting, collectingScreens, oneBoat, visitor } from "~/tests/support/collecting";
import { exportedFrom, press } from "~/tests/support/short-study";

const screens = collectingScreens();

/** All sessions ended so many days earlier than they did. */
async function daysPass(days: number) {
  const store = openedStore(screens.server.folder, undefined);
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
  const document = oneBoat();
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
  const { code, link, page } = await collecting(screens, document);
  const listed = (state: string) => page.locator(`tr[data-sitting-state="${state}"]`).filter({ hasText: "tern" });

  const tern = await visitor(screens, `${link}?participant=tern`);
  await press(tern, "Start");
  await press(tern, "Continue");
  await press(tern, "Finish");
  await tern.getByText("Your completion code").waitFor();
  await listed("waiting").getByText("1 of 2").waitFor();
  // Too early it is still the first one, which is over; on another computer it is said from when the next can begin.
  await tern.reload();
  await tern.getByText("Your completion code").waitFor();
  const early = await visitor(screens, `${link}?participant=tern`);
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
  const { "trials.csv": trials = [], "sessions.csv": sessions = [] } = await exportedFrom(
    screens.server,
    screens.browser,
    code,
  );
  expect(trials.map(({ participant, sitting }) => [participant, sitting])).toEqual([["1", "2"]]);
  expect(sessions.map(({ sitting, state }) => [sitting, state])).toEqual([
    ["1", "finished"],
    ["2", "finished"],
  ]);
});

it("sittings are made in Plan, parts are given to them, and each is rehearsed by itself", async () => {
  const { page } = await collecting(screens);
  await page.getByRole("link", { name: "Plan" }).click();
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
  await expect.poll(() => trial.count()).toBe(0);
});
