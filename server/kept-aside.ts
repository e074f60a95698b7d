import { recordDifferences, type FieldDifference } from "../core/describe/record-differences";
import type { KeptAside } from "../core/export/tables/kept-aside";
import type { SessionRecord } from "../core/records/record";
import type { Store } from "./database/open";
import type { Study } from "./studies";

/** What was kept aside in a study, or in one session of it, with or without rehearsals, in the order in which it came. */
export async function keptAsideOf(
  { db }: Store,
  study: Study,
  { session, pilots = true }: { session?: string; pilots?: boolean },
): Promise<KeptAside[]> {
  let query = db
    .selectFrom("refused_record")
    .innerJoin("session", "session.id", "refused_record.session_id")
    .leftJoin("record", (join) =>
      join
        .onRef("record.session_id", "=", "refused_record.session_id")
        .onRef("record.number", "=", "refused_record.number"),
    )
    .select([
      "session.id as session",
      "session.participant",
      "session.pilot",
      "session.state",
      "session.excluded_at",
      "refused_record.number",
      "refused_record.why",
      "record.received_at as storedAt",
      "refused_record.received_at as receivedAt",
      "record.body as stored",
      "refused_record.body as aside",
    ])
    .where("session.study_id", "=", study.id);
  if (session !== undefined) query = query.where("session.id", "=", session);
  if (!pilots) query = query.where("session.pilot", "=", 0);
  const rows = await query.orderBy("refused_record.id").execute();
  return rows.map(({ pilot, excluded_at, ...row }) => ({
    ...row,
    pilot: pilot === 1,
    isExcluded: excluded_at !== null,
  }));
}

/** The sessions of a study of which something was kept aside. */
export async function sessionsWithAside({ db }: Store, study: Study, pilots: boolean): Promise<string[]> {
  let query = db
    .selectFrom("refused_record")
    .innerJoin("session", "session.id", "refused_record.session_id")
    .select("session.id")
    .where("session.study_id", "=", study.id);
  if (!pilots) query = query.where("session.pilot", "=", 0);
  const rows = await query.groupBy("session.id").orderBy("session.id").execute();
  return rows.map(({ id }) => id);
}

export type ToldAside = Pick<KeptAside, "number" | "why" | "storedAt" | "receivedAt"> & {
  kind: SessionRecord["kind"];
  part: string;
  trial: number | null;
  differs: FieldDifference[];
};

/** The same in words: which record it is, and in which fields the two differ, where there are two. */
export function toldAside({ document }: Pick<Study, "document">, kept: KeptAside): ToldAside {
  const aside = JSON.parse(kept.aside) as SessionRecord;
  const stored = kept.stored === null ? null : (JSON.parse(kept.stored) as SessionRecord);
  const one = stored ?? aside;
  return {
    number: kept.number,
    why: kept.why,
    storedAt: kept.storedAt,
    receivedAt: kept.receivedAt,
    kind: one.kind,
    part: "part" in one ? (document.parts[one.part]?.name ?? one.part) : "",
    trial: "trial" in one ? one.trial : null,
    differs: stored === null ? [] : recordDifferences(stored, aside),
  };
}
