import type { Transaction } from "kysely";
import { parseStudyText } from "../../core/design/parse";
import type { StudyDocument } from "../../core/design/document";
import { mostMediaBytes } from "../../core/media/types";
import { mayDo } from "../../core/rights/rights";
import { hasShape } from "../../core/shape/shape";
import { newId } from "../chance";
import { lockStudy } from "../database/locked";
import type { Store } from "../database/open";
import type { Tables } from "../database/tables";
import { addMovedSets } from "../exclusions";
import { keepNumbers } from "../forgetting";
import { checkedMedia } from "../media/checked";
import { studyHasMedia } from "../media/study-media";
import { changePersons, personsKept } from "../persons";
import { changeRecipe, recipesOf } from "../recipes";
import { rolesIn } from "../rights";
import { addStudy, findStudyById } from "../studies";
import { noteDeed } from "../study-log";
import { aboutShape, fileNames, releaseShape, type AboutMoved, type MovedRelease } from "./lines";
import { comparedTo, otherwise, readSession, sessionRow, standingRow, type MovedOne } from "./moved-session";
import { MovedFile, NotTaken } from "./open-file";

/**
 * What becomes of a session of a file. `new`: taken in; `same`: it is here; `longer`: it went on there, and what came since is
 * added; `different`: what is here stays, and what the file has otherwise is kept aside; `removed`: it was removed here, or is
 * emptied there, and is left alone; `taken`: somebody else has its number here; `unreadable`: it cannot have been recorded.
 */
export const fates = ["new", "same", "longer", "different", "removed", "taken", "unreadable"] as const;
export type Fate = (typeof fates)[number];
/** A session that is told by itself. */
export type ToldSession = { session: string; participant: number; sitting: number; fate: Fate; why: string };

/** What taking a file in does, or did. */
export type TakeIn = {
  study: { code: string; title: string; isNew: boolean };
  made: string;
  /** Whether codes of participants are in the file, and are taken in. */
  codes: { there: boolean; taken: boolean };
  releases: { fresh: number; same: number; renumbered: { from: number; to: number }[] };
  waves: number;
  media: number;
  exclusions: number;
  recipes: number;
  /** Scores over trials and norm samples. */
  definitions: number;
  sessions: Record<Fate, number>;
  told: ToldSession[];
  isWritten: boolean;
};
export type TakenIn = { ok: true; report: TakeIn } | { ok: false; reason: string };

/**
 * Who takes it in; null for whoever has the command line. `owner`: whose study it becomes where it is not here yet; `codes`: with the
 * codes of participants.
 */
export type Asked = {
  account: { id: string } | null;
  by: string;
  owner: string | null;
  write: boolean;
  codes: boolean;
};

/** Sessions that are told by themselves; more are only counted. */
const mostTold = 200;
/** So many sessions are written in one transaction. */
const together = 20;

/**
 * Says what taking in a data file does, or does it: what is here is never written over, and a file that is taken in again changes
 * nothing. The same work is done for the report and for the writing.
 */
export async function takeInFile(store: Store, path: string, asked: Asked): Promise<TakenIn> {
  let file: MovedFile | null = null;
  try {
    file = await MovedFile.open(path);
    return { ok: true, report: await takeIn(store, file, asked) };
  } catch (error) {
    if (error instanceof NotTaken) return { ok: false, reason: error.message };
    throw error;
  } finally {
    file?.close();
  }
}

type ReleaseHere = MovedRelease & { parsed: StudyDocument; isHere: boolean; numberHere: number };

