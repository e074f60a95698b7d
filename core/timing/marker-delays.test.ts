import { expect, it } from "vitest";
import type { LogEntry } from "../records/log";
import type { MarkerEntry } from "../records/marker-entry";
import { MarkerDelays } from "./marker-delays";

const entry = (at: number, on: MarkerEntry["on"], value: string | null = "7"): LogEntry => ({
  ...{ at, what: "marker" },
  value: JSON.stringify({ name: "boats", value, on }),
});
const to = (device: string, sent: number | null, confirmed: number | null): MarkerEntry["on"][number] => ({
  ...{ device, sent, confirmed, error: sent === null ? null : 0.2 },
});

it("are told of each device, with what was lost, and nothing of markers without a value or of other entries", () => {
  const delays = new MarkerDelays();
  delays.add([
    entry(100, [to("Amplifier", 101, 102), to("Notes", 103, null)]),
    entry(200, [to("Amplifier", 203, 206), to("Notes", null, null)]),
    entry(300, []),
    entry(400, [], null),
    { at: 500, what: "marker", value: "{}" },
    { at: 600, what: "focus-lost" },
  ]);
  expect(delays.report()).toMatchObject([
    {
      ...{ device: "Amplifier", count: 2, lost: 0, confirmed: 2, clockError: 0.2 },
      sentAfter: { median: 1, largest: 3 },
      confirmedAfter: { median: 2, largest: 6 },
    },
    { device: "Notes", count: 2, lost: 1, confirmed: 0, sentAfter: { median: 3 }, confirmedAfter: null },
    { device: "no bridge", count: 1, lost: 1, sentAfter: null, clockError: null },
  ]);
});
