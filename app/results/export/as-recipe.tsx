import { FilePlus2 } from "lucide-react";
import { useFetcher } from "react-router";
import { useDone } from "~/app/components/use-done";
import { Button } from "~/app/components/button";
import { ReadyToSend } from "~/app/components/ready-to-send";
import { useStudy } from "~/app/editing/use-study";
import { startCase } from "~/core/describe/in-words";
import type { RecipeChange } from "~/core/export/recipes/change";
import type { TableRow } from "~/core/export/recipes/recipe";
import { recipeOfRows } from "~/core/export/recipes/templates";
import { comparisons, type Condition } from "~/core/tidy/chosen-rows";
import type { RecordTableName } from "~/server/results/records";

const rowsOf: Record<RecordTableName, TableRow> = {
  trials: "trial",
  answers: "answer",
  sessions: "session",
  events: "event",
};
const longest = 80;

/** Makes a recipe of the rows that are looked at, with their columns and what they were asked to fulfil. */
export function AsRecipe({
  table,
  columns,
  where,
  containing,
  then,
}: {
  table: RecordTableName;
  columns: readonly string[];
  where: Condition[];
  containing: string;
  /** What follows, with the id of the recipe. */
  then: (id: string) => void;
}) {
  const { code } = useStudy();
  const fetcher = useFetcher<{ id?: string; reason?: string }>();
  useDone(fetcher, () => fetcher.data?.id !== undefined && then(fetcher.data.id));
  const asked = where.map(({ column, is, value }) => `${column} ${comparisons[is]} ${value}`.trim());
  const name = startCase([table, ...(asked.length > 0 ? ["where", asked.join(" and ")] : [])].join(" "));
  return (
    <>
      <ReadyToSend to={`/studies/${code}/recipes`} />
      <Button
        icon={FilePlus2}
        disabled={fetcher.state !== "idle"}
        onClick={() =>
          void fetcher.submit(
            JSON.stringify({
              ...{ do: "add-like", name: name.slice(0, longest - 5) },
              recipe: recipeOfRows(rowsOf[table], columns, { where, containing }),
            } satisfies RecipeChange),
            { method: "post", action: `/studies/${code}/recipes`, encType: "application/json" },
          )
        }
      >
        Save as a recipe
      </Button>
    </>
  );
}