async function takeIn(store: Store, file: MovedFile, asked: Asked): Promise<TakeIn> {
  const { db } = store;
  const about = aboutIn(await file.text(fileNames.about));
  const parsed = parseStudyText(await file.text(fileNames.study));
  if (!parsed.ok) throw new NotTaken(`Its study cannot be read: ${parsed.mistakes[0] ?? ""}`);
  const stones = await store.tombstones.all();
  if (stones.some(({ kind, id }) => kind === "study" && id === about.study.id))
    throw new NotTaken("This study was deleted here for good, so its data are not taken in again.");
  const here = await db
    .selectFrom("study")
    .select(["id", "code", "document"])
    .where("id", "=", about.study.id)
    .executeTakeFirst();
  if (here && asked.account && !mayDo(await rolesIn(db, asked.account.id, here.id), "keep-data"))
    throw new NotTaken("This study is here already, and only its owner can take more of it in.");
  const releases = await releasesIn(store, file, about.study.id);
  const title = here ? titleIn(here.document) : parsed.document.title;
  const report: TakeIn = {
    study: { code: here?.code ?? (await freeCode(store, about.study.code)), title, isNew: !here },
    made: about.made,
    codes: { there: about.codes, taken: about.codes && asked.codes },
    releases: {
      fresh: releases.filter(({ isHere }) => !isHere).length,
      same: releases.filter(({ isHere }) => isHere).length,
      renumbered: releases.flatMap(({ number, numberHere }) =>
        number === numberHere ? [] : [{ from: number, to: numberHere }],
      ),
    },
    waves: 0,
    media: 0,
    exclusions: 0,
    recipes: 0,
    definitions: 0,
    sessions: Object.fromEntries(fates.map((fate) => [fate, 0])) as Record<Fate, number>,
    told: [],
    isWritten: asked.write,
  };
  report.media = await takeMedia(store, file, asked.write);
  if (!here && asked.owner === null && asked.write)
    throw new NotTaken("The study is not here yet. Say whose it will be, with --owner EMAIL.");
  if (asked.write && !here && asked.owner !== null)
    await addStudy(store, asked.owner, parsed.document, report.study.code, about.study.id);
  if (asked.write) await takeParts(store, file, { about, releases, report });
  else report.waves = about.waves.length - (await wavesHere(db, about)).size;
  const removed = new Set(stones.flatMap(({ kind, id }) => (kind === "study" ? [] : [id])));
  await takeSessions(store, file, { about, releases, removed, report, asked });
  if (asked.write) await takeBeside(store, about, report, asked);
  return report;
}

function aboutIn(text: string): AboutMoved {
  let value: unknown = null;
  try {
    value = JSON.parse(text);
  } catch {
    // It is no data file then, as one of another form is none.
  }
  const version = typeof value === "object" && value !== null && "version" in value ? value.version : null;
  if (typeof version === "number" && version > 1)
    throw new NotTaken("The file was made by a newer Lapwing. Update this one, then take it in.");
  if (!hasShape(aboutShape, value)) throw new NotTaken("What the file says of itself cannot be read.");
  return value;
}

const titleIn = (document: string): string => (JSON.parse(document) as { title: string }).title;

/** The code it had there where it is free here, else one like it. */
async function freeCode({ db }: Store, wanted: string): Promise<string> {
  for (let at = 1; ; at++) {
    const code = at === 1 ? wanted : `${wanted}-${at}`;
    if (!(await db.selectFrom("study").select("id").where("code", "=", code).executeTakeFirst())) return code;
  }
}

/** The releases in the file, with the numbers they have here. */
async function releasesIn({ db }: Store, file: MovedFile, studyId: string): Promise<ReleaseHere[]> {
  const here = await db.selectFrom("release").select("number").where("study_id", "=", studyId).execute();
  const numbers = new Set(here.flatMap(({ number }) => number ?? []));
  const releases: ReleaseHere[] = [];
  for await (const line of file.lines(fileNames.releases)) {
    const release = parsedLine(line);
    if (!hasShape(releaseShape, release)) throw new NotTaken("A release in it cannot be read.");
    const parsed = parseStudyText(release.document);
    if (!parsed.ok) throw new NotTaken(`Its release ${release.number} cannot be read: ${parsed.mistakes[0] ?? ""}`);
    if (releases.some(({ id, number }) => id === release.id || number === release.number))
      throw new NotTaken(`It has release ${release.number} twice.`);
    const own = await db
      .selectFrom("release")
      .select(["study_id", "number", "document"])
      .where("id", "=", release.id)
      .executeTakeFirst();
    if (own && (own.study_id !== studyId || own.document !== release.document))
      throw new NotTaken(`Release ${release.number} in it is not what release ${own.number ?? ""} is here.`);
    let numberHere = own?.number ?? release.number;
    // Both installations may have released something else under the same number.
    if (!own) while (numbers.has(numberHere)) numberHere++;
    numbers.add(numberHere);
    releases.push({ ...release, parsed: parsed.document, isHere: own !== undefined, numberHere });
  }
  return releases;
}

function parsedLine(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return null;
  }
}

