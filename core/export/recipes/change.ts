import { object, variant } from "../../shape/compound";
import { only, readableName, whole } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { id } from "../../values/ref";
import { recipe } from "./recipe";

const name = readableName();
/** What can be done with a study’s recipes. `version` is that of the recipe as it was seen; a new one begins with 1. */
export const recipeChange = variant("do", {
  add: object({ do: only("add"), name, recipe }),
  /** The same, with a name like it where it is taken. */
  "add-like": object({ do: only("add-like"), name, recipe }),
  save: object({ do: only("save"), id, version: whole(0), recipe }),
  rename: object({ do: only("rename"), id, name }),
  remove: object({ do: only("remove"), id }),
});
export type RecipeChange = Of<typeof recipeChange>;
