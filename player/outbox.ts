import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { LogChunk } from "~/core/records/log";
import type { SessionRecord } from "~/core/records/record";

/** A session as this computer remembers it, under the address it was entered by. */
export type Remembered = {
  entry: string;
  secret: string;
  session: string;
  startedAt: number;
  /** The window that plays it; no other may add records. */
  owner?: string | undefined;
};

type Shape = DBSchema & {
  session: { key: string; value: Remembered };
  record: { key: [string, number]; value: { session: string; number: number; record: SessionRecord } };
  log: { key: [string, string, number]; value: LogChunk & { session: string } };
};

export type Kept = { records: SessionRecord[]; log: LogChunk[] };

/** Another window has taken the session over. */
export class TakenOver extends Error {}

/** Records on the participant's own disk: written here first, removed only after the server has acknowledged them. */
export type Outbox = {
  remembered: (entry: string) => Promise<Remembered | null>;
  remember: (session: Remembered) => Promise<void>;
  forget: (entry: string) => Promise<void>;
  /** Settled once all is on disk. Rejects with TakenOver when the session is another window's by now. */
  add: (owner: Remembered, kept: Kept) => Promise<void>;
  waiting: (session: string) => Promise<Kept>;
  /** Removes records up to this number, and these pieces of the log. */
  acknowledge: (session: string, upTo: number, log: LogChunk[]) => Promise<void>;
};

/** Rejects where this browser keeps nothing, or while a window with an older Lapwing is open. */
export async function openOutbox(): Promise<Outbox> {
  const db = await new Promise<IDBPDatabase<Shape>>((resolve, reject) => {
    openDB<Shape>("lapwing", 2, {
      upgrade: (fresh, from) => {
        if (from < 1) {
          fresh.createObjectStore("session", { keyPath: "entry" });
          fresh.createObjectStore("record", { keyPath: ["session", "number"] });
        }
        fresh.createObjectStore("log", { keyPath: ["session", "opening", "number"] });
      },
      blocked: () => reject(new Error("An older window is open")),
    }).then(resolve, reject);
  });
  return onDisk(db);
}

function onDisk(db: IDBPDatabase<Shape>): Outbox {
  const all = (session: string) => IDBKeyRange.bound([session, 0], [session, Infinity]);
  const allLog = (session: string) => IDBKeyRange.bound([session], [session, []]);
  return {
    remembered: async (entry) => (await db.get("session", entry)) ?? null,
    remember: async (session) => void (await db.put("session", session)),
    forget: (entry) => db.delete("session", entry),
    add: async ({ entry, session, owner }, { records, log }) => {
      const transaction = db.transaction(["session", "record", "log"], "readwrite", { durability: "strict" });
      const present = await transaction.objectStore("session").get(entry);
      if (present?.owner !== owner) {
        transaction.abort();
        await transaction.done.catch(() => undefined);
        throw new TakenOver();
      }
      const stored = transaction.objectStore("record");
      for (const record of records)
        // Nothing written is ever overwritten.
        if ((await stored.getKey([session, record.number])) === undefined)
          void stored.add({ session, number: record.number, record });
      for (const chunk of log) void transaction.objectStore("log").put({ ...chunk, session });
      await transaction.done;
    },
    waiting: async (session) => ({
      records: (await db.getAll("record", all(session))).map(({ record }) => record),
      log: (await db.getAll("log", allLog(session))).map(({ opening, number, entries }) => ({
        opening,
        number,
        entries,
      })),
    }),
    acknowledge: async (session, upTo, log) => {
      const transaction = db.transaction(["record", "log"], "readwrite");
      void transaction.objectStore("record").delete(IDBKeyRange.bound([session, 0], [session, upTo]));
      for (const { opening, number } of log) void transaction.objectStore("log").delete([session, opening, number]);
      await transaction.done;
    },
  };
}
