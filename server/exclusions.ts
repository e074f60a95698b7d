import { createHash } from "node:crypto";
import type { Selectable, Transaction } from "kysely";
import type { ExclusionChange } from "../core/exclusions/change";
import type { Registered } from "../core/exclusions/method";
import { ruleDifferences } from "../core/exclusions/differences";
import { rules as rulesShape, usualRules, type Rule } from "../core/exclusions/registry";
import { hasShape } from "../core/shape/shape";
import { freeTitle } from "../core/values/names";
import { newId } from "./chance";
import { lockStudy } from "./database/locked";
import { sinceNow } from "./database/since";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { noteDeed } from "./study-log";

/** A named set of rules by which sessions and trials are left out of results. */
export type ExclusionSet = {
  /** Null for the usual rules, where nothing was decided yet. */
  id: string | null;
  name: string;
  rules: Rule[];
  version: number;
  /** What was written down when it was recorded as preregistered; it is not changed after that. */
  registered: Registered | null;
};
type Db = Store["db"] | Transaction<Tables>;

/** So many sets a study has at most. */
const mostSets = 50;
const usual = (): ExclusionSet => ({ id: null, name: "Usual", rules: usualRules(), version: 0, registered: null });

function readSet(row: Selectable<Tables["exclusion_set"]>): ExclusionSet {
  const rules: unknown = JSON.parse(row.rules);
  return {
    id: row.id,
    name: row.name,
    rules: hasShape(rulesShape, rules) ? rules : [],
    version: row.version,
    registered: row.registered === null ? null : (JSON.parse(row.registered) as Registered),
  };
}

/** The sets of a study, oldest first, and the one in use; the usual rules where it has none. */
export async function exclusionsOf(db: Db, studyId: string): Promise<{ used: ExclusionSet; sets: ExclusionSet[] }> {
  const rows = await db
    .selectFrom("exclusion_set")
    .selectAll()
    .where("study_id", "=", studyId)
    .orderBy("since")
    .orderBy("id")
    .execute();
  const sets = rows.map(readSet);
  const used = sets[rows.findIndex(({ is_used }) => is_used === 1)] ?? sets[0] ?? usual();
  return { used, sets };
}

export type Changed = { ok: true } | { ok: false; reason: string };
const refused = (reason: string): Changed => ({ ok: false, reason });

/** Changes what is left out of a study's results. No data are touched; what was changed, and by whom, is written down. */
export async function changeExclusions(
  { db }: Store,
  study: { id: string; code: string },
  by: string,
  change: ExclusionChange,
): Promise<Changed> {
  return db.transaction().execute(async (trx) => {
    await lockStudy(trx, study.id);
    const { sets } = await exclusionsOf(trx, study.id);
    const note = (what: string) => noteDeed(trx, { code: study.code, by, what, kind: "left-out" });
    const called = (name: string | null) =>
      name === null ? (sets.length === 0 ? usual() : undefined) : sets.find((each) => each.id === name);
    const found =
      change.do === "take"
        ? { ...usual(), rules: change.rules }
        : change.do === "add"
          ? called(change.from)
          : called(change.set);
    if (!found) return refused("This set of exclusions is gone. Load the page again.");
    switch (change.do) {
      case "rules": {
        if (found.registered)
          return refused(`“${found.name}” is recorded as preregistered. Make a set of your own of it.`);
        if (change.version !== found.version)
          return refused("Somebody else changed this set meanwhile. Look at it again.");
        if (haveSameId(change.rules)) return refused("Two rules have the same id.");
        await write(trx, study.id, found, { rules: JSON.stringify(change.rules), version: found.version + 1 });
        const different = ruleDifferences(found.rules, change.rules).join("; ");
        if (different !== "") await note(`Exclusions${found.id === null ? "" : ` “${found.name}”`}: ${different}.`);
        return { ok: true };
      }
      case "take":
      case "add": {
        if (haveSameId(found.rules)) return refused("Two rules have the same id.");
        if (sets.length >= mostSets)
          return refused(`A study has at most ${mostSets} sets. Remove one that is not needed.`);
        if (sets.some(({ name }) => name === change.name)) return refused(`There is a set “${change.name}” already.`);
        await trx.updateTable("exclusion_set").set({ is_used: 0 }).where("study_id", "=", study.id).execute();
        await write(trx, study.id, { ...usual(), name: change.name, rules: found.rules }, {});
        await note(`The exclusions “${change.name}” were made and are in use.`);
        return { ok: true };
      }
      case "use":
        await trx.updateTable("exclusion_set").set({ is_used: 0 }).where("study_id", "=", study.id).execute();
        await trx.updateTable("exclusion_set").set({ is_used: 1 }).where("id", "=", change.set).execute();
        await note(`The exclusions “${found.name}” are in use.`);
        return { ok: true };
      case "rename":
        if (found.registered) return refused("What is recorded as preregistered keeps its name.");
        if (sets.some(({ id: each, name }) => name === change.name && each !== found.id))
          return refused(`There is a set “${change.name}” already.`);
        await trx.updateTable("exclusion_set").set({ name: change.name }).where("id", "=", change.set).execute();
        await note(`The exclusions “${found.name}” are called “${change.name}” now.`);
        return { ok: true };
      case "remove":
        if (found.registered) return refused("What is recorded as preregistered stays.");
        await trx.deleteFrom("exclusion_set").where("id", "=", change.set).execute();
        await note(`The exclusions “${found.name}” were removed.`);
        return { ok: true };
      case "register": {
        if (found.registered) return refused(`“${found.name}” is recorded already.`);
        if (change.version !== found.version)
          return refused("Somebody else changed this set meanwhile. Look at it again.");
        const registered = await recorded(trx, study, by, found.rules);
        await write(trx, study.id, found, { registered: JSON.stringify(registered) });
        await note(
          `The exclusions “${found.name}” were recorded as preregistered (SHA-256 ${registered.hash}) when ${registered.sessions} ${registered.sessions === 1 ? "session was" : "sessions were"} in${registered.sessions === 0 ? "" : registered.looked ? " and results had been looked at" : " and nobody had looked at results"}.`,
        );
        return { ok: true };
      }
    }
  });
}

