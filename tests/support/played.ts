import type { StudyDocument } from "~/core/design/document";
import { scoreOf } from "~/core/export/tables/score";
import { plainModel, simulateSession } from "~/core/simulate/participant";
import { wadersFromSource } from "~/demo/make-files";
import { newSecret } from "~/server/chance";
import type { Store } from "~/server/database/open";
import { DataReader } from "~/server/export/reader";
import { appendRecords } from "~/server/records";
import { startSession } from "~/server/sessions";
import type { Study } from "~/server/studies";
import { released } from "./store";

/** A study with two levels and more, played by some. */
export async function played(count: number, document: StudyDocument = wadersFromSource("demo").document) {
  const { store, study, link } = await released(document);
  const sessions: string[] = [];
  for (let at = 0; at < count; at++) sessions.push(await playedBy(store, link.token));
  return { store, study, link, sessions };
}

/** A session played to its end by the next participant; gives its id. */
export async function playedBy(store: Store, token: string): Promise<string> {
  const secret = newSecret();
  const started = await startSession(store, token, secret, "test browser");
  if (!started.ok) throw new Error(started.reason);
  const { document, participant, group, orders, seed, session } = started.session;
  const { records } = simulateSession(document, participant, { group, orders }, seed, plainModel);
  await appendRecords(store, secret, records);
  return session;
}
/** What unfolding the records gives: the main trials of each participant. */
export async function unfolded(store: Store, study: Study) {
  const trials: {
    participant: number;
    right: boolean | null;
    rt: number | null;
    level: unknown;
    direction: unknown;
    trial: number;
  }[] = [];
  const reader = await DataReader.open(store, study, { pilots: false });
  for await (const batch of reader.trials())
    for (const source of batch) {
      if (source.block.practice) continue;
      const { right, rt } = scoreOf(source);
      const row = source.block.table.rows.find(({ id }) => id === source.record.row);
      const cell = (wanted: string) =>
        row?.cells[source.block.table.columns.find(({ name }) => name === wanted)?.id ?? ""];
      trials.push({
        participant: source.facts.participant,
        right,
        rt,
        level: cell("neighbours"),
        direction: cell("direction"),
        trial: source.record.trial,
      });
    }
  return trials;
}
