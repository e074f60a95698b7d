import { join } from "node:path";
import Sqlite from "better-sqlite3";
import { expect, it } from "vitest";
import type { SessionRecord } from "~/core/records/record";
import { launch, openWindow } from "~/tests/support/browser";
import { startServer } from "~/tests/support/server";
import { fourHead, fourOf, machineFacts, seededChance, tableOf } from "../load/machine";
import { freshFolder, releasedAt } from "../load/long-study";
import { seenIn, watchPage } from "../load/recorder";
import { keyStudy } from "../load/timed-study";

/** Keys sent through the browser's own protocol, and the reaction times that were stored, against stamps taken beside the player. */
const keys = Number(process.env.LAPWING_KEYS ?? 1000);

it("reaction-time", async () => {
  const facts = machineFacts();
  const seed = Number(process.env.LAPWING_SEED ?? Date.now() % 1_000_000);
  const chance = seededChance(seed);
  const folder = freshFolder();
  const { token } = await releasedAt(folder, keyStudy(keys), 0);
  const [browser, server] = await Promise.all([launch(), startServer({ folder })]);
  const { page, context } = await openWindow(browser);
  await watchPage(page);
  await page.goto(`${server.address}/join/${token}`);
  await page.getByRole("button", { name: "Start" }).click();
  const protocol = await context.newCDPSession(page);
  const origin = await page.evaluate(() => performance.timeOrigin);
  await page.getByRole("button", { name: "Continue" }).click();
  const sentAt: number[] = [];
  const key = { key: "f", code: "KeyF", windowsVirtualKeyCode: 70, text: "f" };
  for (let trial = 1; trial <= keys; trial++) {
    await page.waitForFunction(
      (wanted) => {
        const { scene, trial } = document.getElementById("stage")?.dataset ?? {};
        return scene === "target" && Number(trial) === wanted;
      },
      trial,
      { polling: "raf", timeout: 20_000 },
    );
    await new Promise((resolve) => setTimeout(resolve, 20 + 60 * chance()));
    sentAt.push(performance.timeOrigin + performance.now() - origin);
    await protocol.send("Input.dispatchKeyEvent", { type: "keyDown", ...key });
    await protocol.send("Input.dispatchKeyEvent", { type: "keyUp", ...key });
  }
  await page.getByRole("button", { name: "Finish" }).click();
  await page.getByText("Your completion code").waitFor({ timeout: 60_000 });
  const seen = await seenIn(page);
  await context.close();
  await browser.close();
  const db = new Sqlite(join(folder, "lapwing.db"), { readonly: true });
  const stored = (
    db.prepare("select body from record where kind = 'trial' order by number").all() as { body: string }[]
  ).map(({ body }) => JSON.parse(body) as Extract<SessionRecord, { kind: "trial" }>);
  db.close();
  await server.stop();
  const byTrial = new Map(seen.keys.map((each) => [each.trial, each]));
  const errors = stored.flatMap(({ trial, answers }) => {
    const [given, pressed, onset] = [answers[0]?.given, byTrial.get(trial), seen.onsets[trial]];
    return given && pressed && onset !== undefined ? [Math.abs(given.rt - (pressed.stamp - onset))] : [];
  });
  console.log(
    [
      `reaction-time, seed ${seed}: ${facts}`,
      tableOf([
        ["ms", "keys", ...fourHead],
        ["error of the stored reaction time", errors.length, ...fourOf(errors, 4)],
        [
          "event's own time to the script",
          seen.keys.length,
          ...fourOf(
            seen.keys.map(({ stamp, handled }) => handled - stamp),
            3,
          ),
        ],
        [
          "sent by the protocol to the event's own time",
          seen.keys.length,
          ...fourOf(
            seen.keys.map(({ stamp }, index) => stamp - (sentAt[index] ?? stamp)),
            3,
          ),
        ],
      ]),
    ].join("\n"),
  );
  expect(errors.length).toBe(keys);
});
