import { writeFile } from "node:fs/promises";
import { exportFormats, formatNames, type FormatName } from "../core/export/formats/registry";
import { nameProblems } from "../core/export/recipes/problems";
import type { Store } from "../server/database/open";
import { recipeFile } from "../server/export/recipe-file";
import { layoutNames } from "../core/export/layouts/layouts";
import { layoutZip } from "../server/export/layouts";
import { openRecipe } from "../server/export/recipe-table";
import { studyDataZip, tableFile, tablesAlone } from "../server/export/study-data";
import { wholeStudy, type WholeChoice } from "../server/moving/data-file";
import { recipeCalled, recipesOf } from "../server/recipes";
import type { Study } from "../server/studies";
import { rebuild } from "../server/tidy/tidy-data";
import { wavesOf } from "../server/waves";
import { Plain } from "./arguments";
import { studyCalled, withStore } from "./store";

type Asked = {
  out?: string | undefined;
  codes?: boolean | undefined;
  rows?: string | undefined;
  format?: string | undefined;
  recipe?: string | undefined;
  whole?: boolean | undefined;
  wave?: string | undefined;
  finished?: boolean | undefined;
  layout?: string | undefined;
};

/** `export CODE`: the data of a study as a zip, or one of its tables, in a format. */
export async function exportData(
  code: string | undefined,
  { out, codes, rows, format, recipe, whole, wave, finished, layout }: Asked,
): Promise<number> {
  const isPart = rows !== undefined || format !== undefined || recipe !== undefined;
  if (whole && isPart) throw new Plain("--whole has one form of its own: leave out --rows, --format and --recipe.");
  const community = layout === undefined ? null : layoutNames.find((each) => each === layout);
  if (community === undefined) throw new Plain(`--layout is “${layout}”; it is one of ${layoutNames.join(", ")}.`);
  if (community && (isPart || whole || codes))
    throw new Plain(
      "--layout says how everything is written: leave out --rows, --format, --recipe, --whole and --codes.",
    );
  if (!whole && (wave !== undefined || finished)) throw new Plain("--wave and --finished go with --whole.");
  if (!out) throw new Plain("Say where to write the file, with --out F.zip.");
  const asked = format ?? "csv";
  const name = formatNames.find((each) => each === asked);
  if (!name) throw new Plain(`--format is “${asked}”; it is one of ${formatNames.join(", ")}.`);
  const table = rows === undefined ? null : tablesAlone.find((each) => each === `${rows}s`);
  if (table === undefined)
    throw new Plain(
      `--rows is “${rows}”; it is one of ${tablesAlone.map((each) => each.slice(0, -1)).join(", ")}. Leave it out for all of them.`,
    );
  if (table !== null && codes)
    throw new Plain("Codes stand in a table of their own: leave out --rows, or leave out --codes.");
  if (recipe !== undefined && (rows !== undefined || codes))
    throw new Plain("A recipe says its rows itself: leave out --rows and --codes.");
  const choice = { format: exportFormats[name], pilots: false, codes: codes === true, design: true };
  return withStore(async (store) => {
    const found = await studyCalled(store, code);
    const pieces = community
      ? layoutZip(store, found, { layout: community, wave: null, design: true })
      : whole
        ? wholeStudy(store, found, await wholeChoice(store, found, { wave, finished, codes }))
        : recipe !== undefined
          ? await byRecipe(store, found, recipe, format === undefined ? null : name)
          : table === null
            ? studyDataZip(store, found, choice)
            : tableFile(store, found, table, choice);
    await writeFile(out, pieces).catch((error: unknown) => {
      if (error instanceof Error && "code" in error && /^E[A-Z]+$/.test(String(error.code)))
        throw new Plain(`The file ${out} cannot be written.`);
      throw error;
    });
    console.log(out);
    return 0;
  });
}

/** What of a study is taken along; a wave is told by its name. */
async function wholeChoice(store: Store, study: Study, { wave, finished, codes }: Asked): Promise<WholeChoice> {
  const waves = await wavesOf(store.db, study.id);
  const named = waves.find(({ plan }) => plan.name === wave);
  if (wave !== undefined && !named)
    throw new Plain(`There is no wave “${wave}”; there is ${waves.map(({ plan }) => plan.name).join(", ") || "none"}.`);
  return { wave: named?.id ?? null, finished: finished === true, codes: codes === true };
}

/** The file of a recipe, in its own format or another; what of it does not fit the study is told. */
async function byRecipe(store: Store, study: Study, called: string, format: FormatName | null) {
  const all = await recipesOf(store.db, study.id);
  const kept = await recipeCalled(store.db, study.id, called);
  if (!kept)
    throw new Plain(
      all.length === 0
        ? `The study ${study.code} has no recipes.`
        : `There is no recipe “${called}”; there is ${all.map(({ address }) => address).join(", ")}.`,
    );
  const [problem] = nameProblems(kept.recipe);
  if (problem !== undefined) throw new Plain(`The recipe “${kept.name}” cannot be made: ${problem}`);
  const recipe = { ...kept.recipe, format: format ?? kept.recipe.format };
  const { misfits, done } = await openRecipe(store, study, recipe);
  await done();
  for (const misfit of misfits) console.error(misfit);
  return recipeFile(store, study, recipe);
}

/** `rebuild [CODE]`: the rows that results and exports read are made anew, of one study or of all. */
export const rebuildRows = (code: string | undefined): Promise<number> =>
  withStore(async (store) => {
    const codes =
      code === undefined
        ? (await store.db.selectFrom("study").select("code").orderBy("code").execute()).map((row) => row.code)
        : [code];
    for (const each of codes) {
      const { sessions, rows } = await rebuild(store, await studyCalled(store, each));
      console.log(`${each}: ${rows.toLocaleString("en")} rows of ${sessions.toLocaleString("en")} sessions.`);
    }
    return 0;
  });
