import type { Transaction } from "kysely";
import { hasPlace, type Place } from "../core/order/place";
import { outline } from "../core/compile/compile";
import { seedOf } from "../core/order/seed";
import type { StudyDocument } from "../core/design/document";
import { entryInto } from "../core/run/entry";
import type { Rehearsal } from "../core/run/rehearsal";
import type { SessionData } from "../core/run/session-data";
import type { Given } from "../core/run/state";
import type { SessionRecord } from "../core/records/record";
import { givenFor } from "../core/values/given";
import type { Id, Value } from "../core/values/ref";
import { sessionsWith } from "./codes";
import { newCompletionCode, newGoOnCode, newId, secretHash } from "./chance";
import { whatPlaceNeeds, type Asked } from "./assignment";
import type { Tables } from "./database/tables";
import { beginningOf } from "./session-of-secret";

/** A session that is to begin: by a link, in the laboratory, or as a rehearsal. */
export type NewSession = {
  studyId: string;
  releaseId: string;
  /** Null for a rehearsal. */
  waveId: string | null;
  link: string | null;
  document: StudyDocument;
  place: Place;
  stratum: string;
  code: string | null;
  sitting: number;
  repeat?: number;
  entered: number;
  /** Needed until it has its place. */
  asked: Asked | null;
  pilot: boolean;
  rehearsal?: { how: Rehearsal; given: Given };
  browser: string;
  /** So many minutes later it counts as broken off; null for never. */
  longest?: number | null;
};

/** What variables held at the end of the participant's sitting before this one, where any is kept. */
async function keptBefore(
  trx: Transaction<Tables>,
  { document, place, studyId, sitting, code }: NewSession,
): Promise<Record<Id, Value | null>> {
  if (sitting < 2 || !document.variables.some(({ kept }) => kept)) return {};
  const theirs = trx
    .selectFrom("session")
    .innerJoin("record", "record.session_id", "session.id")
    .select("record.body")
    .where("session.study_id", "=", studyId)
    .where("session.pilot", "=", 0)
    .where("session.sitting", "<", sitting);
  const mine = hasPlace(place)
    ? theirs.where("session.participant", "=", place.participant)
    : theirs.where("session.id", "in", sessionsWith(trx, studyId, { participant_code: code ?? "" }));
  const last = await mine
    .orderBy("session.sitting", "desc")
    .orderBy("record.number", "desc")
    .limit(1)
    .executeTakeFirst();
  return last ? ((JSON.parse(last.body) as SessionRecord).variables ?? {}) : {};
}

/** Writes a new session down under the hash of its secret, with what is drawn for it. */
export async function insertSession(trx: Transaction<Tables>, secret: string, fresh: NewSession): Promise<SessionData> {
  const { document, place, pilot } = fresh;
  const { participant, group, orders } = place;
  const [id, at] = [newId("s"), new Date().toISOString()];
  const seed = seedOf(document, fresh.sitting);
  const goOn = document.settings.participation.elsewhere && !pilot ? newGoOnCode() : null;
  const { trialCount, parts } = outline(document, { ...place, sitting: fresh.sitting });
  const given = {
    ...givenFor(document.variables, fresh.asked?.parameters ?? {}, await keptBefore(trx, fresh)),
    ...fresh.rehearsal?.given,
  };
  const begins = {
    given: Object.keys(given).length > 0 ? JSON.stringify(given) : null,
    rehearsal: fresh.rehearsal ? JSON.stringify(fresh.rehearsal.how) : null,
    device: null,
  };
  await trx
    .insertInto("session")
    .values({
      id,
      study_id: fresh.studyId,
      release_id: fresh.releaseId,
      wave_id: fresh.waveId,
      link_token: fresh.link,
      token_hash: secretHash(secret),
      participant,
      entered: fresh.entered,
      ...begins,
      asked: hasPlace(place) || fresh.asked === null ? null : JSON.stringify(whatPlaceNeeds(document, fresh.asked)),
      group_id: group,
      orders: JSON.stringify(orders),
      stratum: fresh.stratum,
      sitting: fresh.sitting,
      repeat: fresh.repeat ?? 0,
      pilot: pilot ? 1 : 0,
      state: "active",
      records: 0,
      trials: 0,
      trials_planned: trialCount,
      part: parts[0] ?? null,
      started_at: at,
      seen_at: at,
      ends_by: fresh.longest == null ? null : new Date(Date.parse(at) + fresh.longest * 60_000).toISOString(),
      finished_at: null,
      browser: fresh.browser.slice(0, 300),
    })
    .execute();
  await trx
    .insertInto("session_codes")
    .values({
      session_id: id,
      study_id: fresh.studyId,
      participant_code: fresh.code,
      completion_code: newCompletionCode(),
      go_on_code: goOn,
      came_with: null,
    })
    .execute();
  return {
    session: id,
    ...place,
    seed,
    entered: fresh.entered || participant,
    begins: beginningOf(begins),
    pilot,
    startedAt: at,
    document,
    entry: entryInto(document),
    records: [],
    finished: false,
    goOn,
    code: null,
  };
}
