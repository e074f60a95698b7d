import type { Transaction } from "kysely";
import type { ShownEnd } from "../core/collect/ends";
import type { WhyAside } from "../core/export/tables/kept-aside";
import { displayIn, type LogKind } from "../core/records/log";
import type { EndRecord, SessionRecord } from "../core/records/record";
import { forgetLedger } from "./assignment";
import { hasManyWriters, locked } from "./database/locked";
import { codesOf } from "./codes";
import type { Store } from "./database/open";
import type { SessionState } from "../core/export/tables/standing";
import type { Tables } from "./database/tables";
import { endOfSession, endShownBy, rememberEnd } from "./ends";
import { emptySession } from "./forgetting";
import { noteDeed } from "./study-log";
import { countIntake, roomOf } from "./intake";
import { earlyOnes, type Judged } from "./judging/judged-records";
import type { Appended } from "./records";
import type { Sent } from "./sent-records";
import type { SessionRow } from "./session-of-secret";

/**
 * Stores what was judged and what came beside it. Null where the session is not at the position any more at which its records
 * were judged. `isNextHere`: what comes next was kept aside until now; `isRemoved`: nothing of the session remains.
 */
export async function storeIn(
  store: Store,
  trx: Transaction<Tables>,
  session: SessionRow,
  judged: Judged,
  { log, waiting }: Pick<Sent, "log" | "waiting">,
): Promise<(Appended & { isNextHere?: boolean; isRemoved?: boolean }) | null> {
  const { inPlace: records, unplanned, early, taken } = judged;
  const at = new Date().toISOString();
  const present = await locked(
    trx,
    trx
      .selectFrom("session")
      .select(["id", "token_hash", "state", "records", "trials", "removed_at", "stored_characters", earlyOnes])
      .select(["link_token", "scenes", "late", "looked_away"])
      .where("id", "=", session.id),
  ).executeTakeFirst();
  if (!present) return { ok: false, reason: "There is no such session." };
  const answer = async (acknowledged: number, state: SessionState, keptAside: number[]): Promise<Appended> => ({
    ok: true,
    acknowledged,
    finished: state !== "active",
    code: state === "finished" ? (await codesOf(trx, session.id)).completion : null,
    ...(await shownAt(state)),
    keptAside,
    unplanned: [...new Set(unplanned.map(({ number }) => number))],
    superseded: session.superseded || present.token_hash !== session.tokenHash,
  });
  let ending: ShownEnd | null = null;
  /** What the link shows at the session's end, where it has a say in it. */
  const shownAt = async (state: SessionState) => {
    const shown = ending ?? (await endShownBy(trx, { ...present, state }));
    return shown ? { end: shown } : {};
  };
  // The participant left and wanted nothing kept: a resend after a lost acknowledgement is not stored again.
  if (present.removed_at !== null)
    return answer(
      Math.max(present.records, ...[...records, ...unplanned, ...early].map(({ number }) => number)),
      present.state,
      [],
    );
  if (present.records !== judged.position) return null;
  const room = roomOf(session.trialsPlanned, session.document);
  if (present.stored_characters > room.all)
    return { ok: false, reason: "This session has sent more than a session may. No more of it is accepted." };
  const { stored, standing, differing, length: fresh } = await storeInPlace(trx, session.id, at, records);
  const upTo = upToWithoutGap(present.records, standing);
  if (taken.length > 0)
    await trx
      .deleteFrom("refused_record")
      .where("session_id", "=", session.id)
      .where("why", "=", "early")
      .where("number", "in", taken)
      .execute();
  const aside = (why: Aside["why"], records: readonly SessionRecord[]) =>
    records.map((record): Aside => ({ number: record.number, body: JSON.stringify(record), why }));
  const { length: beside, lookedAway } = await storeBeside(trx, session.id, at, {
    keptAside: [...differing, ...aside("unplanned", unplanned), ...aside("early", early)],
    chunks: log.map(({ opening, number, entries }) => ({
      row: { opening, number, entries: JSON.stringify(entries) },
      lookedAway: entries.filter(({ what }) => away.has(what)).length,
    })),
    room: room.beside - present.stored_characters,
  });
  // Where several write at a time, what another has just kept aside may not be in the count.
  const mayWait = present.early > 0 || hasManyWriters(trx);
  const isNextHere = mayWait && upTo > present.records && (await settleEarly(trx, session.id, upTo));
  // What came ends it, or comes before what stood already and may end it.
  const mayEnd = records.some(({ kind, number }) => kind === "end" || number < upTo);
  const end =
    present.state !== "active" || upTo === present.records || !mayEnd ? null : await endOf(trx, session.id, upTo);
  const state = end ? (end.withdrawn === true ? "withdrawn" : (end.ended?.as ?? "finished")) : present.state;
  const latest = records.flatMap((record) => (record.kind === "end" ? [] : [record])).at(-1);
  const display = log
    .flatMap(({ entries }) => entries.flatMap(({ what, value }) => (what === "display" && value ? [value] : [])))
    .findLast((value) => displayIn(value) !== null);
  const trials = records.filter(({ kind, number }) => kind === "trial" && stored.has(number)).length;
  // Of who declines nothing stays but that somebody did.
  const isDeclined = end?.ended?.as === "declined";
  const isLeft = end?.withdrawn === true && session.document.settings.participation.withdrawn === "remove";
  const isRemoved = isDeclined || isLeft;
  if (end && state !== "active" && state !== "withdrawn") ending = await endOfSession(trx, present, state);
  await trx
    .updateTable("session")
    .set({
      seen_at: at,
      records: upTo,
      trials: present.trials + trials,
      ...liveOf(
        present,
        records.filter(({ number }) => stored.has(number)),
        lookedAway,
      ),
      waiting,
      stored_characters: present.stored_characters + fresh + beside,
      ...(latest ? { part: latest.part } : {}),
      ...(display === undefined ? {} : { display }),
      ...(end ? { state, finished_at: at, asked: null } : {}),
    })
    .where("id", "=", session.id)
    .execute();
  if (fresh + beside > 0)
    await countIntake(store, trx, session.studyId, session.link, { sessions: 0, characters: fresh + beside });
  forgetLedger(trx);
  if (isRemoved) {
    await store.tombstones.add([{ kind: "emptied", id: session.id }]);
    rememberEnd(session.id, ending);
    await emptySession(trx, session.id, at);
    const { code } = await trx
      .selectFrom("study")
      .select("code")
      .where("id", "=", session.studyId)
      .executeTakeFirstOrThrow();
    const what = isDeclined ? "Somebody declined" : "A session was left, and all of it removed";
    await noteDeed(trx, { code, by: "the participant", what: `${what}.` });
  }
  if (end) store.ended(session.studyId);
  const numbers = [...new Set(differing.map(({ number }) => number))].sort((a, b) => a - b);
  return { ...(await answer(upTo, state, numbers)), isNextHere, isRemoved };
}

