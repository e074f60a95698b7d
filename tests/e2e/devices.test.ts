import type { Page } from "playwright-core";
import { describe, expect, it } from "vitest";
import { Amplifier, atTerminal } from "~/bridge/amplifier";
import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";
import { boats, keys } from "~/tests/support/boats";
import { addLine, laboratoryDevices, laboratoryOf, pairWith } from "~/tests/support/bridges";
import { lookAround, openWindow, saved, storedStudy } from "~/tests/support/browser";
import { collectingScreens } from "~/tests/support/collecting";
import { scene } from "~/tests/support/participant";
import { exportedFrom, importReleased, press, type Row } from "~/tests/support/short-study";

const screens = collectingScreens();
const devices = laboratoryDevices();

/** Boats with a marker at each target (10 and its number), each answer, and the session. */
const markedBoats = (): StudyDocument =>
  boats((block: Block, document) => {
    const shown = block.scenes.find(({ name }) => name === "target");
    const target = shown?.id ?? "";
    // Each trial waits for its answer.
    if (shown) shown.lasts = { kind: "until-answer" };
    block.markers = [
      {
        ...{ id: "m-target", name: "boat", at: { on: "scene-begins", scene: target } },
        value: { calculate: "plus", of: [10, { from: { column: "boat" } }] },
      },
      {
        id: "m-answer",
        name: "answer",
        at: { on: "answer", answer: block.answers[0]?.id ?? "", how: "given" },
        value: 99,
      },
    ];
    document.settings.lightSquare = { corner: "upper-right", side: 6 };
    document.markers = [{ id: "m-end", name: "end", at: { on: "session-ends" }, value: 200 }];
  });

const laboratory = (document: StudyDocument) => laboratoryOf(screens, document);
const group = (page: Page, name: string) => page.getByRole("group", { name });
const markersIn = async (code: string): Promise<Row[]> => {
  const files = await exportedFrom(screens.server, screens.browser, code);
  return (files["events.csv"] ?? []).filter(({ event }) => event === "marker");
};

