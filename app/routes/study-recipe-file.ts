import { requireStudy } from "~/app/study-access.server";
import { exported } from "~/app/exported.server";
import { exportFormats, formatNames } from "~/core/export/formats/registry";
import { nameProblems } from "~/core/export/recipes/problems";
import { noteDeed } from "~/server/study-log";
import { noteRead, recipeCalled } from "~/server/recipes";
import type { Route } from "./+types/study-recipe-file";

const plain = { headers: { "Content-Type": "text/plain; charset=utf-8", "Cache-Control": "no-store" } };

/** The file that a recipe makes, at an address that stays: `/studies/CODE/recipes/NAME.FORMAT`, signed in or with a key. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "see-results");
  const { code, by } = study;
  const [, name = "", extension = ""] = /^(.+)\.([a-z]+)$/.exec(params.file) ?? [];
  const kept = await recipeCalled(context.store.db, study.id, name);
  if (!kept)
    return new Response(`This study has no recipe at the address “${name || params.file}”.\n`, {
      status: 404,
      ...plain,
    });
  // Two formats end in .csv: the recipe’s own comes first.
  const format = [kept.recipe.format, ...formatNames].find((each) => exportFormats[each].extension === extension);
  if (!format) {
    const known = [...new Set(formatNames.map((each) => `.${exportFormats[each].extension}`))].join(", ");
    return new Response(`There is no format “.${extension}”. An address ends with one of ${known}.\n`, {
      status: 404,
      ...plain,
    });
  }
  const [problem] = nameProblems(kept.recipe);
  if (problem !== undefined)
    return new Response(`The recipe “${kept.name}” cannot be made: ${problem} Mend it in Results, Export.\n`, {
      status: 409,
      ...plain,
    });
  await noteDeed(context.store.db, {
    ...{ code, by, kind: "exported" },
    what: `Data were taken away by the recipe “${kept.name}” as ${format}.`,
  });
  await noteRead(context.store, kept.id);
  const { mime } = exportFormats[format];
  const task = { kind: "recipe" as const, code, recipe: { ...kept.recipe, format } };
  return exported(context, task, `${code}-${kept.address}.${extension}`, mime);
}
