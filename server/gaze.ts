import { promisify } from "node:util";
import { gunzip } from "node:zlib";
import { joinSamples, sampleBytes, unpackSamples, type SampleColumns } from "../core/gaze/packed";
import { degreesOf } from "../core/design/visual-angle";
import type { Settings } from "../core/design/settings";
import { calibrated, type Calibration, type Eye } from "../core/gaze/calibrate";
import type { LogEntry } from "../core/records/log";
import { list, object } from "../core/shape/compound";
import { number, text, whole } from "../core/shape/plain";
import { hasShape, nullable } from "../core/shape/shape";
import type { Store } from "./database/open";
import { locked } from "./database/locked";
import { countIntake, intakeProblem } from "./intake";
import { sessionOfSecret } from "./session-of-secret";

const unpacked = promisify(gunzip);

/** How far the gaze of a session is stored: the last of its pieces, and up to which piece of the recording it goes. */
export type GazeState = { number: number; through: number };

/** So many samples a piece may have, and a session pieces: six hours of two eyes, 1,200 samples a second. */
const [mostSamples, mostPieces] = [40_000, 20_000];

const pieceShape = object({
  number: whole(1, mostPieces),
  through: whole(1, 1e9),
  /** By how much its times may be off, in ms; null where they are this computer’s own. */
  error: nullable(number({ least: 0, most: 1e6 })),
  samples: text({ most: 2_000_000, pattern: /^[A-Za-z0-9+/]+={0,2}$/, otherwise: "must be base64" }),
});

type Taken = { ok: true; state: GazeState } | { ok: false; reason: string; isFull?: boolean };

const stateIn = async (db: Store["db"], session: string): Promise<GazeState> => {
  const last = await db
    .selectFrom("gaze_piece")
    .select(["number", "through"])
    .where("session_id", "=", session)
    .orderBy("number", "desc")
    .limit(1)
    .executeTakeFirst();
  return last ?? { number: 0, through: 0 };
};

/** How far the gaze of the session is stored that a secret opens; null for anything else. */
export async function gazeState(store: Store, secret: string): Promise<GazeState | null> {
  const session = await sessionOfSecret(store, secret);
  return session && !session.superseded && session.document.settings.gaze ? stateIn(store.db, session.id) : null;
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
  const full = await intakeProblem(store, store.db, session.studyId, session.link, false);
  if (full !== null) return { ok: false, reason: full, isFull: true };
  const state = await store.write(async (trx): Promise<GazeState> => {
    const present = await locked(
      trx,
      trx.selectFrom("session").select(["removed_at"]).where("id", "=", session.id),
    ).executeTakeFirst();
    // The participant left and wanted nothing kept.
    if (!present || present.removed_at !== null) return { number: sent.number, through: sent.through };
    const before = await stateIn(trx, session.id);
    if (sent.number !== before.number + 1 || sent.through <= before.through) return before;
    await trx
      .insertInto("gaze_piece")
      .values({
        ...{ session_id: session.id, number: sent.number, through: sent.through, count: samples.times.length },
        ...{ error_ms: sent.error, samples: sent.samples, received_at: new Date().toISOString() },
      })
      .execute();
    await countIntake(store, trx, session.studyId, session.link, { sessions: 0, characters: sent.samples.length });
    return { number: sent.number, through: sent.through };
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

/**
 * Where both eyes of a session looked, in degrees of visual angle from the middle of the stage, to the right and upwards, by the
 * calibration that held at the time; before the first one, and of a source that needs none, as it was recorded.
 */
export async function gazeInDegrees(store: Pick<Store, "db">, session: string, viewing: Settings["viewing"]) {
  const samples = await gazeOf(store, session);
  const calibrations = await calibrationsOf(store, session);
  const degrees = (units: number) => degreesOf(Math.abs(units), viewing ?? usualViewing) ?? NaN;
  let at = -1;
  const rows = Array.from(samples.times, (time, index) => {
    while (at + 1 < calibrations.length && (calibrations[at + 1]?.from ?? 0) <= time) at++;
    const fit = calibrations[at]?.fit;
    const eye = (which: Eye) => {
      const place = { x: samples[`${which}X`][index] ?? NaN, y: samples[`${which}Y`][index] ?? NaN };
      const own = fit?.[which];
      // An eye that could not be calibrated tells nothing.
      const { x, y } = fit && !own ? { x: NaN, y: NaN } : own ? calibrated(own, place) : place;
      return {
        x: Math.sign(x) * degrees(x),
        y: Math.sign(y) * degrees(y),
        pupil: samples[`${which}Pupil`][index] ?? NaN,
      };
    };
    return { time, left: eye("left"), right: eye("right"), distance: samples.distance[index] ?? NaN };
  });
  return rows;
}
/** Where no viewing distance was set: as the player takes it. */
const usualViewing = { distanceCm: 60, shorterSideCm: 30 };

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
  const rows = await db
    .selectFrom("gaze_piece")
    .select("samples")
    .where("session_id", "=", session)
    .orderBy("number")
    .execute();
  const pieces = await Promise.all(rows.map(({ samples }) => samplesOf(samples)));
  return joinSamples(pieces.filter((piece) => piece !== null));
}
