import { requireStudy } from "~/app/study-access.server";
import { actionOrAway } from "~/app/when-away";
import { recipeChange } from "~/core/export/recipes/change";
import { hasShape, mistakesIn } from "~/core/shape/shape";
import { changeRecipe } from "~/server/recipes";
import type { Route } from "./+types/study-recipes";

/** Adds or changes a recipe of a study. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code, "see-results");
  const sent: unknown = await request.json().catch(() => null);
  if (!hasShape(recipeChange, sent)) {
    const [mistake] = mistakesIn(recipeChange, sent);
    const reason = `The recipe was not changed: ${[mistake?.path, mistake?.message].filter(Boolean).join(" ")}.`;
    return Response.json({ reason }, { status: 400 });
  }
  const changed = await changeRecipe(context.store, study, study.by, sent);
  return changed.ok ? Response.json({ id: changed.id }) : Response.json({ reason: changed.reason }, { status: 409 });
}

export const clientAction = actionOrAway;
