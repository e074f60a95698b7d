import { writtenAs } from "../../core/export/formats/in-text";
import type { Piece } from "../../core/export/formats/format";
import type { Recipe } from "../../core/export/recipes/recipe";
import type { Store } from "../database/open";
import type { Study } from "../studies";
import { openRecipe } from "./recipe-table";
import { writtenRows } from "./written";

/** The file a recipe makes: the same bytes each time it is made of the same data. */
export async function* recipeFile(store: Store, study: Study, recipe: Recipe): AsyncGenerator<Piece> {
  const { columns, batches, done } = await openRecipe(store, study, recipe);
  try {
    yield* writtenRows(writtenAs(recipe.format, recipe), columns, batches);
  } finally {
    await done();
  }
}