/** Checks the media in the file, and keeps them where they are to be kept. */
async function takeMedia(store: Store, file: MovedFile, write: boolean): Promise<number> {
  for (const sha256 of file.media) {
    const checked = await checkedMedia(await file.bytes(`media/${sha256}`, mostMediaBytes));
    if (!checked.ok || checked.media.sha256 !== sha256)
      throw new NotTaken("A media file in it is not what it is said to be, so that none of it is taken in.");
    if (write) await store.media.keep(sha256, checked.media.bytes);
  }
  return file.media.length;
}

type Parts = { about: AboutMoved; releases: readonly ReleaseHere[]; report: TakeIn };

async function wavesHere(db: Store["db"] | Transaction<Tables>, about: AboutMoved): Promise<Set<string>> {
  const rows = await db.selectFrom("wave").select("id").where("study_id", "=", about.study.id).execute();
  return new Set(rows.map(({ id }) => id));
}

/** Releases, and waves, which are closed: nobody takes part in them here until somebody opens them. */
async function takeParts(store: Store, file: MovedFile, { about, releases, report }: Parts): Promise<void> {
  const studyId = about.study.id;
  for (const sha256 of file.media) {
    const file = await store.media.read(sha256);
    const checked = await checkedMedia(file);
    if (checked.ok)
      await studyHasMedia(store, studyId, { sha256, mime: checked.media.content.mime, bytes: file.length });
  }
  await store.db.transaction().execute(async (trx) => {
    await lockStudy(trx, studyId);
    for (const { id, numberHere, revision, frozenAt, byWhom, note, accepted, document, isHere } of releases)
      if (!isHere)
        await trx
          .insertInto("release")
          .values({
            ...{ id, study_id: studyId, number: numberHere, revision, document, note, accepted },
            ...{ frozen_at: frozenAt, by_whom: byWhom },
          })
          .execute();
    const there = await wavesHere(trx, about);
    const known = new Set(releases.map(({ id }) => id));
    const at = new Date().toISOString();
    let place = there.size;
    for (const { id, plan, release, says } of about.waves) {
      if (there.has(id) || !known.has(release)) continue;
      await trx
        .insertInto("wave")
        .values({
          ...{ id, study_id: studyId, place: place++, release_id: release, plan: JSON.stringify(plan), says },
          ...{ state: "closed" as const, changed_at: at, created_at: at },
        })
        .execute();
      report.waves++;
    }
    await keepNumbers(trx, studyId, about.study.numberedTo);
  });
}

type Sessions = Parts & { removed: ReadonlySet<string>; asked: Asked };

async function takeSessions(
  store: Store,
  file: MovedFile,
  { about, releases, removed, report, asked }: Sessions,
): Promise<void> {
  const documents = new Map(
    releases.map(({ id, numberHere, parsed }) => [id, { number: numberHere, document: parsed }]),
  );
  const waves = new Set(about.waves.map(({ id }) => id));
  let waiting: MovedOne[] = [];
  const tell = (of: { id: string; participant: number; sitting: number }, fate: Fate, why: string) => {
    report.sessions[fate]++;
    if (fate !== "new" && fate !== "same" && report.told.length < mostTold)
      report.told.push({ session: of.id, participant: of.participant, sitting: of.sitting, fate, why });
  };
  const settle = async () => {
    const some = waiting;
    waiting = [];
    const work = async (db: Store["db"] | Transaction<Tables>) => {
      const done: [MovedOne, Fate, string][] = [];
      for (const one of some) done.push([one, ...(await takeOne(db, about.study.id, one, report.codes.taken, asked))]);
      return done;
    };
    const done = asked.write
      ? await store.db.transaction().execute(async (trx) => {
          await lockStudy(trx, about.study.id);
          return work(trx);
        })
      : await work(store.db);
    for (const [{ session }, fate, why] of done) tell(session, fate, why);
  };
  let line = 0;
  const seen = new Set<string>();
  for await (const text of file.lines(fileNames.sessions)) {
    line++;
    const one = readSession(text, documents, waves);
    if (typeof one === "string") {
      tell({ id: `line ${line}`, participant: 0, sitting: 0 }, "unreadable", `It is left out: ${one}.`);
      continue;
    }
    const { session } = one;
    if (seen.has(session.id)) tell(session, "unreadable", "It is left out: it is in the file twice.");
    else if (removed.has(session.id)) tell(session, "removed", "It was removed here, and stays so.");
    else {
      waiting.push(one);
      if (waiting.length >= together) await settle();
    }
    seen.add(session.id);
  }
  await settle();
}