describe("devices of a laboratory", () => {
  it("are paired, added, tested with a wrong address and the right one, and get the markers of a session with their times", async () => {
    const bridge = await devices.bridge();
    const { amplifier, port } = await devices.amplifier();
    const serial = new Amplifier();
    const terminal = await atTerminal(serial);
    devices.later(() => terminal.stop());
    const { page, code } = await laboratory(markedBoats());

    // Nothing is done for a page without the code.
    await page.getByLabel("Port", { exact: true }).fill(String(bridge.port));
    await press(page, "Look for the bridge");
    await page.getByLabel("Code").fill("123");
    await press(page, "Pair");
    await page.getByText("This is not the code on the bridge’s screen.").waitFor();
    await page.getByLabel("Code").fill(bridge.code());
    await press(page, "Pair");

    // Port 1 of this computer is nobody's.
    await addLine(page, "Amplifier", 1);
    await group(page, "Amplifier").getByRole("button", { name: "Test" }).click();
    await group(page, "Amplifier").getByText("nothing listens at its port 1").waitFor();
    await page.getByRole("button", { name: "More of Amplifier" }).click();
    await page.getByRole("menuitem", { name: "Change…" }).click();
    await page.getByRole("dialog").getByLabel("Port").fill(String(port));
    await press(page, "Change it");
    await group(page, "Amplifier").getByRole("button", { name: "Test", exact: true }).click();
    await group(page, "Amplifier").getByText("40 messages sent, 40 answered, 0 lost").waitFor();
    await press(page, "Device");
    await page.getByRole("dialog").getByLabel("Name").fill("Serial line");
    await page.getByRole("dialog").getByLabel("Reached by").selectOption("serial");
    await page.getByRole("dialog").getByLabel("Port").fill(terminal.path);
    await press(page, "Add it");
    await group(page, "Serial line").getByRole("button", { name: "Test" }).click();
    await group(page, "Serial line").getByText("40 messages sent, 40 answered, 0 lost").waitFor();
    amplifier.received.length = 0;
    serial.received.length = 0;

    await press(page, "Start participant 1");
    await page.waitForURL("**/play?**");
    await page.getByRole("button", { name: "Continue" }).waitFor();
    // In each frame: which scene is on, and whether the light square is lit.
    await page.evaluate(() => {
      const seen = new Set<string>();
      Object.assign(globalThis, { seen });
      const look = () => {
        const stage = document.querySelector<HTMLElement>("#stage");
        const light = stage?.shadowRoot?.querySelector<HTMLElement>("[data-square='upper-right'] > div");
        if (stage?.dataset.scene && light) seen.add(`${stage.dataset.scene} ${light.style.opacity}`);
        requestAnimationFrame(look);
      };
      look();
    });
    await press(page, "Continue");
    await keys(page, "f");
    await keys(page, "jfj", 1);
    // Lit with the marked scene, and dark in the other one.
    const seen = await page.evaluate(() => [...(globalThis as unknown as { seen: Set<string> }).seen].sort());
    expect(seen).toEqual(["target 1", "wait 0.0001"]);
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    const expected = ["11", "99", "12", "99", "13", "99", "14", "99", "200"];
    expect(amplifier.received.map(({ value }) => value)).toEqual(expected);
    expect(serial.received.map(({ value }) => value)).toEqual(expected);

    const rows = await markersIn(code);
    for (const device of ["Amplifier", "Serial line"]) {
      const own = rows.filter((row) => row["device"] === device);
      expect(own.map(({ marker }) => marker)).toEqual(expected);
      expect(own.map(({ name }) => name).slice(0, 2)).toEqual(["boat", "answer"]);
      for (const row of own) {
        const [at, sent, confirmed, error] = ["at_ms", "sent_ms", "confirmed_ms", "clock_error_ms"].map((name) =>
          Number(row[name]),
        );
        expect(sent! + error!).toBeGreaterThanOrEqual(at!);
        expect(confirmed).toBeGreaterThanOrEqual(sent!);
        expect(row["value"]).toBe("sent");
      }
    }
    // The marker of a scene is planned for the frame in which the scene came on.
    const files = await exportedFrom(screens.server, screens.browser, code);
    const scenes = (files["events.csv"] ?? []).filter(({ event, name }) => event === "scene" && name === "target");
    expect(
      rows.filter(({ name, device }) => name === "boat" && device === "Amplifier").map((row) => row["at_ms"]),
    ).toEqual(scenes.map((row) => row["at_ms"]));
    await page.goto(`${screens.server.address}/studies/${code}/results?tab=timing`);
    const table = page.locator("[data-markers]");
    await table.getByText("Amplifier").waitFor();
    expect(await table.locator("tbody tr").first().locator("td").nth(1).innerText()).toBe("9");
  });

  it("that are away for a part of a session leave a gap that the data tell, and get what comes after", async () => {
    const folder = devices.folder();
    const bridge = await devices.bridge(folder);
    const { amplifier, port } = await devices.amplifier();
    const document = markedBoats();
    const trials = 20;
    const block = document.parts["boats"] as Block;
    block.order = { method: "as-listed", passes: trials / 4, limits: [] };
    const { page, code } = await laboratory(document);
    await pairWith(page, bridge);
    await addLine(page, "Amplifier", port);
    await press(page, "Start participant 1");
    await page.waitForURL("**/play?**");
    await press(page, "Continue");
    await keys(page, "f");
    await scene(page, "target", 1);
    await expect.poll(() => amplifier.received.length).toBe(3);
    // The bridge is killed, and started again in the middle of the session.
    await bridge.stop();
    await page.keyboard.press("j");
    let done = (await scene(page, "target", 2)) - 1;
    const told: string[] = [];
    await devices.bridge(folder, bridge.port, (line) => told.push(line));
    await expect.poll(() => told.join()).toMatch(/Session .+ is on/);
    // Clocks are compared before the next marker goes out.
    for (; amplifier.received.length === 3;) done = await keys(page, "f", done);
    await keys(page, "f".repeat(trials - done), done);
    await press(page, "Finish");
    await page.getByText("Your completion code").waitFor();
    const rows = await markersIn(code);
    const missing = rows.filter(({ value }) => value !== "sent");
    // The answer that came meanwhile and the scene after it, at least.
    expect(missing.length).toBeGreaterThanOrEqual(2);
    expect(rows).toHaveLength(2 * trials + 1);
    expect(rows.filter(({ value }) => value === "sent").map(({ marker }) => marker)).toEqual(
      amplifier.received.map(({ value }) => value),
    );
    const files = await exportedFrom(screens.server, screens.browser, code);
    const bridges = (files["events.csv"] ?? [])
      .filter(({ event }) => event?.startsWith("bridge-"))
      .map(({ event }) => event);
    expect(bridges).toEqual(["bridge-here", "bridge-away", "bridge-here"]);
  });
});

