import { sql, type ExpressionBuilder } from "kysely";
import type { StudyDocument } from "../core/design/document";
import type { Id } from "../core/values/ref";
import type { Orders } from "../core/order/parts";
import type { Rehearsal } from "../core/run/rehearsal";
import type { Store } from "./database/open";
import type { SessionState } from "../core/export/tables/standing";
import type { Tables } from "./database/tables";
import { frozenDocument } from "./frozen-documents";
import { isUnderWay, stillThereSince, underWay } from "./under-way";
import { roomOf, toldFrom } from "./intake";

export type SessionLine = {
  id: string;
  participant: number;
  group: Id;
  orders: Orders;
  sitting: number;
  excluded: boolean;
  pilot: boolean;
  /** How a rehearsal is played; null for participants. */
  rehearsal: Rehearsal | null;
  state: SessionState | "broken off";
  trials: number;
  trialsPlanned: number;
  part: string | null;
  startedAt: string;
  seenAt: string;
  finishedAt: string | null;
  release: number | null;
  releaseId: string;
  /** Records that were not stored in place. */
  keptAside: number;
  /** Scenes whose end was planned in frames, and how many of them were late. */
  scenes: number;
  late: number;
  /** How often another window was in front, or full screen was left. */
  lookedAway: number;
  /** The attempt its last trial belongs to; 0 where nothing is repeated. */
  attempt: number;
  /** How many records waited at the participant's when it last sent some. */
  waiting: number;
  /** The share of what it may store, where that is to be told. */
  full: number | null;
  /** The participant left and, as the study says, its records were removed. */
  removed: boolean;
};

/** Which sessions are listed, by how they stand. */
export const shownStates = ["active", "broken-off", "finished", "ended", "not-counted", "pilot"] as const;
export type ShownState = (typeof shownStates)[number];
export const sessionOrders = ["newest", "seen", "number"] as const;
export type SessionOrder = (typeof sessionOrders)[number];

/** What of a study's sessions is looked for; all of them where nothing is said. */
export type Sought = {
  pilots?: boolean;
  wave?: string | null;
  /** A link's token, or the id of a set of links. */
  link?: string | null;
  group?: Id | null;
  state?: ShownState | null;
  /** This one session. */
  session?: string;
  /** A number, or the beginning of a code. */
  search?: string;
};
type Part = Sought & { order?: SessionOrder; limit?: number; offset?: number };

/** A condition for sessions that were broken off: under way no more, and not ended. */
export async function brokenOff({ db }: Pick<Store, "db">, studyId: string) {
  const releases = await db
    .selectFrom("session")
    .select("release_id")
    .distinct()
    .where("study_id", "=", studyId)
    .where("state", "=", "active")
    .execute();
  const there = await Promise.all(
    releases.map(async ({ release_id }) => ({
      release_id,
      isThere: underWay(stillThereSince(await frozenDocument(db, release_id))),
    })),
  );
  return <T extends Pick<Tables, "session">>(of: ExpressionBuilder<T, "session">) => {
    const eb = of as unknown as ExpressionBuilder<Tables, "session">;
    return eb.and([
      eb("session.state", "=", "active"),
      eb.or([
        eb.lit(false),
        ...there.map(({ release_id, isThere }) =>
          eb.and([eb("session.release_id", "=", release_id), eb.not(isThere(eb))]),
        ),
      ]),
    ]);
  };
}

