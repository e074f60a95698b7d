import { LRUCache } from "lru-cache";
import { scoreOf } from "../../core/export/tables/score";
import type { RowSource } from "../../core/export/tables/trial-source";
import type { TrialScore } from "../../core/run/scoring";
import type { DataReader, Sitting } from "../export/reader";

/** A trial as far as conditions are compared: its row of the table, which trials share, and its score. */
export type ScoredRow = { of: RowSource; score: TrialScore };

/** Trials kept between questions, over all studies: about a hundred bytes each. */
const mostKept = 1_000_000;
const kept = new LRUCache<string, ScoredRow[]>({ maxSize: mostKept, sizeCalculation: (rows) => 1 + weightOf(rows) });
/** What drew from pools shares nothing with others, and takes four times as much. */
const weightOf = (trials: readonly ScoredRow[]): number =>
  trials.reduce((sum, { of }) => sum + (of.record.fromPools ? 4 : 1), 0);

const rows = new WeakMap<RowSource["document"], Map<string, RowSource>>();
/** One source for all trials of a row and group, so that what is read of it is worked out once; what drew from pools stands alone. */
function shared({ document, block, record: { row, fromPools }, facts: { group } }: RowSource): RowSource {
  if (fromPools) return { document, block, record: { row, fromPools }, facts: { group } };
  const known = rows.get(document) ?? new Map<string, RowSource>();
  rows.set(document, known);
  const key = `${block.id} ${row} ${group}`;
  const found = known.get(key) ?? { document, block, record: { row }, facts: { group } };
  known.set(key, found);
  return found;
}

/**
 * The scored trials of these sessions, session by session; of those that came again their first showing. What was read of a session is kept until it goes on, so that
 * another question about the same data reads only what is new.
 */
export async function* scoredRows(reader: DataReader): AsyncGenerator<{ sitting: Sitting; trials: ScoredRow[] }> {
  const keyOf = ({ row }: Sitting) => `${row.id} ${row.trials} ${row.removed_at ?? ""}`;
  const unread: Sitting[] = [];
  for (const sitting of reader.sittings) {
    const trials = kept.get(keyOf(sitting));
    if (trials) yield { sitting, trials };
    else unread.push(sitting);
  }
  const read = new Map(unread.map((sitting) => [sitting.facts.session, { sitting, trials: [] as ScoredRow[] }]));
  // Batches come session by session: one is complete when the next begins.
  let present = "";
  const complete = (session: string) => {
    const found = read.get(session);
    read.delete(session);
    if (found) kept.set(keyOf(found.sitting), found.trials);
    return found;
  };
  for await (const batch of reader.trials(unread))
    for (const source of batch) {
      const { session } = source.facts;
      if (present !== "" && session !== present) {
        const done = complete(present);
        if (done) yield done;
      }
      present = session;
      // Of trials that come again the first showing is compared.
      if (source.record.showing === undefined)
        read.get(session)?.trials.push({ of: shared(source), score: scoreOf(source) });
    }
  for (const session of [...read.keys()]) {
    const done = complete(session);
    if (done) yield done;
  }
}
