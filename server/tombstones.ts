import { appendFile, open, readFile } from "node:fs/promises";
import { join } from "node:path";

/** What was removed: a session emptied because somebody left or deleted, or a study. */
export type Tombstone = { kind: "emptied" | "deleted" | "study"; id: string };

/**
 * The names of sessions and studies that were removed, in a file beside the database, so that a copy of the database from
 * before brings nothing back. Names are random: nothing about anyone stands here.
 */
export type Tombstones = {
  /** Settled when they are on disk. */
  add: (stones: readonly Tombstone[]) => Promise<void>;
  all: () => Promise<Tombstone[]>;
};

const kinds = ["emptied", "deleted", "study"] as const;

export function tombstonesIn(folder: string): Tombstones {
  const path = join(folder, "removed.txt");
  return {
    add: async (stones) => {
      const at = new Date().toISOString();
      await appendFile(path, stones.map(({ kind, id }) => `${kind} ${id} ${at}\n`).join(""), { mode: 0o600 });
      const file = await open(path, "r");
      await file.sync().finally(() => file.close());
    },
    all: async () => {
      const text = await readFile(path, "utf8").catch(() => "");
      return text.split("\n").flatMap((line): Tombstone[] => {
        const [kind = "", id = ""] = line.split(" ");
        const known = kinds.find((each) => each === kind);
        return known && id !== "" ? [{ kind: known, id }] : [];
      });
    },
  };
}
