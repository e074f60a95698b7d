import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Page } from "playwright-core";
import { afterEach } from "vitest";
import { Amplifier, atPort, type AmplifierOptions } from "~/bridge/amplifier";
import { startBridge, type Bridge } from "~/bridge/bridge";
import type { StudyDocument } from "~/core/design/document";
import { lookAround, openWindow } from "./browser";
import type { collectingScreens } from "./collecting";
import { importReleased, press } from "./short-study";

/** Bridges and stand-ins of devices, stopped after each test. */
export function laboratoryDevices() {
  const undone: (() => Promise<unknown>)[] = [];
  afterEach(async () => {
    for (const undo of undone.splice(0).toReversed()) await undo();
  });
  const folder = () => mkdtempSync(join(tmpdir(), "lapwing-bridge-"));
  return {
    folder,
    bridge: async (at = folder(), port = 0, tell?: (line: string) => void): Promise<Bridge> => {
      const bridge = await startBridge({ port, folder: at, ...(tell ? { tell } : {}) });
      undone.push(() => bridge.stop().catch(() => undefined));
      return bridge;
    },
    amplifier: async (options: AmplifierOptions = {}) => {
      const amplifier = new Amplifier(options);
      const { port, stop } = await atPort(amplifier, 0);
      undone.push(stop);
      return { amplifier, port };
    },
    later: (undo: () => Promise<unknown>) => void undone.push(undo),
  };
}

/** The laboratory’s page of a study that is released for it. */
export async function laboratoryOf(
  { server, browser }: Pick<ReturnType<typeof collectingScreens>, "server" | "browser">,
  document: StudyDocument,
): Promise<{ page: Page; code: string }> {
  const { code } = importReleased(server, document);
  const { page } = await openWindow(browser);
  await lookAround(page, server.address);
  await page.goto(`${server.address}/studies/${code}/laboratory`);
  await page.getByRole("heading", { name: "Who takes part now" }).waitFor();
  return { page, code };
}

/** Finds a bridge on the laboratory page and pairs it. */
export async function pairWith(page: Page, bridge: Bridge): Promise<void> {
  await page.getByLabel("Port", { exact: true }).fill(String(bridge.port));
  await press(page, "Look for the bridge");
  await page.getByLabel("Code").fill(bridge.code());
  await press(page, "Pair");
  await page.locator("[data-devices]").waitFor();
}

/** Adds a marker line at a port of this computer. */
export async function addLine(page: Page, name: string, port: number): Promise<void> {
  await press(page, "Device");
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Name").fill(name);
  await dialog.getByLabel("Reached by").selectOption("tcp");
  await dialog.getByLabel("Port").fill(String(port));
  await press(page, "Add it");
  await page.getByRole("group", { name }).waitFor();
}

/** Adds an eye tracker at a port of this computer. */
export async function addTracker(page: Page, port: number): Promise<void> {
  await press(page, "Device");
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("What it is").selectOption("tracker");
  await dialog.getByLabel("Port").fill(String(port));
  await press(page, "Add it");
  await page.getByRole("group", { name: "Eye tracker" }).waitFor();
}