/** A set as another installation had it. */
export type MovedSet = Pick<ExclusionSet, "name" | "rules" | "registered"> & { isUsed: boolean };

/**
 * Adds sets of another installation to those of a study: what is here stays, and a set whose rules are here is not added. The one
 * in use there is in use here where nothing was decided here yet. Gives the names of those that were added.
 */
export async function addMovedSets(
  trx: Transaction<Tables>,
  studyId: string,
  moved: readonly MovedSet[],
): Promise<string[]> {
  const { sets } = await exclusionsOf(trx, studyId);
  const isFirst = sets.length === 0;
  const key = (set: Pick<MovedSet, "rules" | "registered">) =>
    JSON.stringify([set.rules, set.registered?.hash ?? null]);
  const known = new Set(sets.map(key));
  const names = sets.map(({ name }) => name);
  const added: string[] = [];
  for (const { name, rules, registered: said, isUsed } of moved) {
    const isTrue = said !== null && said.hash === hashOf(rules);
    // What was written down there this server did not see itself.
    const registered = isTrue ? { ...said, by: `${said.by}, at another installation`.slice(0, 300) } : null;
    if (known.has(key({ rules, registered })) || haveSameId(rules) || names.length >= mostSets) continue;
    known.add(key({ rules, registered }));
    const own = freeTitle(name, names);
    names.push(own);
    added.push(own);
    await write(
      trx,
      studyId,
      { ...usual(), name: own, rules },
      {
        is_used: isFirst && isUsed ? 1 : 0,
        registered: registered && JSON.stringify(registered),
      },
    );
  }
  return added;
}

const hashOf = (rules: readonly Rule[]): string => createHash("sha256").update(JSON.stringify(rules)).digest("hex");

const haveSameId = (rules: readonly Rule[]) => new Set(rules.map(({ id }) => id)).size < rules.length;

/** Writes a set: a new one where it has no id yet, which is in use then. */
async function write(
  trx: Transaction<Tables>,
  studyId: string,
  found: ExclusionSet,
  changed: Partial<Pick<Selectable<Tables["exclusion_set"]>, "rules" | "version" | "registered" | "is_used">>,
): Promise<void> {
  if (found.id !== null) {
    await trx.updateTable("exclusion_set").set(changed).where("id", "=", found.id).execute();
    return;
  }
  await trx
    .insertInto("exclusion_set")
    .values({
      id: newId("exclusions"),
      study_id: studyId,
      name: found.name,
      rules: JSON.stringify(found.rules),
      version: 1,
      is_used: 1,
      since: await sinceNow(trx, "exclusion_set", studyId),
      registered: null,
      ...changed,
    })
    .execute();
}

/** What is known of a study at this moment: how many sessions are in, and whether anything was seen of them. */
async function recorded(
  trx: Transaction<Tables>,
  study: { id: string; code: string },
  by: string,
  rules: readonly Rule[],
): Promise<Registered> {
  const sessions = await trx
    .selectFrom("session")
    .select(({ fn }) => [fn.countAll<number>().as("count"), fn.min("started_at").as("first")])
    .where("study_id", "=", study.id)
    .where("pilot", "=", 0)
    .executeTakeFirstOrThrow();
  const look = sessions.first
    ? await trx
        .selectFrom("deed")
        .select("id")
        .where("study_code", "=", study.code)
        .where("kind", "in", ["opened", "exported"])
        .where("at", ">=", sessions.first)
        .limit(1)
        .executeTakeFirst()
    : undefined;
  return {
    at: new Date().toISOString(),
    by,
    hash: hashOf(rules),
    sessions: Number(sessions.count),
    looked: look !== undefined,
  };
}