/** The sessions of a study that are looked for. */
async function soughtIn({ db }: Pick<Store, "db">, studyId: string, sought: Sought) {
  const { pilots, wave, link, group, state, search = "" } = sought;
  let query = db.selectFrom("session").where("session.study_id", "=", studyId);
  if (sought.session !== undefined) return query.where("id", "=", sought.session);
  if (pilots || state === "pilot") query = query.where("pilot", "=", 1);
  else if (wave != null) query = query.where((eb) => eb.or([eb("wave_id", "=", wave), eb("pilot", "=", 1)]));
  if (link != null)
    query = query.where("link_token", "in", (eb) =>
      eb
        .selectFrom("entry_link")
        .select("token")
        .where((of) => of.or([of("token", "=", link), of("set_id", "=", link)])),
    );
  if (group != null) query = query.where("group_id", "=", group);
  if (state != null && state !== "pilot") query = query.where("pilot", "=", 0);
  if (state === "finished") query = query.where("state", "=", "finished").where("excluded_at", "is", null);
  if (state === "ended") query = query.where("state", "in", ["withdrawn", "screened-out", "declined"]);
  if (state === "not-counted") query = query.where("excluded_at", "is not", null);
  if (state === "active" || state === "broken-off") {
    const isLeft = await brokenOff({ db }, studyId);
    query = query
      .where("state", "=", "active")
      .where((eb) => (state === "broken-off" ? isLeft(eb) : eb.not(isLeft(eb))));
  }
  const said = search.trim().slice(0, 100);
  if (said === "") return query;
  const number = /^\d{1,9}$/.test(said) ? Number(said) : -1;
  const begins = `${said.toLowerCase().replace(/[\\%_]/g, "\\$&")}%`;
  const withCode = db.selectFrom("session_codes").select("session_id").where("study_id", "=", studyId);
  return query.where((eb) =>
    eb.or([
      eb("participant", "=", number),
      eb("id", "=", said.toLowerCase()),
      eb("id", "in", withCode.where(sql<boolean>`lower(participant_code) like ${begins} escape '\\'`)),
      eb.and([
        eb("state", "=", "finished"),
        eb("id", "in", withCode.where(sql<boolean>`lower(completion_code) like ${begins} escape '\\'`)),
      ]),
    ]),
  );
}

/** How many sessions are looked for. */
export async function countSought(store: Store, studyId: string, sought: Sought): Promise<number> {
  const { count } = await (
    await soughtIn(store, studyId, sought)
  )
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .executeTakeFirstOrThrow();
  return Number(count);
}

/** Sessions of a study that are looked for, newest first where nothing else is said: all of them, or a page. Those of a wave come with rehearsals. */
export async function listSessions({ db }: Store, studyId: string, part: Part = {}): Promise<SessionLine[]> {
  let query = (await soughtIn({ db }, studyId, part)).selectAll();
  if (part.order === "seen") query = query.orderBy("seen_at", "desc");
  if (part.order === "number") query = query.orderBy("participant").orderBy("sitting");
  query = query.orderBy("started_at", "desc").orderBy("participant", "desc");
  if (part.limit !== undefined) query = query.limit(part.limit);
  if (part.offset) query = query.offset(part.offset);
  const rows = await query.execute();
  const numbers = await db.selectFrom("release").select(["id", "number"]).where("study_id", "=", studyId).execute();
  const refused = await db
    .selectFrom("refused_record")
    .innerJoin("session", "session.id", "refused_record.session_id")
    .select(({ fn }) => ["session_id", fn.countAll<number>().as("count")])
    .where("session.study_id", "=", studyId)
    .groupBy("session_id")
    .execute();
  const aside = new Map(refused.map(({ session_id, count }) => [session_id, Number(count)]));
  const played = new Set(rows.map(({ release_id }) => release_id));
  const byRelease = new Map<string, { number: number | null; stillThere: number; document: StudyDocument }>();
  for (const { id, number } of numbers)
    if (played.has(id)) {
      const document = await frozenDocument(db, id);
      byRelease.set(id, { number, stillThere: stillThereSince(document), document });
    }
  return rows.map((row) => ({
    id: row.id,
    participant: row.participant,
    group: row.group_id,
    orders: JSON.parse(row.orders) as Orders,
    sitting: row.sitting,
    excluded: row.excluded_at !== null,
    pilot: row.pilot === 1,
    rehearsal: row.rehearsal === null ? null : (JSON.parse(row.rehearsal) as Rehearsal),
    state:
      row.state !== "active"
        ? row.state
        : isUnderWay(row, byRelease.get(row.release_id)?.stillThere ?? 0)
          ? "active"
          : "broken off",
    trials: row.trials,
    trialsPlanned: row.trials_planned,
    part: row.part,
    startedAt: row.started_at,
    seenAt: row.seen_at,
    finishedAt: row.finished_at,
    release: byRelease.get(row.release_id)?.number ?? null,
    releaseId: row.release_id,
    ...{ scenes: row.scenes, late: row.late, lookedAway: row.looked_away },
    ...{ attempt: row.attempt, waiting: row.waiting },
    keptAside: aside.get(row.id) ?? 0,
    full: fullness(row, byRelease.get(row.release_id)?.document),
    removed: row.removed_at !== null,
  }));
}

