import { TimingGatherer, type TimingReport } from "../../core/timing/report";
import { verdict } from "../../core/timing/verdict";
import { displayIn } from "../../core/records/log";
import { otherTurns, type DataReader } from "../export/reader";
import type { Result } from "./result";

export type ToldTiming = TimingReport & { verdict: string[] };

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
  return { ...report, verdict: verdict(report) };
}

export const timing: Result<null, ToldTiming> = {
  ask: () => null,
  answer: ({ reader }) => timingOf(reader),
};