/** What becomes of one session; where it is to be written, it is. */
async function takeOne(
  db: Store["db"] | Transaction<Tables>,
  studyId: string,
  one: MovedOne,
  withCodes: boolean,
  { write }: Asked,
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
        "Its number belongs to somebody else here. Take the file in where the study is not, to see both.",
      ];
    if (write) await insertSession(db, studyId, one, withCodes);
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

async function insertSession(
  db: Store["db"] | Transaction<Tables>,
  studyId: string,
  one: MovedOne,
  withCodes: boolean,
): Promise<void> {
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

async function addRecords(
  db: Store["db"] | Transaction<Tables>,
  { session }: MovedOne,
  records: MovedOne["records"],
): Promise<void> {
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

async function addLog(db: Store["db"] | Transaction<Tables>, { session, log }: MovedOne): Promise<void> {
  for (let from = 0; from < log.length; from += 100)
    await db
      .insertInto("session_log")
      .values(
        log.slice(from, from + 100).map(({ opening, number, entries, at }) => ({
          ...{ session_id: session.id, opening, number, entries, received_at: at },
        })),
      )
      .onConflict((conflict) => conflict.columns(["session_id", "opening", "number"]).doNothing())
      .execute();
}

async function addNotes(db: Store["db"] | Transaction<Tables>, { session, notes }: MovedOne): Promise<void> {
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
async function lengthen(
  db: Store["db"] | Transaction<Tables>,
  one: MovedOne,
  added: MovedOne["records"],
  before: number,
): Promise<void> {
  await addRecords(db, one, added);
  await addLog(db, one);
  await db
    .updateTable("session")
    .set({
      ...standingRow(one),
      stored_characters: before + added.reduce((sum, { body }) => sum + body.length, 0),
    })
    .where("id", "=", one.session.id)
    .execute();
}

/** Records that stand otherwise here, beside those that do; each once. */
async function keepAside(
  db: Store["db"] | Transaction<Tables>,
  { session }: MovedOne,
  others: MovedOne["records"],
  before: number,
): Promise<void> {
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

/** Exclusions and recipes, and what is written down of it. */
async function takeBeside(store: Store, about: AboutMoved, report: TakeIn, { by }: Asked): Promise<void> {
  const study = { id: about.study.id, code: report.study.code };
  const added = await store.db.transaction().execute(async (trx) => {
    await lockStudy(trx, study.id);
    return addMovedSets(trx, study.id, about.exclusions);
  });
  report.exclusions = added.length;
  const there = new Set((await recipesOf(store.db, study.id)).map(({ recipe }) => JSON.stringify(recipe)));
  for (const { name, recipe } of about.recipes) {
    if (there.has(JSON.stringify(recipe))) continue;
    const changed = await changeRecipe(store, study, by, { do: "add-like", name, recipe });
    if (changed.ok) report.recipes++;
  }
  report.definitions = await takePersons(store, study, about, by);
  const { new: fresh, longer, different } = report.sessions;
  await noteDeed(store.db, {
    ...{ code: study.code, by, kind: "collecting" as const },
    what: `A data file of ${about.made} was taken in: ${fresh} sessions new, ${longer} longer than here, ${different} different.`,
  });
  store.ended(study.id);
}

/** Scores over trials and norm samples whose names are free here; gives how many. Those that were used there are used. */
async function takePersons(
  store: Store,
  { id }: { id: string },
  { scores, norms }: AboutMoved,
  by: string,
): Promise<number> {
  const study = await findStudyById(store, id);
  if (!study) return 0;
  const here = await personsKept(store.db, id);
  let count = 0;
  for (const { name, score } of scores) {
    if (here.scores.some((each) => each.name === name)) continue;
    const changed = await changePersons(store, study, by, { do: "add-score", name, score });
    if (changed.ok) count++;
  }
  for (const { norm, isUsed } of norms) {
    const hasOne = here.norms.some((each) => each.norm.score === norm.score);
    if (here.norms.some((each) => each.norm.score === norm.score && each.norm.name === norm.name)) continue;
    const changed = await changePersons(store, study, by, { do: "add-norm", norm });
    if (!changed.ok) continue;
    count++;
    // What was decided here stays.
    if (!isUsed || hasOne) await changePersons(store, study, by, { do: "leave-norm", id: changed.id });
    const used = here.norms.find((each) => each.isUsed && each.norm.score === norm.score);
    if (used) await changePersons(store, study, by, { do: "use-norm", id: used.id });
  }
  return count;
}