/**
 * Stores records under their numbers where nothing stands yet. `stored`: the numbers that are new; `standing`: of these
 * numbers, all that stand now; `differing`: what stays out because another stands there; `length` of what is new.
 */
async function storeInPlace(
  trx: Transaction<Tables>,
  sessionId: string,
  at: string,
  records: readonly SessionRecord[],
): Promise<{ stored: ReadonlySet<number>; standing: ReadonlySet<number>; differing: Aside[]; length: number }> {
  const bodies = new Map<number, string>();
  const differing: Aside[] = [];
  for (const record of records) {
    const body = JSON.stringify(record);
    const known = bodies.get(record.number);
    if (known === undefined) bodies.set(record.number, body);
    else if (known !== body) differing.push({ number: record.number, body, why: "taken" });
  }
  const values = [...bodies].map(([number, body]) => ({
    session_id: sessionId,
    number,
    kind: records.find((record) => record.number === number)?.kind ?? "page",
    body,
    received_at: at,
  }));
  const stored = new Set<number>();
  for (let from = 0; from < values.length; from += 100) {
    const made = await trx
      .insertInto("record")
      .values(values.slice(from, from + 100))
      .onConflict((conflict) => conflict.columns(["session_id", "number"]).doNothing())
      .returning("number")
      .execute();
    for (const { number } of made) stored.add(number);
  }
  const standing = new Set(stored);
  const others = [...bodies.keys()].filter((number) => !stored.has(number));
  if (others.length > 0) {
    const there = await trx
      .selectFrom("record")
      .select(["number", "body"])
      .where("session_id", "=", sessionId)
      .where("number", "in", others)
      .execute();
    for (const { number, body } of there) {
      standing.add(number);
      const sent = bodies.get(number);
      if (sent !== undefined && sent !== body) differing.push({ number, body: sent, why: "taken" });
    }
  }
  const length = lengthOf(values.flatMap(({ number, body }) => (stored.has(number) ? [body] : [])));
  return { stored, standing, differing, length };
}

