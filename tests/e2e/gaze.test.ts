import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { simulatedTracker } from "~/bridge/simulated-tracker";
import type { StudyDocument } from "~/core/design/document";
import { newGazeSettings } from "~/core/design/settings";
import { openedStore } from "~/server/database/open";
import { gazeOf } from "~/server/gaze";
import { boats, keys } from "~/tests/support/boats";
import { addTracker, laboratoryDevices, laboratoryOf, pairWith } from "~/tests/support/bridges";
import { collectingScreens } from "~/tests/support/collecting";
import { exportedFrom, press, type Row } from "~/tests/support/short-study";

const screens = collectingScreens();
const devices = laboratoryDevices();

const watchedBoats = (): StudyDocument =>
  boats((block, document) => {
    const shown = block.scenes.find(({ name }) => name === "target");
    // Each trial waits for its answer.
    if (shown) shown.lasts = { kind: "until-answer" };
    document.settings.gaze = newGazeSettings();
    document.settings.viewing = { distanceCm: 60, shorterSideCm: 30 };
  });

const laboratory = (document: StudyDocument) => laboratoryOf(screens, document);
const start = async (page: Page) => {
  await press(page, "Start participant 1");
  await page.waitForURL("**/play?**");
  await press(page, "Continue");
};
/** What was stored of the gaze of the one session of a study. */
async function stored(code: string) {
  const store = openedStore(screens.server.folder, undefined);
  try {
    const { id } = await store.db
      .selectFrom("session")
      .innerJoin("study", "study.id", "session.study_id")
      .select("session.id")
      .where("study.code", "=", code)
      .executeTakeFirstOrThrow();
    return await gazeOf(store, id);
  } finally {
    await store.close();
  }
}
const gazeEvents = async (code: string): Promise<Row[]> => {
  const files = await exportedFrom(screens.server, screens.browser, code);
  return (files["events.csv"] ?? []).filter(({ event }) => event?.startsWith("gaze"));
};
const goneOn = (times: Float64Array) => [...times].every((time, at) => time >= (times[at - 1] ?? -Infinity));

describe("gaze", () => {
  it("is recorded after a calibration with one bad point, goes on when the bridge was killed in the middle, and is all on the server", async () => {
    const folder = devices.folder();
    const bridge = await devices.bridge(folder);
    // The second point of the validation: nine are calibrated first.
    const tracker = await simulatedTracker(0, { looksAwayAt: 11, blinksPerMinute: 6 });
    devices.later(() => tracker.stop());
    const { page, code } = await laboratory(watchedBoats());
    await pairWith(page, bridge);
    await addTracker(page, tracker.port);
    const group = page.getByRole("group", { name: "Eye tracker" });
    await group.getByRole("button", { name: "Test" }).click();
    await group.getByText(/\d{3} samples a second, eyes seen in \d+ %/).waitFor();

    await start(page);
    await page.getByText("Both eyes are seen.").waitFor();
    await press(page, "Calibrate");
    await page.getByText("Not good enough.").waitFor();
    await page.getByText(/At one point it is off by/).waitFor();
    await press(page, "The worst point again");
    await page.getByText("Good enough.", { exact: false }).and(page.getByText(/^Good/)).waitFor();
    await press(page, "Go on");
    await keys(page, "fj");
    await bridge.stop();
    const told: string[] = [];
    await devices.bridge(folder, bridge.port, (line) => told.push(line));
    await expect.poll(() => told.some((line) => line.endsWith("is on.")), { timeout: 20_000 }).toBe(true);
    await keys(page, "fj", 2);
    // Gaze goes on while the page is read; some of it is on the server already.
    const { times: before } = await stored(code);
    await expect
      .poll(async () => (await stored(code)).times.length, { timeout: 30_000 })
      .toBeGreaterThan(before.length + 1500);
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();

    const { times, leftX, rightX } = await stored(code);
    expect(times.length).toBeGreaterThan(1000);
    expect(goneOn(times)).toBe(true);
    const seen = leftX.filter((x, at) => !Number.isNaN(x) || !Number.isNaN(rightX[at] ?? NaN)).length / times.length;
    expect(seen).toBeGreaterThan(0.8);
    const events = await gazeEvents(code);
    const of = (name: string) => events.filter(({ event }) => event === name).map(({ value }) => value ?? "");
    expect(of("gaze")).toEqual(["Eye tracker", "Eye tracker"]);
    expect(of("gaze-away")).toHaveLength(1);
    expect(of("gaze-calibration")).toHaveLength(2);
    const [first, second] = of("gaze-validation").map((value) => JSON.parse(value) as { worst: number });
    expect(first?.worst).toBeGreaterThan(3);
    expect(second?.worst).toBeLessThan(2);

    // Taken away in degrees, and read by what finds fixations.
    const file = join(folder, "gaze.csv");
    const lapwing = (...words: string[]) =>
      execFileSync("node", ["build/node/cli.js", ...words], {
        encoding: "utf8",
        env: { ...process.env, LAPWING_DATA: screens.server.folder },
        stdio: ["ignore", "pipe", "pipe"],
      });
    lapwing("gaze", code, "--out", file);
    const [head = "", ...lines] = readFileSync(file, "utf8").trim().split("\n");
    expect(lines).toHaveLength(times.length);
    // The simulated viewer was told where the boats are, and looked there: in the middle, and not where the last point was.
    const column = head.split(",").indexOf("left_y_deg");
    const last = lines.slice(-300).flatMap((line) => Number(line.split(",")[column] || NaN) || []);
    expect(Math.abs(last.toSorted((a, b) => a - b)[Math.floor(last.length / 2)] ?? NaN)).toBeLessThan(2);
    const fixations = lapwing("gaze", file)
      .split("\n")
      .filter((line) => line.includes(",fixation,"));
    expect(fixations.length).toBeGreaterThan(30);
  });

  it("is asked for where no tracker is reached, and the mouse can be taken for it", async () => {
    const { page, code } = await laboratory(watchedBoats());
    await start(page);
    await page.getByText("no eye tracker is reached from this computer", { exact: false }).waitFor();
    await press(page, "Look again");
    await page.getByText("no eye tracker is reached from this computer", { exact: false }).waitFor();
    await press(page, "Take the mouse for gaze");
    await page.mouse.move(400, 300);
    await keys(page, "fjfj");
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    const { times, leftX, leftY } = await stored(code);
    expect(times.length).toBeGreaterThan(20);
    const { width, height } = page.viewportSize() ?? { width: 0, height: 0 };
    const unit = Math.min(width, height) / 100;
    const there = leftX.findIndex((x) => Math.abs(x - (400 - width / 2) / unit) < 0.01);
    expect(leftY[there]).toBeCloseTo(-(300 - height / 2) / unit, 2);
    expect((await gazeEvents(code)).map(({ value }) => value)).toEqual(["mouse"]);
  });
});
