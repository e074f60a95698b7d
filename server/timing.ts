import { TimingGatherer, type TimingReport } from "../core/timing/report";
import { verdict } from "../core/timing/verdict";
import type { Store } from "./database/open";
import { trialsOf } from "./data-export";
import { displayIn } from "./record-shape";
import type { Study } from "./studies";

export type ToldTiming = TimingReport & { verdict: string[] };

/** Planned against measured over all sessions that are not rehearsals, or in one session of any kind. */
export async function timingOf(store: Store, study: Study, session: string | null = null): Promise<ToldTiming> {
  let sessions = store.db.selectFrom("session").select(["id", "browser", "display"]).where("study_id", "=", study.id);
  if (session !== null) sessions = sessions.where("id", "=", session);
  const rows = await sessions.execute();
  const known = new Map(rows.map(({ id, browser, display }) => [id, { browser, display: displayIn(display) }]));
  const timing = new TimingGatherer();
  for await (const trials of trialsOf(
    store,
    study,
    session !== null,
    (each) => session === null || each.session === session,
  )) {
    for (const { facts, document, record } of trials) {
      const { browser = "", display = null } = known.get(facts.session) ?? {};
      timing.add({ session: facts.session, participant: facts.participant, browser, display }, document, record);
    }
    await new Promise<void>((resolve) => setImmediate(resolve));
  }
  const report = timing.report();
  return { ...report, verdict: verdict(report) };
}