/** The share of what a session may store, where that is to be told; null while it is far from all. */
function fullness(
  { stored_characters, trials_planned }: { stored_characters: number; trials_planned: number },
  document: StudyDocument | undefined,
): number | null {
  const share = document ? stored_characters / roomOf(trials_planned, document).all : 0;
  return share < toldFrom ? null : share;
}

/** How many sessions stand how, rehearsals apart. */
export type SessionCounts = {
  /** All there are to list, rehearsals included. */
  all: number;
  started: number;
  finished: number;
  brokenOff: number;
  /** Ended by a page: screened out, or declined. */
  notTaken: number;
  /** Marked “does not count”; they are among the started, and not among the finished. */
  doNotCount: number;
  /** Of the finished those that are their participant's first sitting. */
  firstSittings: number;
  /** By group: finished. */
  groups: Record<Id, number>;
};

/** Counts the sessions of a study, or of one of its waves. */
export async function countSessions(
  { db }: Store,
  studyId: string,
  wave: string | null = null,
): Promise<SessionCounts> {
  // Not a parameter: PostgreSQL takes the same number, sent twice, for two expressions.
  const isFirst = sql<boolean>`sitting = 1`;
  let query = db
    .selectFrom("session")
    .select(["release_id", "group_id", "state", "pilot"])
    .select((eb) => eb("excluded_at", "is not", null).as("excluded"))
    .select(isFirst.as("first"))
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where("study_id", "=", studyId)
    .groupBy(["release_id", "group_id", "state", "pilot", (eb) => eb("excluded_at", "is not", null)])
    .groupBy(isFirst);
  if (wave !== null) query = query.where((eb) => eb.or([eb("wave_id", "=", wave), eb("pilot", "=", 1)]));
  const rows = await query.execute();
  const counts: SessionCounts = {
    all: 0,
    started: 0,
    finished: 0,
    brokenOff: 0,
    notTaken: 0,
    doNotCount: 0,
    firstSittings: 0,
    groups: {},
  };
  const releases = new Set<string>();
  for (const { release_id, group_id, state, pilot, excluded, first, count: given } of rows) {
    const count = Number(given);
    counts.all += count;
    const isFinished = state === "finished" && !excluded;
    if (pilot === 1) continue;
    releases.add(release_id);
    counts.started += count;
    if (excluded) counts.doNotCount += count;
    else if (state === "screened-out" || state === "declined") counts.notTaken += count;
    if (!isFinished) continue;
    counts.finished += count;
    if (first) counts.firstSittings += count;
    counts.groups[group_id] = (counts.groups[group_id] ?? 0) + count;
  }
  for (const releaseId of releases) {
    const isThere = underWay(stillThereSince(await frozenDocument(db, releaseId)));
    let active = db
      .selectFrom("session")
      .select(({ fn }) => fn.countAll<number>().as("count"))
      .where("study_id", "=", studyId)
      .where("release_id", "=", releaseId)
      .where("pilot", "=", 0)
      .where("state", "=", "active")
      .where("excluded_at", "is", null)
      .where((eb) => eb.not(isThere(eb)));
    if (wave !== null) active = active.where("wave_id", "=", wave);
    const { count } = await active.executeTakeFirstOrThrow();
    counts.brokenOff += Number(count);
  }
  return counts;
}
