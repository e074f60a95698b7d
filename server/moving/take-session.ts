import type { Transaction } from "kysely";
import { newId } from "../chance";
import type { Store } from "../database/open";
import type { Tables } from "../database/tables";
import { comparedTo, otherwise, sessionRow, standingRow, type MovedOne } from "./moved-session";

type Db = Store["db"] | Transaction<Tables>;

/**
 * What becomes of a session of a file. `new`: taken in; `same`: it is here; `longer`: it went on there, and what came since is
 * added; `different`: what is here stays, and what the file has otherwise is kept aside; `removed`: it was removed here, or is
 * emptied there, and is left alone; `taken`: somebody else has its number here; `unreadable`: it cannot have been recorded.
 */
export const fates = ["new", "same", "longer", "different", "removed", "taken", "unreadable"] as const;
export type Fate = (typeof fates)[number];

/** What becomes of one session of a file, and why; with `write` it is done. `codes`: with the codes of its participant. */
export async function takeSession(
  db: Db,
  studyId: string,
  one: MovedOne,
  { write, codes }: { write: boolean; codes: boolean },
): Promise<[Fate, string]> {
  const { session } = one;
  const own = await db
    .selectFrom("session")
    .select(["study_id", "pilot", "participant", "group_id", "orders", "sitting", "repeat", "release_id", "removed_at"])
    .select("stored_characters")
    .where("id", "=", session.id)
    .executeTakeFirst();
  if (!own) {
    const other =
      session.participant > 0 &&
      (await db
        .selectFrom("session")
        .select("id")
        .where("study_id", "=", studyId)
        .where("pilot", "=", 0)
        .where("participant", "=", session.participant)
        .where("sitting", "=", session.sitting)
        .where("repeat", "=", session.repeat)
        .executeTakeFirst());
    if (other)
      return [
        "taken",
        "Somebody else has its number here. Take the file in at an installation that does not have the study.",
      ];
    if (write) await insertSession(db, studyId, one, codes);
    return ["new", ""];
  }
  if (own.study_id !== studyId || own.pilot === 1)
    return ["unreadable", "It is left out: a session of another study has its name."];
  if (own.removed_at !== null) return ["removed", "Its participant left, and it was removed here."];
  if (session.removedAt !== null)
    return ["removed", "Its participant left, and it was removed there; it is still here. Delete it in Privacy."];
  const here = await db
    .selectFrom("record")
    .select(["number", "body"])
    .where("session_id", "=", session.id)
    .orderBy("number")
    .execute();
  const isPlacedSame =
    own.participant === session.participant &&
    own.group_id === session.group &&
    own.sitting === session.sitting &&
    own.repeat === session.repeat &&
    own.release_id === session.release &&
    own.orders === session.orders;
  const compared = isPlacedSame ? comparedTo(here, one.records) : "different";
  if (write) await addNotes(db, one);
  if (compared === "same") return ["same", ""];
  if (compared === "longer") {
    const added = one.records.slice(here.length);
    if (write) await lengthen(db, one, added, own.stored_characters);
    const what = added.length === 1 ? "1 record came" : `${added.length} records came`;
    return ["longer", `It went on there: ${what} since.`];
  }
  const others = otherwise(here, one.records);
  if (write) await keepAside(db, one, others, own.stored_characters);
  const first = others[0]?.number;
  return [
    "different",
    first === undefined
      ? "It has another place there than here, so that it is left alone."
      : `What is here stays. ${others.length === 1 ? `Record ${first} is` : `${others.length} records, from ${first} on, are`} otherwise there, and ${others.length === 1 ? "is" : "are"} kept aside.`,
  ];
}

async function insertSession(db: Db, studyId: string, one: MovedOne, withCodes: boolean): Promise<void> {
  const { session, codes } = one;
  await db.insertInto("session").values(sessionRow(one, studyId)).execute();
  await addRecords(db, one, one.records);
  await addLog(db, one);
  for (const { number, body, at, why } of one.aside)
    await db
      .insertInto("refused_record")
      .values({ session_id: session.id, number, body, why, received_at: at })
      .execute();
  await addNotes(db, one);
  if (withCodes && codes)
    await db
      .insertInto("session_codes")
      .values({
        ...{ session_id: session.id, study_id: studyId, participant_code: codes.participant },
        ...{ completion_code: codes.completion, go_on_code: null },
        came_with: Object.keys(codes.cameWith).length === 0 ? null : JSON.stringify(codes.cameWith),
      })
      .execute();
}

async function addRecords(db: Db, { session }: MovedOne, records: MovedOne["records"]): Promise<void> {
  const values = records.map(({ number, body, at }) => ({
    ...{ session_id: session.id, number, body, received_at: at },
    kind: (JSON.parse(body) as { kind: Tables["record"]["kind"] }).kind,
  }));
  for (let from = 0; from < values.length; from += 100)
    await db
      .insertInto("record")
      .values(values.slice(from, from + 100))
      .execute();
}

/** Adds what was logged and is not here yet; gives its length. */
async function addLog(db: Db, { session, log }: MovedOne): Promise<number> {
  let length = 0;
  for (let from = 0; from < log.length; from += 100) {
    const made = await db
      .insertInto("session_log")
      .values(
        log.slice(from, from + 100).map(({ opening, number, entries, at }) => ({
          ...{ session_id: session.id, opening, number, entries, received_at: at },
        })),
      )
      .onConflict((conflict) => conflict.columns(["session_id", "opening", "number"]).doNothing())
      .returning("entries")
      .execute();
    length += made.reduce((sum, { entries }) => sum + entries.length, 0);
  }
  return length;
}

async function addNotes(db: Db, { session, notes }: MovedOne): Promise<void> {
  const there = await db
    .selectFrom("session_note")
    .select(["at", "text"])
    .where("session_id", "=", session.id)
    .execute();
  for (const { at, by, text } of notes)
    if (!there.some((note) => note.at === at && note.text === text))
      await db
        .insertInto("session_note")
        .values({ id: newId("note"), session_id: session.id, at, by_whom: by, text })
        .execute();
}

/** What came since of a session that went on elsewhere. */
async function lengthen(db: Db, one: MovedOne, added: MovedOne["records"], before: number): Promise<void> {
  await addRecords(db, one, added);
  const logged = await addLog(db, one);
  await db
    .updateTable("session")
    .set({
      ...standingRow(one),
      stored_characters: before + logged + added.reduce((sum, { body }) => sum + body.length, 0),
    })
    .where("id", "=", one.session.id)
    .execute();
}

/** Records that stand otherwise here, beside those that do; each once. */
async function keepAside(db: Db, { session }: MovedOne, others: MovedOne["records"], before: number): Promise<void> {
  const there = await db
    .selectFrom("refused_record")
    .select(["number", "body"])
    .where("session_id", "=", session.id)
    .execute();
  const known = new Set(there.map(({ number, body }) => `${number} ${body}`));
  let length = 0;
  for (const { number, body, at } of others) {
    if (known.has(`${number} ${body}`)) continue;
    length += body.length;
    await db
      .insertInto("refused_record")
      .values({ session_id: session.id, number, body, why: "elsewhere", received_at: at })
      .execute();
  }
  if (length > 0)
    await db
      .updateTable("session")
      .set({ stored_characters: before + length })
      .where("id", "=", session.id)
      .execute();
}