describe("markers", () => {
  it("are made beside what they mark, listed with their values, and those that cannot be told apart are found", async () => {
    const { code } = importReleased(
      screens.server,
      boats(() => undefined),
    );
    const { page } = await openWindow(screens.browser);
    await lookAround(page, screens.server.address);
    await page.goto(`${screens.server.address}/studies/${code}/compose?part=boats`);
    await page.getByRole("tab", { name: /Markers/ }).click();
    await press(page, "Add a marker");
    await page.getByRole("menuitem", { name: "scene “target” begins" }).click();
    await press(page, "Add a marker");
    await page.getByRole("menuitem", { name: "is given and wrong" }).click();
    const rows = page.locator("[data-markers] tbody tr");
    await expect.poll(() => rows.count()).toBe(2);
    expect(await rows.nth(1).locator("td").nth(3).innerText()).toBe("2");
    // The value of the scene's marker is ten and the number of the boat.
    await page.getByRole("button", { name: "Take the value of target from a name, or work it out" }).click();
    await page.getByRole("menuitem", { name: "plus", exact: true }).click();
    await page.getByLabel("the value of target, a number").first().fill("10");
    await page
      .getByRole("button", { name: "Take the value of target, a number from a name, or work it out" })
      .nth(1)
      .click();
    await page.getByRole("menuitem", { name: "boat", exact: true }).click();
    await expect.poll(() => rows.nth(0).locator("td").nth(3).innerText()).toBe("11, 12, 13, 14");
    // The other one gets a value of those.
    await page.getByRole("textbox", { name: /the value of .+ wrong/ }).fill("12");
    await saved(page);
    const { parts } = await storedStudy(page, screens.server.address, code);
    expect((parts["boats"] as Block).markers).toMatchObject([
      { value: { calculate: "plus", of: [10, { from: { column: "boat" } }] } },
      { at: { on: "answer", how: "wrong" }, value: 12 },
    ]);
    await page.getByRole("link", { name: "Rehearse" }).click();
    await page.getByText("so that the two cannot be told apart").first().waitFor();
  });
});

it("buttons of a controller answer trials, with how finely they were looked at", async () => {
  const { code, link } = importReleased(
    screens.server,
    boats((block) => {
      const shown = block.scenes.find(({ name }) => name === "target");
      if (shown) shown.lasts = { kind: "until-answer" };
      block.table.rows.forEach((row, index) => (row.cells["key"] = index % 2 === 0 ? "3" : "1"));
      Object.assign(block.answers[0]!, { by: [{ device: "gamepad", buttons: [1, 3] }] });
    }),
  );
  const { page } = await openWindow(screens.browser);
  // A controller of four buttons, as the browser would tell it.
  await page.addInitScript(() => {
    const down = new Set<number>();
    const pad = () => ({ timestamp: 0, buttons: [1, 2, 3, 4].map((button) => ({ pressed: down.has(button) })) });
    Object.assign(globalThis, { hold: (button: number) => down.add(button), letGo: () => down.clear() });
    navigator.getGamepads = () => [pad()] as unknown as ReturnType<typeof navigator.getGamepads>;
  });
  await page.goto(link);
  await press(page, "Start");
  await press(page, "Continue");
  let done = 0;
  for (const button of [3, 1, 1, 1]) {
    done = await scene(page, "target", done);
    await page.evaluate((number) => {
      const { hold } = globalThis as unknown as { hold: (button: number) => void };
      // A button that is not allowed is no answer.
      hold(2);
      requestAnimationFrame(() => requestAnimationFrame(() => hold(number)));
    }, button);
    await Promise.race([scene(page, "wait", done), page.getByRole("button", { name: "Finish" }).waitFor()]);
    await page.evaluate(() => (globalThis as unknown as { letGo: () => void }).letGo());
  }
  await press(page, "Finish");
  await page.getByText("Your completion code").waitFor();
  const files = await exportedFrom(screens.server, screens.browser, code);
  const rows = files["trials.csv"] ?? [];
  expect(rows.map((row) => `${row["answer"]} ${row["is_right"]}`)).toEqual(["3 yes", "1 yes", "1 no", "1 yes"]);
  for (const row of rows) {
    expect(Number(row["rt_ms"])).toBeGreaterThan(0);
    expect(Number(row["answer_polled_ms"])).toBeGreaterThan(0);
  }
});
