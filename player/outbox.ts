import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { SessionRecord } from "~/core/run/records";

/** A session as this computer remembers it, under the address it was entered by. */
export type Remembered = { entry: string; secret: string; session: string; startedAt: number };

type Shape = DBSchema & {
  session: { key: string; value: Remembered };
  record: { key: [string, number]; value: { session: string; number: number; record: SessionRecord } };
};

/** Records on the participant's own disk: written here first, removed only after the server has acknowledged them. */
export type Outbox = {
  remembered: (entry: string) => Promise<Remembered | null>;
  remember: (session: Remembered) => Promise<void>;
  forget: (entry: string) => Promise<void>;
  /** Settled once the records are on disk. */
  add: (session: string, records: SessionRecord[]) => Promise<void>;
  waiting: (session: string) => Promise<SessionRecord[]>;
  acknowledge: (session: string, upTo: number) => Promise<void>;
};

export async function openOutbox(): Promise<Outbox> {
  const db = await openDB<Shape>("lapwing", 1, {
    upgrade: (fresh) => {
      fresh.createObjectStore("session", { keyPath: "entry" });
      fresh.createObjectStore("record", { keyPath: ["session", "number"] });
    },
  });
  return onDisk(db);
}

function onDisk(db: IDBPDatabase<Shape>): Outbox {
  const all = (session: string) => IDBKeyRange.bound([session, 0], [session, Infinity]);
  return {
    remembered: async (entry) => (await db.get("session", entry)) ?? null,
    remember: async (session) => void (await db.put("session", session)),
    forget: (entry) => db.delete("session", entry),
    add: async (session, records) => {
      const transaction = db.transaction("record", "readwrite", { durability: "strict" });
      for (const record of records) void transaction.store.put({ session, number: record.number, record });
      await transaction.done;
    },
    waiting: async (session) => (await db.getAll("record", all(session))).map(({ record }) => record),
    acknowledge: (session, upTo) => db.delete("record", IDBKeyRange.bound([session, 0], [session, upTo])),
  };
}
