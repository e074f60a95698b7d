import { LRUCache } from "lru-cache";
import type { Unpacked } from "../../core/tidy/packed";

/** What was read of a column in a session, by what its rows were made of then. */
type KeptCells = { madeOf: string; cells: Unpacked | null };
type KeptColumn = Map<string, KeptCells>;

/** Bytes of columns that are kept between questions, over all studies; so many are reckoned for a session besides its cells. */
const [mostBytes, bytesEach] = [600e6, 250];

const bytesOf = (cells: Unpacked | null): number =>
  cells === null || "one" in cells
    ? 0
    : "numbers" in cells
      ? cells.numbers.byteLength
      : cells.codes.byteLength + cells.words.reduce<number>((sum, word) => sum + 2 * String(word).length, 0);

/** Columns that were read before, in the thread that answers questions: another question reads only what is new. */
const kept = new LRUCache<string, KeptColumn>({
  maxSize: mostBytes,
  sizeCalculation: (column) => [...column.values()].reduce((sum, { cells }) => sum + bytesEach + bytesOf(cells), 1),
});

/**
 * The cells of a column by session: those known, and those that `read` finds of the others. `madeOf` says of all sessions that
 * are looked at what their rows are made of.
 */
export async function columnBySession(
  key: string,
  madeOf: ReadonlyMap<string, string>,
  read: (sessions: readonly string[]) => Promise<ReadonlyMap<string, Unpacked>>,
): Promise<KeptColumn> {
  const known = kept.get(key);
  const unread = [...madeOf].flatMap(([session, made]) => (known?.get(session)?.madeOf === made ? [] : [session]));
  if (known && unread.length === 0) return known;
  const found = await read(unread);
  const column: KeptColumn = new Map(known);
  for (const session of unread)
    column.set(session, { madeOf: madeOf.get(session) ?? "", cells: found.get(session) ?? null });
  kept.set(key, column);
  return column;
}

/** Forgets the columns of a study: some of its sessions are gone. */
export function forgetColumns(studyId: string): void {
  for (const key of [...kept.keys()]) if (key.startsWith(`${studyId} `)) kept.delete(key);
}
