import { sql } from "kysely";
import type { WaveState } from "../core/collect/wave";
import { wordsIn } from "../core/describe/words-in";
import { listedParts } from "../core/design/lookup";
import { storedDocument } from "../core/design/parse";
import { hasSittings } from "../core/design/sittings";
import { mayDo, type Role } from "../core/rights/rights";
import type { Store } from "./database/open";
import { rolesOf } from "./rights";
import { planOf } from "./waves";

export type StudyLine = {
  code: string;
  title: string;
  /** What somebody is in it, who owns it, and how many other persons and laboratories it is shared with. */
  roles: Role[];
  owner: string;
  shared: number;
  labels: string[];
  /** Nothing is released; people may take part, or not just now; all its waves are closed. */
  work: "drafting" | "collecting" | "closed";
  groups: number;
  parts: number;
  finished: number;
  target: number | null;
  released: boolean;
  days: number[];
  editedAt: string;
  binnedAt: string | null;
};
/** The studies somebody has to do with, and what the index shows of each, newest work first. */
export async function listStudies({ db }: Store, accountId: string): Promise<StudyLine[]> {
  const roles = await rolesOf(db, accountId);
  const ids = [...roles.keys()];
  if (ids.length === 0) return [];
  const rows = await db
    .selectFrom("study")
    .innerJoin("account", "account.id", "study.owner_id")
    .selectAll("study")
    .select("account.name as owner")
    .select(({ selectFrom }) =>
      selectFrom("study_share")
        .select(({ fn }) => fn.countAll<number>().as("count"))
        .whereRef("study_share.study_id", "=", "study.id")
        .as("shared"),
    )
    .where("study.id", "in", ids)
    .orderBy("edited_at", "desc")
    .execute();
  const labels = await db.selectFrom("study_label").selectAll().where("study_id", "in", ids).orderBy("label").execute();
  const since = new Date(Date.now() - 13 * 86_400_000).toISOString().slice(0, 10);
  const sessions = await db
    .selectFrom("session")
    .innerJoin("study", "study.id", "session.study_id")
    .select(({ fn }) => [
      "session.study_id as study",
      "session.state as state",
      "session.sitting as sitting",
      sql<string>`substr(session.started_at, 1, 10)`.as("day"),
      fn.countAll<number>().as("count"),
    ])
    .where("study.id", "in", ids)
    .where("session.pilot", "=", 0)
    .groupBy(["session.study_id", "session.state", "session.sitting", "day"])
    .execute();
  const waves = await wavesIn(db, ids);
  return rows.map((row) => {
    const document = storedDocument(row.document);
    const own = sessions.filter(({ study }) => study === row.id);
    const days = Array.from({ length: 14 }, (_, index) => {
      const day = new Date(Date.parse(since) + index * 86_400_000).toISOString().slice(0, 10);
      return own.reduce((sum, each) => sum + (each.day === day ? each.count : 0), 0);
    });
    return {
      code: row.code,
      title: document.title,
      roles: roles.get(row.id) ?? [],
      owner: row.owner,
      shared: Number(row.shared),
      labels: labels.filter(({ study_id }) => study_id === row.id).map(({ label }) => label),
      work: workOf(waves.get(row.id)),
      groups: document.groups.length,
      parts: listedParts(document.runningOrder).length,
      // Where people come several times, they are counted by their first sitting, as their target is.
      finished: own
        .filter(({ state, sitting }) => state === "finished" && (sitting === 1 || !hasSittings(document)))
        .reduce((sum, { count }) => sum + Number(count), 0),
      target: targetOf(waves.get(row.id)),
      released: waves.has(row.id),
      days,
      editedAt: row.edited_at,
      binnedAt: row.binned_at,
    };
  });
}

type WaveLine = { state: WaveState; target: number | undefined };

/** The waves of studies: every study that was released has at least one. */
async function wavesIn(db: Store["db"], ids: readonly string[]): Promise<Map<string, WaveLine[]>> {
  const rows = await db
    .selectFrom("wave")
    .innerJoin("study", "study.id", "wave.study_id")
    .select(["wave.study_id", "wave.plan", "wave.state"])
    .where("study.id", "in", ids)
    .execute();
  const waves = new Map<string, WaveLine[]>();
  for (const { study_id, plan, state } of rows)
    waves.set(study_id, [...(waves.get(study_id) ?? []), { state, target: planOf({ plan }).target }]);
  return waves;
}

const workOf = (waves: readonly WaveLine[] | undefined): StudyLine["work"] =>
  !waves ? "drafting" : waves.every(({ state }) => state === "closed") ? "closed" : "collecting";

/** How many finished sessions are wanted over all waves; null where none says. */
function targetOf(waves: readonly WaveLine[] = []): number | null {
  const targets = waves.flatMap(({ target }) => target ?? []);
  return targets.length > 0 ? targets.reduce((sum, target) => sum + target, 0) : null;
}

/** In which designs somebody may see something is written: a short piece of it, by the study's code. */
export async function foundInDesigns(
  { db }: Store,
  accountId: string,
  sought: string,
): Promise<Record<string, string>> {
  const roles = await rolesOf(db, accountId);
  const ids = [...roles].flatMap(([id, own]) => (mayDo(own, "see-design") ? [id] : []));
  if (ids.length === 0 || sought.trim() === "") return {};
  let query = db.selectFrom("study").select(["code", "document"]).where("id", "in", ids);
  // What is plain stands in the stored text as it is written, whatever the case, so that the others need not be opened.
  if (/^[a-z0-9 .,-]+$/i.test(sought))
    query = query.where(sql`lower(document)`, "like", `%${sought.trim().toLowerCase()}%`);
  const rows = await query.execute();
  return Object.fromEntries(
    rows.flatMap(({ code, document }) => {
      const piece = wordsIn(storedDocument(document), sought);
      return piece === null ? [] : [[code, piece]];
    }),
  );
}

/** Titles and codes of studies that are there, by title. */
export async function studiesNamed({ db }: Store, ids: readonly string[]): Promise<{ code: string; title: string }[]> {
  if (ids.length === 0) return [];
  const rows = await db
    .selectFrom("study")
    .select(["code", "document"])
    .where("id", "in", ids)
    .where("binned_at", "is", null)
    .execute();
  return rows
    .map(({ code, document }) => ({ code, title: storedDocument(document).title }))
    .toSorted((one, other) => one.title.localeCompare(other.title));
}
