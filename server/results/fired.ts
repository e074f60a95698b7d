import { allRules } from "../../core/design/all-rules";
import type { SessionRecord } from "../../core/records/record";
import type { Id } from "../../core/values/ref";
import type { Store } from "../database/open";
import { otherTurns } from "../export/reader";
import type { Study } from "../studies";

/** How often each rule did something in the last rehearsal of a study: in how many trials of how many. */
export type LastFired = { fired: Record<Id, { trials: number; of: number }> } | null;

/** So many records are read at a time, and at most so many in all: what is being written does not wait for them. */
const [atOnce, most] = [200, 2000];

/** Null where the study has no rules, or was never rehearsed. Of a block's rules the trials of that block count. */
export async function lastFired({ db }: Store, study: Study): Promise<LastFired> {
  if (allRules(study.document).length === 0) return null;
  const session = await db
    .selectFrom("session")
    .select("id")
    .where("study_id", "=", study.id)
    .where("pilot", "=", 1)
    .where("trials", ">", 0)
    .orderBy("started_at", "desc")
    .limit(1)
    .executeTakeFirst();
  if (!session) return null;
  const trials = new Map<Id, number>();
  const by = new Map<Id, { trials: number; parts: Set<Id> }>();
  for (let read = 0, after = 0; read < most; read += atOnce) {
    const rows = await db
      .selectFrom("record")
      .select(["number", "body"])
      .where("session_id", "=", session.id)
      .where("kind", "=", "trial")
      .where("number", ">", after)
      .orderBy("number")
      .limit(atOnce)
      .execute();
    for (const { body } of rows) {
      const record = JSON.parse(body) as Extract<SessionRecord, { kind: "trial" }>;
      trials.set(record.part, (trials.get(record.part) ?? 0) + 1);
      for (const rule of new Set((record.fired ?? []).map((each) => each.rule))) {
        const found = by.get(rule) ?? { trials: 0, parts: new Set<Id>() };
        found.trials++;
        found.parts.add(record.part);
        by.set(rule, found);
      }
    }
    after = rows.at(-1)?.number ?? after;
    if (rows.length < atOnce) break;
    await otherTurns();
  }
  const trialsIn = (parts: ReadonlySet<Id>) => [...parts].reduce((sum, part) => sum + (trials.get(part) ?? 0), 0);
  return {
    fired: Object.fromEntries(
      [...by].map(([rule, found]) => [rule, { trials: found.trials, of: trialsIn(found.parts) }]),
    ),
  };
}
