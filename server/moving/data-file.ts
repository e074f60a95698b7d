import { createHash } from "node:crypto";
import type { Piece } from "../../core/export/formats/format";
import { codesOfAll } from "../codes";
import type { Store } from "../database/open";
import { exclusionsOf } from "../exclusions";
import { DataReader, otherTurns, type Sitting } from "../export/reader";
import { bytesOf } from "../export/written";
import { zipped, type FileInZip } from "../export/zip";
import { textInFile } from "../frozen-documents";
import { storedPieces } from "../gaze";
import { personsKept } from "../persons";
import { recipesOf } from "../recipes";
import type { Study } from "../studies";
import { wavesOf } from "../waves";
import { fileNames, type AboutMoved, type GazeLine, type MovedRelease, type SessionLine } from "./lines";

/** Which sessions go along; rehearsals stay behind. `codes`: with what leads to participants. */
export type WholeChoice = { wave?: string | null; finished?: boolean; codes: boolean };

/** So many sessions are read together. */
const together = 50;

/** A study with its releases, waves, sessions, notes, exclusions and recipes in one file, to be taken in by another installation. */
export async function* wholeStudy(store: Store, study: Study, choice: WholeChoice): AsyncGenerator<Uint8Array> {
  const sums: string[] = [];
  const summed = async function* (): AsyncGenerator<FileInZip> {
    for await (const file of filesOf(store, study, choice)) {
      const hash = createHash("sha256");
      yield { ...file, pieces: hashed(file.pieces, hash) };
      sums.push(`${hash.digest("hex")}  ${file.name}\n`);
    }
    yield { name: fileNames.checksums, pieces: [sums.join("")] };
  };
  yield* zipped(summed());
}

async function* hashed(pieces: FileInZip["pieces"], hash: ReturnType<typeof createHash>): AsyncGenerator<Piece> {
  for await (const piece of pieces) {
    hash.update(bytesOf(piece));
    yield piece;
  }
}

async function* filesOf(store: Store, study: Study, choice: WholeChoice): AsyncGenerator<FileInZip> {
  const { db } = store;
  const whole = await DataReader.open(store, study, { pilots: false, wave: choice.wave ?? null });
  const reader = choice.finished ? whole.only(({ row }) => row.state === "finished") : whole;
  yield { name: fileNames.about, pieces: [`${JSON.stringify(await aboutOf(store, study, choice), null, 1)}\n`] };
  yield { name: fileNames.study, pieces: [textInFile(study.document)] };
  const releases = await db
    .selectFrom("release")
    .selectAll()
    .where("study_id", "=", study.id)
    .where("number", "is not", null)
    .orderBy("number")
    .execute();
  yield {
    name: fileNames.releases,
    pieces: releases.map((release) => {
      const { id, number, revision, document, note, accepted } = release;
      const { frozen_at: frozenAt, by_whom: byWhom } = release;
      const line: MovedRelease = { id, number: number ?? 0, revision, frozenAt, byWhom, note, accepted, document };
      return `${JSON.stringify(line)}\n`;
    }),
  };
  yield { name: fileNames.sessions, pieces: sessionLines(store, reader, choice) };
  const watched = await sessionsWithGaze(store, reader);
  if (watched.length > 0) yield { name: fileNames.gaze, pieces: gazeLines(store, watched) };
  const media = await db.selectFrom("study_media").select("sha256").where("study_id", "=", study.id).execute();
  for (const { sha256 } of media)
    yield {
      name: `media/${sha256}`,
      pieces: (await store.media.stream(sha256)).content as AsyncIterable<Uint8Array>,
      isPacked: true,
    };
}

