import type { WrittenColumn } from "../../core/export/formats/format";
import { tidyTableNames, type TidyTableName } from "../../core/export/tidy-tables";
import type { Cell } from "../../core/values/data-column";
import { availableIn, recipeTable, type TableColumns } from "../export/recipe-table";
import { rowsOfBatch } from "../export/written";
import { recipesOf, type KeptRecipe } from "../recipes";
import type { Result } from "./result";

/** The recipe that is looked at, null for everything; and of which wave that is, null for all. */
export type ExportQuestion = { recipe: string | null; wave: string | null };
export type ExportAnswer = {
  recipes: KeptRecipe[];
  used: KeptRecipe | null;
  /** How many rows each table of everything has. */
  counts: Record<TidyTableName, number>;
  /** The first rows of the file; null where everything is looked at. */
  preview: { columns: WrittenColumn[]; rows: Cell[][]; total: number } | null;
  /** What of the recipe does not fit the study. */
  misfits: string[];
  /** What columns there are for its rows, by which conditions are told apart, of what numbers there are means, and the waves. */
  available: {
    columns: TableColumns;
    levels: { column: string; levels: string[] }[];
    numbers: string[];
    waves: string[];
    /** Sets of exclusions. */
    exclusions: string[];
  };
};

const shownRows = 6;

/** The recipes of a study, and the file that one of them makes. */
export const exportRecipes: Result<ExportQuestion, ExportAnswer> = {
  showsLeftOut: true,
  ask: (query) => ({ recipe: query.get("recipe"), wave: query.get("wave") }),
  answer: async ({ store, everybody }, { recipe: asked, wave }) => {
    const { reader, rows: all } = everybody;
    const { study } = reader;
    const recipes = await recipesOf(store.db, study.id);
    const used = recipes.find(({ id }) => id === asked) ?? null;
    const taken = all.only(({ row }) => wave === null || row.wave_id === wave);
    const counts = Object.fromEntries(
      tidyTableNames.map((name) => [name, taken.count(name)]),
    ) as ExportAnswer["counts"];
    const table = used && (await recipeTable(store, everybody, used.recipe));
    const there = table?.available ?? (await availableIn(store, reader, "session"));
    const rows: Cell[][] = [];
    if (table)
      for await (const batch of table.batches()) {
        const { from, to } = "columns" in batch ? batch : { from: 0, to: shownRows };
        const first = "columns" in batch ? { ...batch, to: Math.min(to, from + shownRows) } : batch.slice(from, to);
        rows.push(...rowsOfBatch(first).map((cells) => [...cells]));
        if (rows.length >= shownRows) break;
      }
    return {
      ...{ recipes, used, counts, misfits: table?.misfits ?? [] },
      preview: table && { columns: table.columns, rows: rows.slice(0, shownRows), total: table.rows },
      available: {
        columns: there.columns,
        levels: [...there.levels].map(([column, levels]) => ({ column, levels: [...levels] })),
        numbers: [...there.numbers],
        waves: [...there.waves],
        exclusions: [...there.exclusions],
      },
    };
  },
};
