import { TimingGatherer, type TimingReport } from "../../core/timing/report";
import { verdict } from "../../core/timing/verdict";
import { displayIn } from "../../core/records/log";
import { sendsMarkers } from "../../core/design/all-markers";
import { MarkerDelays, type DeviceDelays } from "../../core/timing/marker-delays";
import { otherTurns, type DataReader, type Sitting } from "../export/reader";
import type { Result } from "./result";

export type ToldTiming = TimingReport & { verdict: string[]; markers: DeviceDelays[] };

/** Planned against measured over all sessions of a reader. */
export async function timingOf(reader: DataReader): Promise<ToldTiming> {
  // What was rehearsed faster was not shown as it is planned.
  const sittings = reader.sittings.filter(({ facts }) => (facts.begins?.rehearsal?.speed ?? 1) === 1);
  const displays = new Map(
    [...(await reader.inFull(sittings)).values()].map(({ id, browser, display }) => [
      id,
      { browser, display: displayIn(display) },
    ]),
  );
  const timing = new TimingGatherer();
  for await (const trials of reader.trials(sittings)) {
    for (const { facts, document, record } of trials) {
      const { browser = "", display = null } = displays.get(facts.session) ?? {};
      timing.add({ session: facts.session, participant: facts.participant, browser, display }, document, record);
    }
    await otherTurns();
  }
  const report = timing.report();
  return { ...report, verdict: verdict(report), markers: await markersOf(reader, sittings) };
}

/** How late markers reached their devices; nothing in studies that send none. */
async function markersOf(reader: DataReader, sittings: readonly Sitting[]): Promise<DeviceDelays[]> {
  if (!reader.documents.some(sendsMarkers)) return [];
  const delays = new MarkerDelays();
  for await (const entries of reader.logs(sittings)) delays.add(entries);
  return delays.report();
}

export const timing: Result<null, ToldTiming> = {
  ask: () => null,
  answer: ({ reader }) => timingOf(reader),
};