async function aboutOf({ db }: Store, study: Study, { codes }: WholeChoice): Promise<AboutMoved> {
  const { numbered_to: numberedTo } = await db
    .selectFrom("study")
    .select("numbered_to")
    .where("id", "=", study.id)
    .executeTakeFirstOrThrow();
  const { used, sets } = await exclusionsOf(db, study.id);
  const persons = await personsKept(db, study.id);
  const highest = await db
    .selectFrom("session")
    .select(({ fn }) => fn.max("participant").as("most"))
    .where("study_id", "=", study.id)
    .executeTakeFirst();
  return {
    format: "lapwing-data",
    version: 1,
    made: new Date().toISOString(),
    // Numbers given out there are not given out again here, whichever sessions come along.
    study: { id: study.id, code: study.code, numberedTo: Math.max(numberedTo, highest?.most ?? 0) },
    codes,
    waves: (await wavesOf(db, study.id)).map(({ id, plan, releaseId, says }) => ({
      ...{ id, plan, says },
      release: releaseId,
    })),
    exclusions: sets.map(({ id, name, rules, registered }) => ({ name, rules, isUsed: id === used.id, registered })),
    scores: persons.scores.map(({ name, score }) => ({ name, score })),
    norms: persons.norms.map(({ norm, isUsed }) => ({ norm, isUsed })),
    recipes: (await recipesOf(db, study.id)).map(({ name, recipe }) => ({ name, recipe })),
  };
}

async function* sessionLines(store: Store, reader: DataReader, { codes }: WholeChoice): AsyncGenerator<string> {
  for (let from = 0; from < reader.sittings.length; from += together) {
    const some = reader.sittings.slice(from, from + together);
    for await (const line of linesOf(store, reader, some, codes)) yield `${JSON.stringify(line)}\n`;
    await otherTurns();
  }
}

/** Which of the sessions have gaze, in their order. */
async function sessionsWithGaze({ db }: Store, reader: DataReader): Promise<string[]> {
  const ids = reader.sittings.map(({ row }) => row.id);
  const found = new Set<string>();
  for (let from = 0; from < ids.length; from += 500) {
    const some = ids.slice(from, from + 500);
    const rows = await db
      .selectFrom("gaze_piece")
      .select("session_id")
      .distinct()
      .where("session_id", "in", some)
      .execute();
    for (const { session_id } of rows) found.add(session_id);
  }
  return ids.filter((id) => found.has(id));
}

/** The pieces of these sessions, one in memory at a time. */
async function* gazeLines({ db }: Store, sessions: readonly string[]): AsyncGenerator<string> {
  for (const session of sessions) {
    for await (const piece of storedPieces(db, session))
      yield `${JSON.stringify({ session, ...piece } satisfies GazeLine)}\n`;
    await otherTurns();
  }
}

/** What goes along of these sessions, as it is stored. */
async function* linesOf(
  { db }: Store,
  reader: DataReader,
  sittings: readonly Sitting[],
  withCodes: boolean,
): AsyncGenerator<SessionLine> {
  const ids = sittings.map(({ row }) => row.id);
  const rows = await reader.inFull(sittings);
  const known = withCodes ? await codesOfAll(db, ids) : null;
  for (const sitting of sittings) {
    const { id } = sitting.row;
    const row = rows.get(id);
    // Whoever was deleted meanwhile is not there.
    if (!row) continue;
    const records = await db
      .selectFrom("record")
      .select(["number", "body", "received_at as at"])
      .where("session_id", "=", id)
      .orderBy("number")
      .execute();
    const log = await db
      .selectFrom("session_log")
      .select(["opening", "number", "entries", "received_at as at"])
      .where("session_id", "=", id)
      .orderBy("opening")
      .orderBy("number")
      .execute();
    const aside = await db
      .selectFrom("refused_record")
      .select(["number", "body", "received_at as at", "why"])
      .where("session_id", "=", id)
      .orderBy("id")
      .execute();
    const notes = await db
      .selectFrom("session_note")
      .select(["at", "by_whom as by", "text"])
      .where("session_id", "=", id)
      .orderBy("at")
      .execute();
    yield {
      session: {
        id,
        release: row.release_id,
        wave: row.wave_id,
        participant: row.participant,
        entered: row.entered,
        group: row.group_id,
        orders: row.orders,
        stratum: row.stratum,
        sitting: row.sitting,
        repeat: row.repeat,
        given: row.given,
        device: row.device,
        computer: sitting.computer,
        excludedAt: row.excluded_at,
        excludedBecause: row.excluded_because,
        state: row.state,
        trialsPlanned: row.trials_planned,
        part: row.part,
        startedAt: row.started_at,
        seenAt: row.seen_at,
        finishedAt: row.finished_at,
        browser: row.browser,
        display: row.display,
        scenes: row.scenes,
        late: row.late,
        lookedAway: row.looked_away,
        attempt: row.attempt,
        removedAt: row.removed_at,
      },
      ...{ records, log, aside, notes },
      codes: known?.get(id) ?? null,
    };
  }
}
