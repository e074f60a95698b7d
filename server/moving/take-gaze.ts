import type { Store } from "../database/open";
import { gazeStateOf, samplesOf, storePiece } from "../gaze";
import { hasShape } from "../../core/shape/shape";
import { fileNames, gazeLine, type GazeLine } from "./lines";
import { NotTaken, type MovedFile } from "./open-file";

function lineIn(text: string): GazeLine | null {
  try {
    const value: unknown = JSON.parse(text);
    return hasShape(gazeLine, value) ? value : null;
  } catch {
    return null;
  }
}

/** The pieces of gaze in a file, with how many samples each has. Throws `NotTaken` at one that cannot be read. */
async function* piecesOf(file: MovedFile): AsyncGenerator<{ piece: GazeLine; count: number }> {
  if (!file.has(fileNames.gaze)) return;
  for await (const text of file.lines(fileNames.gaze)) {
    const piece = lineIn(text);
    const count = piece && (await samplesOf(piece.samples))?.times.length;
    if (!piece || !count) throw new NotTaken("A piece of gaze in it cannot be read, so that none of it is taken in.");
    yield { piece, count };
  }
}

/** Looks at all gaze of a file before anything of it is written. Throws `NotTaken`. */
export async function checkGaze(file: MovedFile): Promise<void> {
  const pieces = piecesOf(file);
  while ((await pieces.next()).done !== true);
}

/**
 * Takes in the gaze of these sessions of a file: of each the pieces that come after what is here. Gives how many sessions have more
 * of it than before, or would have without `write`.
 */
export async function takeGazeIn(
  { db }: Store,
  file: MovedFile,
  sessions: ReadonlySet<string>,
  write: boolean,
): Promise<number> {
  const more = new Set<string>();
  for await (const { piece, count } of piecesOf(file)) {
    const { session, at, ...own } = piece;
    if (!sessions.has(session)) continue;
    const isNew = write
      ? (await storePiece(db, session, own, { count, at })).isStored
      : (await gazeStateOf(db, session)).number < own.number;
    if (isNew) more.add(session);
  }
  return more.size;
}
