import { Download } from "lucide-react";
import { buttonClass } from "~/app/components/button";
import { useStored } from "~/app/editing/use-stored";
import { useStudy } from "~/app/editing/use-study";
import { exportFormats } from "~/core/export/formats/registry";
import type { RecipeChange } from "~/core/export/recipes/change";
import { nameProblems } from "~/core/export/recipes/problems";
import { recipe as recipeShape, type Recipe } from "~/core/export/recipes/recipe";
import { hasShape } from "~/core/shape/shape";
import type { ExportAnswer } from "~/server/results/export";
import type { KeptRecipe } from "~/server/recipes";
import { Everything } from "../export/everything";
import { RecipeColumns } from "../export/recipe-columns";
import { RecipeList } from "../export/recipe-list";
import { conditionColumnsOf, RecipeSentence } from "../export/recipe-sentence";
import { ScriptBox } from "../export/script-box";
import { AddCondition } from "../row-conditions";
import type { ResultView } from "../result-views";

export const View: ResultView<"export"> = ({ question, answer, ask }) => {
  const { used } = answer;
  return (
    <div className="grid grid-cols-[220px_minmax(0,1fr)] items-start gap-5 small:grid-cols-1">
      <RecipeList answer={answer} choose={(recipe) => ask({ recipe: recipe === "" ? [] : recipe })} />
      {used ? (
        <OneRecipe key={used.id} kept={used} answer={answer} />
      ) : (
        <Everything answer={answer} wave={question.wave} />
      )}
    </div>
  );
};

/** A recipe as a sentence, its columns, the first rows of its file, and how a script reads it. */
function OneRecipe({ kept, answer }: { kept: KeptRecipe; answer: ExportAnswer }) {
  const { code } = useStudy();
  const {
    value: recipe,
    isSaving,
    set,
  } = useStored<Recipe, RecipeChange>({
    stored: kept.recipe,
    address: `/studies/${code}/recipes`,
    changeOf: (changed) => ({ do: "save", id: kept.id, version: kept.version, recipe: changed }),
    fits: (changed) => hasShape(recipeShape, changed),
    lost: "The last change of the recipe could not be stored.",
  });
  const problems = nameProblems(recipe);
  const total = answer.preview?.total ?? 0;
  const { available, misfits } = answer;
  return (
    <div className="min-w-0">
      <div className="flex items-start gap-4">
        <div className="min-w-0 flex-1">
          <RecipeSentence recipe={recipe} available={available} set={set} />
        </div>
        <AddCondition
          columns={conditionColumnsOf(recipe, available)}
          add={(condition) => set({ ...recipe, where: [...recipe.where, condition] })}
        />
        <span aria-live="polite" className="shrink-0 pt-1 text-xs text-muted">
          {isSaving ? "Saving…" : "Saved"}
        </span>
        {problems.length === 0 && !isSaving ? (
          <a
            href={`/studies/${code}/recipes/${kept.address}.${exportFormats[recipe.format].extension}`}
            className={buttonClass("primary")}
            download
          >
            <Download size={16} aria-hidden="true" />
            Take it, {total.toLocaleString("en")} {total === 1 ? "row" : "rows"}
          </a>
        ) : (
          <span aria-disabled="true" className={`${buttonClass("primary")} opacity-45`}>
            <Download size={16} aria-hidden="true" />
            Take it
          </span>
        )}
      </div>
      {[...problems, ...misfits].length > 0 && (
        <ul role="alert" className="mt-2 rounded-md border border-alarm bg-alarm-tint px-3 py-2 text-sm">
          {[...problems, ...misfits].map((says) => (
            <li key={says}>{says}</li>
          ))}
        </ul>
      )}
      <div className="mt-3 grid grid-cols-2 items-start gap-4 small:grid-cols-1">
        <RecipeColumns recipe={recipe} available={available} set={set} />
        <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-4">
          <Preview preview={answer.preview} />
          <ScriptBox kept={{ ...kept, recipe }} />
          <p className="text-sm text-muted">
            Participants’ codes are never in a recipe’s file. The study’s log says who took what.
          </p>
        </div>
      </div>
    </div>
  );
}

const written = (cell: string | number | null) =>
  typeof cell === "number" && !Number.isInteger(cell) ? String(Number(cell.toPrecision(6))) : (cell ?? "");

/** The first rows of the file, numbers shortened. */
const Preview = ({ preview }: Pick<ExportAnswer, "preview">) =>
  preview && (
    <section
      aria-label="Preview"
      tabIndex={0}
      className="overflow-x-auto rounded-md border border-hairline bg-sheet px-4 py-3"
    >
      <h3 className="caption">
        <b>Preview.</b>{" "}
        <em>
          {preview.total === 0
            ? "There are no rows yet."
            : `the first ${preview.rows.length.toLocaleString("en")} of ${preview.total.toLocaleString("en")} rows`}
        </em>
      </h3>
      <table className="mt-2 text-left text-xs" data-preview>
        <thead>
          <tr className="h-7 border-b border-ink">
            {preview.columns.map(({ name, meaning, type }) => (
              <th
                key={name}
                scope="col"
                title={meaning}
                className={`whitespace-nowrap pr-3 font-mono font-semibold ${type === "number" || type === "whole number" ? "text-right" : ""}`}
              >
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {preview.rows.map((row, index) => (
            <tr key={index} className="h-7 border-b border-hairline last:border-b-0">
              {row.map((cell, at) => (
                <td
                  key={at}
                  className={`max-w-[180px] truncate pr-3 font-mono ${typeof cell === "number" ? "text-right" : ""}`}
                >
                  {written(cell)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
