import { afterAll, beforeAll, expect, it } from "vitest";
import type { Browser } from "playwright-core";
import { WebSocket } from "ws";
import { Amplifier, atPort } from "~/bridge/amplifier";
import { startBridge } from "~/bridge/bridge";
import type { Block } from "~/core/design/block";
import type { LogEntry } from "~/core/records/log";
import { markerEntryIn, type MarkerEntry } from "~/core/records/marker-entry";
import { BridgeLink, type MakeSocket } from "~/player/bridge/link";
import { openedStore } from "~/server/database/open";
import { launch, openWindow } from "~/tests/support/browser";
import { startServer, type Running } from "~/tests/support/server";
import { freshFolder, releasedAt } from "../load/long-study";
import { fourHead, fourOf, machineFacts, tableOf, watchSteal } from "../load/machine";
import { presentationStudy } from "../load/timed-study";

/**
 * Markers at the onset of every scene, in the production build, by a bridge and over a socket to a stand-in for an amplifier
 * that sends each back: how long after its frame each was handed over, and was known to have arrived; whether any was lost,
 * doubled, or came out of its order. The amplifier's own clock drifts by 50 ppm; its intervals are held against those planned.
 */
const wanted = Number(process.env.LAPWING_MARKERS ?? 2000);
let browser: Browser;
let server: Running;
let token = "";
const folder = freshFolder();
const facts = machineFacts();

beforeAll(async () => {
  ({ token } = await releasedAt(
    folder,
    () => {
      const document = presentationStudy(Math.ceil(wanted / 4));
      const block = Object.values(document.parts).find((part): part is Block => part.kind === "block") as Block;
      block.markers = block.scenes.map(({ id }, index) => ({
        ...{ id: `m-${index}`, name: `scene ${index + 1}`, at: { on: "scene-begins" as const, scene: id } },
        value: index + 1,
      }));
      return document;
    },
    0,
  ));
  [browser, server] = await Promise.all([launch(), startServer({ folder })]);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
});

/** How far times lie from a line through them over the planned ones: the jitter that is left without offset and drift. */
function jitter(planned: readonly number[], got: readonly number[]): number[] {
  const n = planned.length;
  const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / n;
  const [x, y] = [mean(planned), mean(got)];
  const slope =
    planned.reduce((sum, at, index) => sum + (at - x) * ((got[index] ?? 0) - y), 0) /
    planned.reduce((sum, at) => sum + (at - x) ** 2, 0);
  return planned.map((at, index) => Math.abs((got[index] ?? 0) - y - slope * (at - x)));
}

it("markers", async () => {
  const amplifier = new Amplifier({ driftPpm: 50 });
  const line = await atPort(amplifier, 0);
  const bridge = await startBridge({ port: 0, folder: freshFolder() });
  const make: MakeSocket = (address) =>
    new WebSocket(address, { origin: server.address }) as unknown as ReturnType<MakeSocket>;
  const link = await BridgeLink.reach(bridge.port, null, make);
  const secret = await link.pair(bridge.code());
  const settings = { kind: "tcp" as const, host: "127.0.0.1", port: line.port, pulseMs: 5, answers: true };
  await link.keep({ id: "amplifier", name: "Amplifier", settings });
  link.close();

  const { page, context } = await openWindow(browser);
  await context.addInitScript(
    (kept) => localStorage.setItem("lapwing-bridge", kept),
    JSON.stringify({ port: bridge.port, secret }),
  );
  await page.goto(`${server.address}/join/${token}`);
  await page.getByRole("button", { name: "Start" }).click();
  const steal = watchSteal();
  await page.getByRole("button", { name: "Continue" }).click();
  await page.getByRole("button", { name: "Finish" }).waitFor({ timeout: wanted * 500 });
  const taken = steal();
  await page.getByRole("button", { name: "Finish" }).click();
  await page.getByText("Your completion code").waitFor();
  await context.close();
  await bridge.stop();
  await line.stop();

  const opened = openedStore(folder, undefined);
  const chunks = await opened.db.selectFrom("session_log").select("entries").execute();
  await opened.close();
  const told = chunks
    .flatMap(({ entries }) => JSON.parse(entries) as LogEntry[])
    .flatMap(({ what, at, value }) => {
      const entry = what === "marker" ? markerEntryIn(value) : null;
      return entry ? [{ at, ...(entry satisfies MarkerEntry) }] : [];
    })
    .sort((a, b) => a.at - b.at);
  const late = (read: (on: MarkerEntry["on"][number]) => number | null) =>
    told.flatMap(({ at, on: [device] }) => {
      const time = device ? read(device) : null;
      return time === null ? [] : [time - at];
    });
  const [sent, confirmed] = [late((each) => each.sent), late((each) => each.confirmed)];
  const errors = told.flatMap(({ on: [device] }) => (device?.error == null ? [] : [device.error]));
  const expected = told.map(({ value }) => value);
  const lost = expected.length - amplifier.received.length;
  console.log(
    [
      `markers: ${facts}`,
      tableOf([
        ["ms after the frame", "markers", ...fourHead],
        ["handed to the device", sent.length, ...fourOf(sent, 2)],
        ["sent back by the device", confirmed.length, ...fourOf(confirmed, 2)],
        [
          "amplifier’s clock, off a line",
          amplifier.received.length,
          ...fourOf(
            jitter(
              told.map(({ at }) => at),
              amplifier.received.map(({ at }) => at),
            ),
            2,
          ),
        ],
        ["clocks off by at most", errors.length, ...fourOf(errors, 2)],
      ]),
      `lost or doubled: ${lost}`,
      taken,
    ].join("\n"),
  );
  expect(amplifier.received.map(({ value }) => value)).toEqual(expected);
  expect(expected.length).toBeGreaterThanOrEqual(wanted);
});
