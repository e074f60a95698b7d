import type { Kysely } from "kysely";
import type { Store } from "../database/open";
import type { Tombstone } from "../tombstones";
import type { TidyTables } from "./database";

/** Removes all rows of a study. */
export async function forgetStudy(tidy: Kysely<TidyTables>, studyId: string): Promise<void> {
  for (const table of ["tidy_cells", "tidy_session", "tidy_study"] as const)
    await tidy.deleteFrom(table).where("study_id", "=", studyId).execute();
}

/** Removes at once the rows of sessions or studies that are removed; columns need not be known. */
export async function forgetTidy(tidy: Kysely<TidyTables>, stones: readonly Tombstone[]): Promise<void> {
  for (const { kind, id } of stones) {
    if (kind === "study") {
      await forgetStudy(tidy, id);
      continue;
    }
    const there = await tidy
      .selectFrom("tidy_session")
      .select("study_id")
      .where("session_id", "=", id)
      .executeTakeFirst();
    if (!there) continue;
    await tidy.deleteFrom("tidy_cells").where("study_id", "=", there.study_id).where("session_id", "=", id).execute();
    await tidy.deleteFrom("tidy_session").where("session_id", "=", id).execute();
  }
}

/** Removes the rows of sessions that are there no longer, such as those of a database that another was put in the place of. Gives how many. */
export async function pruneTidy(store: Pick<Store, "db" | "tidy">): Promise<number> {
  const tidy = await store.tidy();
  const there = await tidy.selectFrom("tidy_session").select("session_id").execute();
  const gone: Tombstone[] = [];
  for (let from = 0; from < there.length; from += 500) {
    const ids = there.slice(from, from + 500).map(({ session_id }) => session_id);
    const present = await store.db.selectFrom("session").select("id").where("id", "in", ids).execute();
    const isPresent = new Set(present.map(({ id }) => id));
    for (const id of ids) if (!isPresent.has(id)) gone.push({ kind: "deleted", id });
  }
  await forgetTidy(tidy, gone);
  return gone.length;
}
