import type { Selectable, Transaction } from "kysely";
import type { RecipeChange } from "../core/export/recipes/change";
import { recipe as recipeShape, type Recipe } from "../core/export/recipes/recipe";
import { hasShape } from "../core/shape/shape";
import { freeAddress, freeTitle } from "../core/values/names";
import { newId } from "./chance";
import { lockStudy } from "./database/locked";
import { sinceNow } from "./database/since";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { noteDeed } from "./study-log";

/** A recipe as a study keeps it. */
export type KeptRecipe = {
  id: string;
  name: string;
  /** The name in its address, which stays when it is renamed. */
  address: string;
  recipe: Recipe;
  version: number;
  reads: number;
  readAt: string | null;
};
type Db = Store["db"] | Transaction<Tables>;

/** So many recipes a study has at most. */
const mostRecipes = 50;
const longestAddress = 60;

const readRow = (row: Selectable<Tables["recipe"]>): KeptRecipe[] => {
  const recipe: unknown = JSON.parse(row.recipe);
  if (!hasShape(recipeShape, recipe)) return [];
  return [
    {
      ...{ id: row.id, name: row.name, address: row.address, recipe, version: row.version, reads: row.reads },
      readAt: row.read_at,
    },
  ];
};

/** The recipes of a study, oldest first. */
export async function recipesOf(db: Db, studyId: string): Promise<KeptRecipe[]> {
  const rows = await db
    .selectFrom("recipe")
    .selectAll()
    .where("study_id", "=", studyId)
    .orderBy("since")
    .orderBy("id")
    .execute();
  return rows.flatMap(readRow);
}

/** The recipe at an address, or of a name; null where there is none. */
export async function recipeCalled(db: Db, studyId: string, called: string): Promise<KeptRecipe | null> {
  const rows = await db
    .selectFrom("recipe")
    .selectAll()
    .where("study_id", "=", studyId)
    .where((eb) => eb.or([eb("address", "=", called), eb("name", "=", called)]))
    .execute();
  const found = rows.flatMap(readRow);
  return found.find(({ address }) => address === called) ?? found[0] ?? null;
}

/** Counts that a file was taken by it. */
export async function noteRead({ db }: Store, id: string): Promise<void> {
  await db
    .updateTable("recipe")
    .set(({ eb }) => ({ reads: eb("reads", "+", 1), read_at: new Date().toISOString() }))
    .where("id", "=", id)
    .execute();
}

/** A name as it stands in an address: small letters, digits and hyphens. */
const addressOf = (name: string): string =>
  name
    .normalize("NFKD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter((word) => word !== "")
    .join("-")
    .slice(0, longestAddress) || "recipe";

export type ChangedRecipe = { ok: true; id: string } | { ok: false; reason: string };
const refused = (reason: string): ChangedRecipe => ({ ok: false, reason });

/** Adds, changes, renames or removes a recipe; what was done, and by whom, is written down. No data are touched. */
export async function changeRecipe(
  { db }: Store,
  study: { id: string; code: string },
  by: string,
  change: RecipeChange,
): Promise<ChangedRecipe> {
  return db.transaction().execute(async (trx) => {
    await lockStudy(trx, study.id);
    const all = await recipesOf(trx, study.id);
    const note = (what: string) => noteDeed(trx, { code: study.code, by, what, kind: "recipe" });
    const isTaken = (name: string, but = "") => all.some((each) => each.name === name && each.id !== but);
    if (change.do === "add" || change.do === "add-like") {
      if (all.length >= mostRecipes) return refused(`A study has at most ${mostRecipes} recipes. Remove one first.`);
      const names = all.map((each) => each.name);
      const name = change.do === "add-like" ? freeTitle(change.name, names) : change.name;
      if (isTaken(name)) return refused(`There is a recipe “${name}” already.`);
      const id = newId("recipe");
      const address = freeAddress(
        addressOf(name),
        all.map((each) => each.address),
      );
      await trx
        .insertInto("recipe")
        .values({
          ...{ id, study_id: study.id, name, address, recipe: JSON.stringify(change.recipe) },
          ...{ version: 1, since: await sinceNow(trx, "recipe", study.id), reads: 0, read_at: null },
        })
        .execute();
      await note(`The recipe “${name}” was made.`);
      return { ok: true, id };
    }
    const found = all.find(({ id }) => id === change.id);
    if (!found) return refused("This recipe is gone. Load the page again.");
    const own = trx.updateTable("recipe").where("id", "=", found.id);
    switch (change.do) {
      case "save":
        if (change.version !== found.version)
          return refused("Somebody else changed this recipe meanwhile. Look at it again.");
        await own.set({ recipe: JSON.stringify(change.recipe), version: found.version + 1 }).execute();
        break;
      case "rename":
        if (isTaken(change.name, found.id)) return refused(`There is a recipe “${change.name}” already.`);
        await own.set({ name: change.name }).execute();
        await note(`The recipe “${found.name}” is called “${change.name}” now.`);
        break;
      case "remove":
        await trx.deleteFrom("recipe").where("id", "=", found.id).execute();
        await note(`The recipe “${found.name}” was removed; its address gives nothing any longer.`);
        break;
    }
    return { ok: true, id: found.id };
  });
}
