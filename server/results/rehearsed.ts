import type { ShownTable } from "../../core/export/tables/table";
import type { Store } from "../database/open";
import { DataReader } from "../export/reader";
import { listSessions, type SessionLine } from "../session-list";
import type { Study } from "../studies";
import { sessionTables } from "./records";
import { thresholdsOf, type FoundThreshold } from "./thresholds";
import type { Watched } from "../../core/run/onlooker";
import { watchedIn } from "./watched";
import { timingOf, type ToldTiming } from "./timing";

/** Rehearsals listed. */
const most = 8;

export type Rehearsed = {
  pilots: SessionLine[];
  chosen: string | null;
  rows: ShownTable | null;
  answers: ShownTable | null;
  timing: ToldTiming | null;
  /** How values followed the answers. */
  thresholds: FoundThreshold[];
  /** What values are now, and what rules did; null where that is not told. */
  watched: Watched | null;
};

/** The newest rehearsals, with the records and the timing of one of them: the one asked for, or the newest. */
export async function rehearsed(store: Store, study: Study, asked: string | null): Promise<Rehearsed> {
  const pilots = await listSessions(store, study.id, { pilots: true, limit: most });
  const chosen = asked ?? pilots[0]?.id ?? null;
  if (chosen === null || !pilots.some(({ id }) => id === chosen))
    return { pilots, chosen, rows: null, answers: null, timing: null, thresholds: [], watched: null };
  const whole = await DataReader.open(store, study, { pilots: true });
  const reader = whole.only(({ facts }) => facts.session === chosen);
  return {
    pilots,
    chosen,
    ...(await sessionTables(reader)),
    timing: await timingOf(reader),
    thresholds: await thresholdsOf(reader),
    watched: await watchedIn(reader),
  };
}
