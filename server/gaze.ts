import { promisify } from "node:util";
import type { Transaction } from "kysely";
import { gunzip } from "node:zlib";
import { joinSamples, sampleBytes, unpackSamples, type SampleColumns } from "../core/gaze/packed";
import { degreesOf, usualViewing } from "../core/design/visual-angle";
import type { Settings } from "../core/design/settings";
import { calibrated, type Calibration, type Eye, type Fit, type Place } from "../core/gaze/calibrate";
import type { LogEntry } from "../core/records/log";
import { list, object } from "../core/shape/compound";
import { number, text, whole } from "../core/shape/plain";
import { hasShape, nullable, type Of } from "../core/shape/shape";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { locked } from "./database/locked";
import { countGaze, gazeProblem } from "./intake";
import { sessionOfSecret } from "./session-of-secret";

const unpacked = promisify(gunzip);

/** How far the gaze of a session is stored: the last of its pieces, and up to which piece of the recording it goes. */
export type GazeState = { number: number; through: number };

/** So many samples a piece may have, and a session pieces: six hours of two eyes, 1,200 samples a second. */
const [mostSamples, mostPieces] = [40_000, 20_000];

/** What a piece says, besides whose it is. */
export const pieceFields = {
  number: whole(1, mostPieces),
  through: whole(1, 1e9),
  /** By how much its times may be off, in ms; null where they are this computer’s own. */
  error: nullable(number({ least: 0, most: 1e6 })),
  samples: text({ most: 2_000_000, pattern: /^[A-Za-z0-9+/]+={0,2}$/, otherwise: "must be base64" }),
};
const pieceShape = object(pieceFields);
export type GazePiece = Of<typeof pieceShape>;

type Taken = { ok: true; state: GazeState } | { ok: false; reason: string; isFull?: boolean };

type Db = Store["db"] | Transaction<Tables>;

/** How far the gaze of a session is stored. */
export const gazeStateOf = async (db: Db, session: string): Promise<GazeState> => {
  const last = await db
    .selectFrom("gaze_piece")
    .select(["number", "through"])
    .where("session_id", "=", session)
    .orderBy("number", "desc")
    .limit(1)
    .executeTakeFirst();
  return last ?? { number: 0, through: 0 };
};

/** Stores a piece where it is the next one of its session, with as many samples; says how far the session’s gaze is stored then. */
export async function storePiece(
  db: Db,
  session: string,
  { number: next, through, error, samples }: GazePiece,
  { count, at }: { count: number; at: string },
): Promise<{ state: GazeState; isStored: boolean }> {
  const before = await gazeStateOf(db, session);
  if (next !== before.number + 1 || through <= before.through) return { state: before, isStored: false };
  await db
    .insertInto("gaze_piece")
    .values({ session_id: session, number: next, through, count, error_ms: error, samples, received_at: at })
    .execute();
  return { state: { number: next, through }, isStored: true };
}

/** How far the gaze of the session is stored that a secret opens; null for anything else. */
export async function gazeState(store: Store, secret: string): Promise<GazeState | null> {
  const session = await sessionOfSecret(store, secret);
  return session && !session.superseded && session.document.settings.gaze ? gazeStateOf(store.db, session.id) : null;
}

/** The samples of a stored piece, or of one that was sent; null where there are none in it. */
export async function samplesOf(piece: string): Promise<SampleColumns | null> {
  const bytes = await unpacked(Buffer.from(piece, "base64"), { maxOutputLength: mostSamples * sampleBytes }).catch(
    () => null,
  );
  return bytes && unpackSamples(bytes);
}

/**
 * Stores the next piece of where a participant looked, and says how far it is stored once that is on disk. A piece that is not the
 * next one changes nothing: what stands stays, and whoever sent it goes on from what is said.
 */
export async function takeGaze(store: Store, secret: string, sent: unknown): Promise<Taken> {
  const session = await sessionOfSecret(store, secret);
  if (!session || session.superseded || !session.document.settings.gaze)
    return { ok: false, reason: "There is no such session, or its study records no gaze." };
  if (!hasShape(pieceShape, sent)) return { ok: false, reason: "This is no piece of gaze." };
  const samples = await samplesOf(sent.samples);
  if (!samples || samples.times.length === 0) return { ok: false, reason: "This piece of gaze has no samples." };
  const full = await gazeProblem(store, session.studyId);
  if (full !== null) return { ok: false, reason: full, isFull: true };
  const state = await store.write(async (trx): Promise<GazeState> => {
    const present = await locked(
      trx,
      trx.selectFrom("session").select(["removed_at"]).where("id", "=", session.id),
    ).executeTakeFirst();
    // The participant left and wanted nothing kept.
    if (!present || present.removed_at !== null) return { number: sent.number, through: sent.through };
    const at = new Date().toISOString();
    const { state: now, isStored } = await storePiece(trx, session.id, sent, { count: samples.times.length, at });
    if (isStored) await countGaze(store, trx, session.studyId, sent.samples.length);
    return now;
  });
  return { ok: true, state };
}

