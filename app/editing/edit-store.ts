import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { Patch } from "~/core/design/edits/edit";
import type { Conflict } from "~/core/design/merge";
import { newId } from "./new-id";

export type Change = { patches: Patch[]; inverse: Patch[] };
/** One change the document of a window went through, its own or one that came from elsewhere, numbered from 0. */
export type LogEntry = Change & { number: number };
/** Entries of the log that are one step of undo. */
export type Span = { from: number; to: number; merge: string | null; at: number };
export type EditorState = {
  /** The revision on the server from which the unsent changes lead on. */
  revision: number;
  unsent: Change[];
  undo: Span[];
  redo: { span: Span; undoneBy: number }[];
  /** What was set here and elsewhere and not looked at yet. */
  conflicts?: Conflict[];
};
export type Remembered = { state: EditorState; log: LogEntry[] };

/** What a window keeps of its editing on this computer's disk, so that a reload or an absent server loses nothing. */
export type EditStore = {
  recall: () => Promise<Remembered | null>;
  /**
   * Unsent changes left by windows that are closed now. They stay on disk until they are forgotten, one by one. A window
   * that is only reloading is told from a closed one by asking for those found closed `looks` times in a row.
   */
  leftBehind: (looks: number) => Promise<{ state: EditorState; forget: () => Promise<void> }[]>;
  /** Continues under a new name; what was kept under the old one stays, as if left behind by a closed window. */
  startAnew: () => Promise<void>;
  append: (entry: LogEntry) => Promise<void>;
  save: (state: EditorState) => Promise<void>;
  close: () => void;
};

type Shape = DBSchema & {
  state: { key: [string, string]; value: { code: string; window: string; state: EditorState } };
  log: { key: [string, string, number]; value: LogEntry & { code: string; window: string } };
};

/** The store of one study in this window. A window keeps its name over reloads; a copy of a tab gets one of its own. */
export async function openEditStore(code: string): Promise<EditStore> {
  const db = await openDB<Shape>("lapwing-editing", 1, {
    upgrade: (fresh) => {
      fresh.createObjectStore("state", { keyPath: ["code", "window"] });
      fresh.createObjectStore("log", { keyPath: ["code", "window", "number"] });
    },
  });
  const known = sessionStorage.getItem(nameKey(code));
  // After a reload the page before may hold it for a moment still.
  const release =
    known === null ? null : ((await holdIfFree(lockName(code, known))) ?? (await hold(lockName(code, known), 1000)));
  return onDisk(db, code, known !== null && release ? { name: known, release } : await newName(code));
}

type Held = { name: string; release: () => void };
const nameKey = (code: string) => `lapwing-window:${code}`;

async function newName(code: string): Promise<Held> {
  const name = newId("window");
  sessionStorage.setItem(nameKey(code), name);
  return { name, release: (await holdIfFree(lockName(code, name))) ?? (() => undefined) };
}

const lockName = (code: string, window: string) => `lapwing-editing:${code}:${window}`;

/**
 * Takes a lock and returns a function that releases it; null if another window holds it. Without lock support, every
 * lock is free.
 */
async function hold(name: string, waitMs: number): Promise<(() => void) | null> {
  const locks = (navigator as { locks?: LockManager }).locks;
  if (!locks) return () => undefined;
  return new Promise((resolve) => {
    locks
      .request(name, { signal: AbortSignal.timeout(waitMs) }, () => new Promise<void>((release) => resolve(release)))
      .catch(() => resolve(null));
  });
}

/** As `hold`, but answers at once whether it is free: however slow the computer, a closed window is not taken for an open one. */
async function holdIfFree(name: string): Promise<(() => void) | null> {
  const locks = (navigator as { locks?: LockManager }).locks;
  if (!locks) return () => undefined;
  return new Promise((resolve) => {
    void locks.request(name, { ifAvailable: true }, (lock) => {
      if (lock) return new Promise<void>((release) => resolve(release));
      resolve(null);
      return undefined;
    });
  });
}

function onDisk(db: IDBPDatabase<Shape>, code: string, held: Held): EditStore {
  let { name: window, release } = held;
  const all = (name: string) => IDBKeyRange.bound([code, name, 0], [code, name, Infinity]);
  const read = async (name: string): Promise<Remembered | null> => {
    const state = await db.get("state", [code, name]);
    return state ? { state: state.state, log: await db.getAll("log", all(name)) } : null;
  };
  const remove = async (name: string) => {
    await db.delete("state", [code, name]);
    await db.delete("log", all(name));
  };
  const foundFree = new Map<string, number>();
  return {
    recall: () => read(window),
    leftBehind: async (looks) => {
      const found: { state: EditorState; forget: () => Promise<void> }[] = [];
      for (const { window: name, state } of await db.getAll("state", IDBKeyRange.bound([code], [code, []]))) {
        if (name === window) continue;
        const free = await holdIfFree(lockName(code, name));
        const times = free ? (foundFree.get(name) ?? 0) + 1 : 0;
        foundFree.set(name, times);
        if (!free) continue;
        if (times < looks) {
          free();
          continue;
        }
        // The lock is held until it is forgotten, so that no other window takes the same changes over.
        const forget = () => remove(name).finally(free);
        if (state.unsent.length > 0) found.push({ state, forget });
        else await forget();
      }
      return found;
    },
    append: async (entry) => void (await db.put("log", { ...entry, code, window })),
    save: async (state) => void (await db.put("state", { code, window, state })),
    startAnew: async () => {
      release();
      ({ name: window, release } = await newName(code));
    },
    close: () => release(),
  };
}
