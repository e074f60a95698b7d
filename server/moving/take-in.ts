import type { Transaction } from "kysely";
import { parseStudyText } from "../../core/design/parse";
import type { StudyDocument } from "../../core/design/document";
import { mostMediaBytes } from "../../core/media/types";
import { mayDo } from "../../core/rights/rights";
import { hasShape } from "../../core/shape/shape";
import { lockStudy } from "../database/locked";
import type { Store } from "../database/open";
import type { Tables } from "../database/tables";
import { addMovedSets } from "../exclusions";
import { keepNumbers } from "../forgetting";
import { checkedMedia } from "../media/checked";
import { studyHasMedia } from "../media/study-media";
import { forgetInNorms } from "../forgotten-norms";
import { addMovedPersons } from "../persons";
import { changeRecipe, recipesOf } from "../recipes";
import { rolesIn } from "../rights";
import { addStudy } from "../studies";
import { noteDeed } from "../study-log";
import { wavesOf } from "../waves";
import { aboutShape, fileNames, releaseShape, type AboutMoved, type MovedRelease } from "./lines";
import { placeOf, readSession, type MovedOne } from "./moved-session";
import { MovedFile, NotTaken } from "./open-file";
import { checkGaze, takeGazeIn } from "./take-gaze";
import { fates, takeSession, type Fate } from "./take-session";

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
  exclusions: number;
  recipes: number;
  /** Scores over trials and norm samples. */
  definitions: number;
  /** Sessions of which more gaze came than was here. */
  gaze: number;
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
    exclusions: 0,
    recipes: 0,
    definitions: 0,
    gaze: 0,
    sessions: Object.fromEntries(fates.map((fate) => [fate, 0])) as Record<Fate, number>,
    told: [],
    isWritten: asked.write,
  };
  report.waves = (await newWaves(db, about, releases)).length;
  if (!here && asked.owner === null && asked.write)
    throw new NotTaken("The study is not here yet. Say whose it will be, with --owner EMAIL.");
  const media = await takeMedia(
    store,
    file,
    [parsed.document, ...releases.map((release) => release.parsed)],
    asked.write,
  );
  await checkGaze(file);
  if (asked.write && !here && asked.owner !== null)
    await addStudy(store, asked.owner, parsed.document, report.study.code, about.study.id);
  if (asked.write) await takeParts(store, { about, releases, media });
  const removed = new Set(stones.flatMap(({ kind, id }) => (kind === "study" ? [] : [id])));
  const present = await takeSessions(store, file, { about, releases, removed, report, asked });
  report.gaze = await takeGazeIn(store, file, present, asked.write);
  if (asked.write) await takeBeside(store, about, removed, report, asked);
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

type Media = { sha256: string; mime: string; bytes: number };

/** Checks the media in the file, of which none may be missing, and keeps them where they are to be kept. */
async function takeMedia(
  store: Store,
  file: MovedFile,
  documents: readonly StudyDocument[],
  write: boolean,
): Promise<Media[]> {
  const found: Media[] = [];
  for (const sha256 of file.media) {
    const checked = await checkedMedia(await file.bytes(`media/${sha256}`, mostMediaBytes));
    if (!checked.ok || checked.media.sha256 !== sha256)
      throw new NotTaken("A media file in it is not what it is said to be, so that none of it is taken in.");
    const { bytes, content } = checked.media;
    if (write) await store.media.keep(sha256, bytes);
    found.push({ sha256, mime: content.mime, bytes: bytes.length });
  }
  const there = new Set(file.media);
  const missing = documents.flatMap(({ media }) => media).find(({ sha256 }) => !there.has(sha256));
  if (missing) throw new NotTaken(`The media file “${missing.name}” is not in it. Make the file anew.`);
  return found;
}

/** The waves of the file that are not here yet. */
async function newWaves(
  db: Db,
  { waves, study }: AboutMoved,
  releases: readonly ReleaseHere[],
): Promise<AboutMoved["waves"]> {
  const known = new Set(releases.map(({ id }) => id));
  if (waves.some(({ release }) => !known.has(release)) || new Set(waves.map(({ id }) => id)).size < waves.length)
    throw new NotTaken("The waves in it cannot be read.");
  const ids = waves.map(({ id }) => id);
  if (ids.length === 0) return [];
  const rows = await db.selectFrom("wave").select(["id", "study_id"]).where("id", "in", ids).execute();
  if (rows.some(({ study_id }) => study_id !== study.id))
    throw new NotTaken("A wave in it is one of another study here.");
  const there = new Set(rows.map(({ id }) => id));
  return waves.filter(({ id }) => !there.has(id));
}