/** Of what was kept aside until its turn: what stands under a number that is taken now stays so; whether the next is there. */
async function settleEarly(trx: Transaction<Tables>, sessionId: string, upTo: number): Promise<boolean> {
  const waiting = await trx
    .selectFrom("refused_record")
    .select("number")
    .where("session_id", "=", sessionId)
    .where("number", "<=", upTo + 1)
    .where("why", "=", "early")
    .execute();
  if (waiting.some(({ number }) => number <= upTo)) {
    // The same that stands in place now need not be kept twice.
    await trx
      .deleteFrom("refused_record")
      .where("session_id", "=", sessionId)
      .where("number", "<=", upTo)
      .where("why", "=", "early")
      .where("body", "=", (eb) =>
        eb
          .selectFrom("record")
          .select("record.body")
          .whereRef("record.session_id", "=", "refused_record.session_id")
          .whereRef("record.number", "=", "refused_record.number"),
      )
      .execute();
    await trx
      .updateTable("refused_record")
      .set({ why: "taken" })
      .where("session_id", "=", sessionId)
      .where("number", "<=", upTo)
      .where("why", "=", "early")
      .execute();
  }
  return waiting.some(({ number }) => number === upTo + 1);
}

const lengthOf = (texts: readonly string[]) => texts.reduce((sum, text) => sum + text.length, 0);

type Aside = { number: number; body: string; why: WhyAside };
type Beside = {
  keptAside: Aside[];
  chunks: { row: { opening: string; number: number; entries: string }; lookedAway: number }[];
  room: number;
};

/** What the live view tells of a session, with what came now. */
function liveOf(
  before: { scenes: number; late: number; looked_away: number },
  fresh: readonly SessionRecord[],
  lookedAway: number,
) {
  const trials = fresh.filter((record) => record.kind === "trial");
  const planned = trials.flatMap(({ scenes }) =>
    scenes.flatMap(({ ended }) => (ended?.planned == null ? [] : [ended])),
  );
  const last = trials.at(-1);
  return {
    scenes: before.scenes + planned.length,
    late: before.late + planned.filter(({ frames, planned: wanted }) => frames > (wanted ?? Infinity)).length,
    looked_away: before.looked_away + lookedAway,
    ...(last ? { attempt: last.attempt ?? 0 } : {}),
  };
}

/** Another window in front, or full screen left. */
const away: ReadonlySet<LogKind> = new Set<LogKind>(["focus-lost", "full-screen-left"]);

/**
 * Stores what is no record of the session, where there is room; gives the length of what is new, and how often it tells that
 * somebody looked away. The same is stored once.
 */
async function storeBeside(
  trx: Transaction<Tables>,
  sessionId: string,
  at: string,
  { keptAside, chunks, room }: Beside,
): Promise<{ length: number; lookedAway: number }> {
  const all = lengthOf([...keptAside.map(({ body }) => body), ...chunks.map(({ row }) => row.entries)]);
  if (all === 0 || all > room) return { length: 0, lookedAway: 0 };
  let length = 0;
  if (keptAside.length > 0) {
    const there = await trx
      .selectFrom("refused_record")
      .select(["body", "why"])
      .where("session_id", "=", sessionId)
      .where(
        "number",
        "in",
        keptAside.map(({ number }) => number),
      )
      .execute();
    const known = new Map(there.map(({ body, why }) => [body, why]));
    for (const { number, body, why } of keptAside) {
      const before = known.get(body);
      known.set(body, why);
      if (before === why) continue;
      if (before !== undefined) {
        await trx
          .updateTable("refused_record")
          .set({ why })
          .where("session_id", "=", sessionId)
          .where("number", "=", number)
          .where("body", "=", body)
          .execute();
        continue;
      }
      length += body.length;
      await trx
        .insertInto("refused_record")
        .values({ session_id: sessionId, number, body, why, received_at: at })
        .execute();
    }
  }
  if (chunks.length === 0) return { length, lookedAway: 0 };
  const made = await trx
    .insertInto("session_log")
    .values(chunks.map(({ row }) => ({ session_id: sessionId, ...row, received_at: at })))
    .onConflict((conflict) => conflict.columns(["session_id", "opening", "number"]).doNothing())
    .returning(["opening", "number"])
    .execute();
  const fresh = chunks.filter(({ row }) =>
    made.some(({ opening, number }) => opening === row.opening && number === row.number),
  );
  return {
    length: length + lengthOf(fresh.map(({ row }) => row.entries)),
    lookedAway: fresh.reduce((sum, chunk) => sum + chunk.lookedAway, 0),
  };
}

/** The highest number up to which no record is missing, given up to where that was so before and what stands now. */
function upToWithoutGap(before: number, standing: ReadonlySet<number>): number {
  let upTo = before;
  while (standing.has(upTo + 1)) upTo++;
  return upTo;
}

/** The session's end, where its records are whole up to it. */
async function endOf(
  trx: Transaction<Tables>,
  sessionId: string,
  upTo: number,
): Promise<Pick<EndRecord, "withdrawn" | "ended"> | null> {
  const found = await trx
    .selectFrom("record")
    .select("body")
    .where("session_id", "=", sessionId)
    .where("number", "=", upTo)
    .where("kind", "=", "end")
    .executeTakeFirst();
  return found ? (JSON.parse(found.body) as EndRecord) : null;
}
