import type { SessionSource } from "../../core/export/tables/sessions";
import type { Orders } from "../../core/order/parts";
import { displayIn } from "../../core/records/log";
import { outcomesIn } from "../../core/records/outcomes";
import type { SessionRecord } from "../../core/records/record";
import { beginningOf } from "../session-of-secret";
import type { SessionInFull, Sitting } from "./reader";

/** What a session's row is read from: its records of pages, which hold the answers, and its last record, which tells what variables held. */
export const sessionSource = (
  { release, computer, facts: { study, wave } }: Sitting,
  row: SessionInFull,
  { records, last }: { records: readonly SessionRecord[]; last: SessionRecord | null },
): SessionSource => ({
  study,
  computer,
  release,
  wave,
  session: row.id,
  participant: row.participant,
  group: row.group_id,
  orders: JSON.parse(row.orders) as Orders,
  state: row.state,
  trials: row.trials,
  trialsPlanned: row.trials_planned,
  startedAt: row.started_at,
  seenAt: row.seen_at,
  finishedAt: row.finished_at,
  browser: row.browser,
  pilot: row.pilot === 1,
  sitting: row.sitting,
  stratum: row.stratum,
  because: row.excluded_because,
  isExcluded: row.excluded_at !== null,
  display: displayIn(row.display),
  removedAt: row.removed_at,
  outcomes: outcomesIn(records),
  variables: last?.variables ?? (row.given === null ? undefined : beginningOf(row).given),
});
