import { unzipSync } from "fflate";
import Papa from "papaparse";
import type { Browser } from "playwright-core";
import { afterAll, beforeAll, expect, it } from "vitest";
import { downloaded, firstAccount, launch, openWindow, owner, saved } from "../support/browser";
import { scene, seenKeys, watchKeys } from "../support/participant";
import { startServer, type Running } from "../support/server";

let browser: Browser;
let server: Running;
beforeAll(async () => {
  [browser, server] = await Promise.all([launch(), startServer()]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

it("the whole way: sign in, new study, a scene changed, a row added, released, taken with real keys, exported and compared", async () => {
  const { page, complaints } = await openWindow(browser);
  await firstAccount(page, server.address);
  await page.getByRole("button", { name: owner.name }).click();
  await page.getByRole("menuitem", { name: "Sign out" }).click();
  await page.getByLabel("E-mail address").fill(owner.email);
  await page.getByLabel("Password").fill(owner.password);
  await page.getByRole("button", { name: "Sign in" }).click();

  await page.getByRole("button", { name: "New study" }).click();
  await page.getByLabel("Title").fill("Gull or ferry");
  await page.getByRole("button", { name: "Create study" }).click();
  await page.waitForURL("**/compose");

  // A scene is changed: the cross stays for 300 ms.
  await page.locator('[data-scene-button="fixation"]').click();
  await page.getByLabel("Duration in milliseconds").fill("300");
  await expect
    .poll(() => page.locator('[data-scene-button="fixation"]').getAttribute("aria-label"))
    .toContain("300 ms");

  // A row is added and filled by typing into the grid.
  await page.getByRole("button", { name: "Row", exact: true }).click();
  const cell = (row: number, column: number) => page.locator(".dsg-row").nth(row).locator(".dsg-cell").nth(column);
  await cell(3, 2).click();
  await page.keyboard.type("buoy");
  await page.keyboard.press("Tab");
  await page.keyboard.type("j");
  await page.keyboard.press("Enter");
  await expect.poll(() => page.locator("h2.caption").textContent()).toContain("3 rows, 3 trials");
  await saved(page);

  await page.getByRole("link", { name: "Collect" }).click();
  await page.getByRole("button", { name: "Release this version" }).click();
  await page.getByRole("button", { name: "Release it" }).click();
  const link = await page.locator("[data-entry-link]").textContent();
  expect(link).toContain("/join/");

  const participant = await openWindow(browser);
  await participant.page.goto(link ?? "");
  await participant.page.getByRole("button", { name: "Start" }).click();
  await participant.page.getByText("Welcome, and thank you").waitFor();
  await watchKeys(participant.page, "target");
  await participant.page.getByRole("button", { name: "Continue" }).click();
  let trial = 0;
  for (const [key, wait] of [
    ["f", 250],
    ["j", 400],
    ["f", 330],
  ] as const) {
    trial = await scene(participant.page, "target", trial);
    await participant.page.waitForTimeout(wait);
    await participant.page.keyboard.press(key);
  }
  const pressed = await (async () => {
    await participant.page.getByRole("button", { name: "Finish" }).waitFor();
    return seenKeys(participant.page);
  })();
  await participant.page.getByRole("button", { name: "Finish" }).click();
  await participant.page.getByText("Your completion code").waitFor();
  await expect.poll(() => participant.page.locator("output").textContent()).toMatch(/^\w{4}-\w{4}$/);
  expect(participant.complaints).toEqual([]);

  await page.getByRole("link", { name: "Results" }).click();
  await page.getByText("1 session in").waitFor();
  await page.getByRole("tab", { name: "export" }).click();
  const zip = unzipSync(
    await downloaded(page, () => page.getByRole("link", { name: "All data, for a statistics program (zip)" }).click()),
  );
  const trials = Papa.parse<Record<string, string>>(new TextDecoder().decode(zip["trials.csv"]).trimEnd(), {
    header: true,
  }).data;

  // The same as system files of statistics programs, by one press and without a setting.
  const { "trials.sav": sav } = unzipSync(
    await downloaded(page, () =>
      page.getByRole("link", { name: "All data, as system files of statistics programs, .sav (zip)" }).click(),
    ),
  );
  const bytes = Buffer.from(sav ?? new Uint8Array());
  expect(bytes.subarray(0, 4).toString()).toBe("$FL2");
  // The header says how many cases there are (offset 80).
  expect(bytes.readInt32LE(80)).toBe(3);

  const right: Record<string, string> = { gull: "f", ferry: "j", buoy: "j" };
  expect(trials.map(({ word }) => word).toSorted()).toEqual(["buoy", "ferry", "gull"]);
  expect(pressed.map(({ key }) => key)).toEqual(["f", "j", "f"]);
  trials.forEach((row, index) => {
    const press = pressed[index];
    expect(row).toMatchObject({
      study: expect.stringMatching(/^[a-z]+-[a-z]+/) as string,
      release: "1",
      participant: "1",
      group_name: "Everyone",
      part: "Block 1",
      pass: "1",
      trial: String(index + 1),
      answer: press?.key,
      is_right: press?.key === right[row.word ?? ""] ? "yes" : "no",
      key: right[row.word ?? ""],
      fixation_planned_ms: "300",
      target_planned_ms: "2000",
      pilot: "no",
      outcome: press?.key === right[row.word ?? ""] ? "right" : "wrong",
      row: String(["gull", "ferry", "buoy"].indexOf(row.word ?? "") + 1),
    });
    // The reaction time in the file against the key's own time stamp and the frame's, noted by the test itself.
    expect(Math.abs(Number(row.rt_ms) - (press?.rt ?? 0))).toBeLessThanOrEqual(1);
    // A machine that does other work too may show the fixation for longer; then the file says by how many frames.
    const late = Number(row.fixation_frames) - Number(row.fixation_planned_frames);
    expect(Math.abs(Number(row.fixation_lasted_ms) - 300 - (late * 1000) / 60)).toBeLessThanOrEqual(17);
    expect(late).toBeGreaterThanOrEqual(0);
    expect(late).toBeLessThanOrEqual(Number(row.late_frames));
    expect(Number(row.target_onset_ms)).toBeCloseTo(Number(row.fixation_onset_ms) + Number(row.fixation_lasted_ms), 0);
  });
  expect(complaints).toEqual([]);
});