/** Each calibration of a session, and the session time from which it holds; in their order. */
async function calibrationsOf(
  { db }: Pick<Store, "db">,
  session: string,
): Promise<{ from: number; fit: Calibration }[]> {
  const chunks = await db.selectFrom("session_log").select("entries").where("session_id", "=", session).execute();
  return chunks
    .flatMap(({ entries }) => JSON.parse(entries) as LogEntry[])
    .flatMap(({ what, at, value = "" }) => {
      const fit = what === "gaze-calibration" ? calibrationIn(value) : null;
      return fit ? [{ from: at, fit }] : [];
    })
    .sort((a, b) => a.from - b.from);
}

/** The stored pieces of a session in their order, one in memory at a time. */
export async function* storedPieces(db: Db, session: string): AsyncGenerator<GazePiece & { at: string }> {
  for (let last = 0; ;) {
    const row = await db
      .selectFrom("gaze_piece")
      .selectAll()
      .where("session_id", "=", session)
      .where("number", ">", last)
      .orderBy("number")
      .limit(1)
      .executeTakeFirst();
    if (!row) return;
    last = row.number;
    const { number: own, through, error_ms: error, samples, received_at: at } = row;
    yield { number: own, through, error, samples, at };
  }
}

/**
 * Where both eyes of a session looked, sample by sample, in degrees of visual angle from the middle of the stage, to the right and
 * upwards, by the calibration that held at the time; before the first one, and of a source that needs none, as it was recorded.
 */
export async function* gazeInDegrees(
  store: Pick<Store, "db">,
  session: string,
  viewing: Settings["viewing"] = usualViewing,
): AsyncGenerator<DegreeSample> {
  const calibrations = await calibrationsOf(store, session);
  const degrees = (units: number) => Math.sign(units) * (degreesOf(Math.abs(units), viewing) ?? NaN);
  let at = -1;
  for await (const { samples: packed } of storedPieces(store.db, session)) {
    const samples = await samplesOf(packed);
    for (const [index, time] of (samples?.times ?? []).entries()) {
      while (at + 1 < calibrations.length && (calibrations[at + 1]?.from ?? 0) <= time) at++;
      const fit = calibrations[at]?.fit;
      const eye = (which: Eye) => {
        const recorded = { x: samples?.[`${which}X`][index] ?? NaN, y: samples?.[`${which}Y`][index] ?? NaN };
        const { x, y } = fit ? placeBy(fit[which], recorded) : recorded;
        return { x: degrees(x), y: degrees(y), pupil: samples?.[`${which}Pupil`][index] ?? NaN };
      };
      yield { time, left: eye("left"), right: eye("right"), distance: samples?.distance[index] ?? NaN };
    }
  }
}
type DegreeSample = Record<Eye, { x: number; y: number; pupil: number }> & { time: number; distance: number };

/** Where an eye looked; one that could not be calibrated tells nothing. */
const placeBy = (fit: Fit | null, recorded: Place): Place => (fit ? calibrated(fit, recorded) : { x: NaN, y: NaN });

const fitShape = nullable(object({ x: list(number(), 1, 6), y: list(number(), 1, 6) }));
const calibrationShape = object({ left: fitShape, right: fitShape });
function calibrationIn(said: string): Calibration | null {
  try {
    const value: unknown = JSON.parse(said);
    return hasShape(calibrationShape, value) ? value : null;
  } catch {
    return null;
  }
}

/** All samples of a session in their order, at session times; places in stage units as they were recorded, before any calibration. */
export async function gazeOf({ db }: Pick<Store, "db">, session: string): Promise<SampleColumns> {
  const pieces: SampleColumns[] = [];
  for await (const { samples } of storedPieces(db, session)) {
    const piece = await samplesOf(samples);
    if (piece) pieces.push(piece);
  }
  return joinSamples(pieces);
}
