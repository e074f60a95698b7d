import { sessionCourse, answeredIn, type AnsweredLine, type SessionCourse } from "../core/describe/session-course";
import { partsFor, type Orders } from "../core/order/parts";
import type { LogEntry } from "../core/records/log";
import { presentRecord } from "../core/records/stored";
import { newId } from "./chance";
import type { Store } from "./database/open";
import { nameless } from "./link-names";
import { frozenDocument } from "./frozen-documents";
import { listSessions, type SessionLine } from "./session-list";
import { planOf } from "./waves";

/** What the team noted of a session. */
export type SessionNote = { id: string; at: string; by: string; text: string };

/** One session, opened. */
export type SessionView = {
  line: SessionLine;
  groupName: string;
  wave: string;
  link: string;
  browser: string;
  /** Why it does not count, and who said so; null while it does, or where that was not said. */
  because: string | null;
  parts: string[];
  course: SessionCourse;
  answered: AnsweredLine[];
  notes: SessionNote[];
};

/** One session of a study with its course in time, what was answered, and what the team noted; null where there is none such. */
export async function sessionView(store: Store, studyId: string, id: string): Promise<SessionView | null> {
  const { db } = store;
  const row = await db
    .selectFrom("session")
    .leftJoin("wave", "wave.id", "session.wave_id")
    .leftJoin("entry_link", "entry_link.token", "session.link_token")
    .selectAll("session")
    .select(["wave.plan as wave_plan", "entry_link.label as link_label"])
    .where("session.id", "=", id)
    .where("session.study_id", "=", studyId)
    .executeTakeFirst();
  const [line] = row ? await listSessions(store, studyId, { session: id }) : [];
  if (!row || !line) return null;
  const document = await frozenDocument(db, row.release_id);
  const stored = await db.selectFrom("record").select("body").where("session_id", "=", id).orderBy("number").execute();
  const records = stored.map(({ body }) => presentRecord(JSON.parse(body), document));
  const chunks = await db.selectFrom("session_log").select("entries").where("session_id", "=", id).execute();
  const log = chunks.flatMap(({ entries }) => JSON.parse(entries) as LogEntry[]);
  const place = {
    ...{ participant: row.participant, group: row.group_id, orders: JSON.parse(row.orders) as Orders },
    sitting: row.sitting,
  };
  return {
    line,
    groupName: document.groups.find(({ id: group }) => group === row.group_id)?.name ?? "",
    wave: row.wave_plan === null ? "" : planOf({ plan: row.wave_plan }).name,
    link: row.link_label === null || row.link_label === nameless ? "" : row.link_label,
    browser: row.browser,
    because: row.excluded_because,
    parts: partsFor(document, place).map(({ part }) => document.parts[part]?.name ?? ""),
    course: sessionCourse(document, records, log),
    answered: answeredIn(document, records),
    notes: await notesOf(store, id),
  };
}

async function notesOf({ db }: Store, session: string): Promise<SessionNote[]> {
  const rows = await db
    .selectFrom("session_note")
    .selectAll()
    .where("session_id", "=", session)
    .orderBy("at")
    .execute();
  return rows.map(({ id, at, by_whom, text }) => ({ id, at, by: by_whom, text }));
}

/** A session has at most so many notes. */
const mostNotes = 500;

/** Notes something of a session; tells why not, null where it was. */
export async function addNote(
  { db }: Store,
  studyId: string,
  session: string,
  { by, text }: { by: string; text: string },
): Promise<string | null> {
  return db.transaction().execute(async (trx) => {
    const there = await trx
      .selectFrom("session")
      .select("id")
      .where("id", "=", session)
      .where("study_id", "=", studyId)
      .executeTakeFirst();
    if (!there) return "This session is gone. Load the page again.";
    const { count } = await trx
      .selectFrom("session_note")
      .select(({ fn }) => fn.countAll<number>().as("count"))
      .where("session_id", "=", session)
      .executeTakeFirstOrThrow();
    if (Number(count) >= mostNotes) return `A session has at most ${mostNotes} notes.`;
    const row = { id: newId("note"), session_id: session, at: new Date().toISOString(), by_whom: by, text };
    await trx.insertInto("session_note").values(row).execute();
    return null;
  });
}

/** Whose session this is, without a code: “Participant 12, sitting 2”. */
export async function whoseSession(db: Store["db"], id: string): Promise<string> {
  const row = await db
    .selectFrom("session")
    .select(["participant", "sitting", "pilot"])
    .where("id", "=", id)
    .executeTakeFirst();
  if (row?.pilot === 1) return "A pilot session";
  if (!row || row.participant === 0) return "A session without a number";
  return `Participant ${row.participant}${row.sitting > 1 ? `, sitting ${row.sitting}` : ""}`;
}

/** Whether a session of a study is a rehearsal, or of the team. */
export async function isPilotSession({ db }: Store, studyId: string, id: string): Promise<boolean> {
  const row = await db
    .selectFrom("session")
    .select("pilot")
    .where("id", "=", id)
    .where("study_id", "=", studyId)
    .executeTakeFirst();
  return row?.pilot === 1;
}