type Db = Store["db"] | Transaction<Tables>;
type Parts = { about: AboutMoved; releases: readonly ReleaseHere[]; media: readonly Media[] };

/** Releases, and waves, which are closed: nobody takes part in them here until somebody opens them. */
async function takeParts(store: Store, { about, releases, media }: Parts): Promise<void> {
  const studyId = about.study.id;
  for (const each of media) await studyHasMedia(store, studyId, each);
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
    const at = new Date().toISOString();
    let place = (await wavesOf(trx, studyId)).length;
    for (const { id, plan, release, says } of await newWaves(trx, about, releases))
      await trx
        .insertInto("wave")
        .values({
          ...{ id, study_id: studyId, place: place++, release_id: release, plan: JSON.stringify(plan), says },
          ...{ state: "closed" as const, changed_at: at, created_at: at },
        })
        .execute();
    await keepNumbers(trx, studyId, about.study.numberedTo);
  });
}

type Sessions = Omit<Parts, "media"> & { removed: ReadonlySet<string>; report: TakeIn; asked: Asked };

/** Takes in the sessions; gives those that are here then as they are in the file, or went on there. */
async function takeSessions(
  store: Store,
  file: MovedFile,
  { about, releases, removed, report, asked }: Sessions,
): Promise<ReadonlySet<string>> {
  const present = new Set<string>();
  const documents = new Map(
    releases.map(({ id, numberHere, parsed }) => [id, { number: numberHere, document: parsed }]),
  );
  const waves = new Set(about.waves.map(({ id }) => id));
  let waiting: MovedOne[] = [];
  const tell = (of: { id: string; participant: number; sitting: number }, fate: Fate, why: string) => {
    report.sessions[fate]++;
    if (fate === "new" || fate === "same" || fate === "longer") present.add(of.id);
    if (fate !== "new" && fate !== "same" && report.told.length < mostTold)
      report.told.push({ session: of.id, participant: of.participant, sitting: of.sitting, fate, why });
  };
  const how = { write: asked.write, codes: report.codes.taken };
  const settle = async () => {
    const some = waiting;
    waiting = [];
    const work = async (db: Db) => {
      const done: [MovedOne, Fate, string][] = [];
      for (const one of some) done.push([one, ...(await takeSession(db, about.study.id, one, how))]);
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
    const place = placeOf(session);
    if (seen.has(session.id) || (place !== null && seen.has(place)))
      tell(session, "unreadable", "It is left out: it is in the file twice.");
    else if (removed.has(session.id)) tell(session, "removed", "It was removed here, and stays so.");
    else {
      waiting.push(one);
      if (waiting.length >= together) await settle();
    }
    seen.add(session.id);
    if (place !== null) seen.add(place);
  }
  await settle();
  return present;
}

/** Exclusions and recipes, and what is written down of it. */
async function takeBeside(
  store: Store,
  about: AboutMoved,
  removed: ReadonlySet<string>,
  report: TakeIn,
  { by }: Asked,
): Promise<void> {
  const study = { id: about.study.id, code: report.study.code };
  await store.db.transaction().execute(async (trx) => {
    await lockStudy(trx, study.id);
    report.exclusions = (await addMovedSets(trx, study.id, about.exclusions)).length;
    report.definitions = await addMovedPersons(trx, study.id, about);
    // Whoever was removed here is in no sample either.
    await forgetInNorms(trx, study.id, [...removed]);
  });
  const there = new Set((await recipesOf(store.db, study.id)).map(({ recipe }) => JSON.stringify(recipe)));
  for (const { name, recipe } of about.recipes) {
    if (there.has(JSON.stringify(recipe))) continue;
    const changed = await changeRecipe(store, study, by, { do: "add-like", name, recipe });
    if (changed.ok) report.recipes++;
  }
  const { new: fresh, longer, different } = report.sessions;
  await noteDeed(store.db, {
    ...{ code: study.code, by, kind: "collecting" as const },
    what: `A data file of ${about.made} was taken in: ${fresh} sessions new, ${longer} longer than here, ${different} different.`,
  });
}
