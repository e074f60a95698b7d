import { useState } from "react";
import { Button } from "~/app/components/button";
import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { measureNames, measures, ofDetection, type MeasureName } from "~/core/stats/measures";
import type { Recipe, RecipeColumn } from "~/core/export/recipes/recipe";
import { columnName, measureColumns } from "~/core/export/recipes/templates";
import { SignalChoice } from "../signal-sentence";
import type { ExportAnswer } from "~/server/results/export";

/** Columns of numbers that are computed from trials, and of their differences. */
export function AddNumbers({
  recipe,
  available,
  add,
}: {
  recipe: Recipe;
  available: ExportAnswer["available"];
  add: (columns: RecipeColumn[]) => void;
}) {
  const { columns, by } = recipe;
  const levels = available.levels.filter((each) => each.levels.length > 0 && !by.includes(each.column));
  const [of, setOf] = useState("mean");
  const [apart, setApart] = useState("");
  const [signal, setSignal] = useState({ column: levels[0]?.column ?? "", level: levels[0]?.levels[0] ?? "" });
  const [pair, setPair] = useState({ of: "", less: "" });
  const numbers = of.startsWith("column:") ? of.slice("column:".length) : null;
  const measure: MeasureName = numbers === null ? (measureNames.find((each) => each === of) ?? "mean") : "column";
  const worked = columns.filter((column) => column.is === "measure").map(({ name }) => name);
  const [from, less] = [pair.of, pair.less].map((name, at) =>
    worked.includes(name) ? name : (worked[at === 0 ? 1 : 0] ?? ""),
  );
  const options = worked.map((name) => [name, name] as const);
  return (
    <div className="border-t border-hairline px-3 py-2" aria-label="Add numbers" role="group">
      <Sentence>
        Add the{" "}
        <SentenceChoice
          label="Number"
          value={of}
          options={[
            ...measureNames
              .filter((each) => each !== "column")
              .map((each) => [each as string, measures[each].called] as const),
            ...available.numbers.map((name) => [`column:${name}`, `mean of ${name}`] as const),
          ]}
          onChange={setOf}
        />
        {ofDetection(measure) && <SignalChoice signal={signal} signals={levels} set={setSignal} />}
        {", "}
        <SentenceChoice
          label="In how many columns"
          value={apart}
          options={[
            ["", "of all trials"],
            ...levels
              .filter((each) => each.levels.length <= 24)
              .map(({ column, levels: own }) => [column, `for each of the ${own.length} levels of ${column}`] as const),
          ]}
          onChange={setApart}
        />
        {". "}
        <Button
          className="font-sans"
          onClick={() =>
            add(
              measureColumns(
                { measure, numbers, signal: ofDetection(measure) ? signal : null },
                levels.find(({ column }) => column === apart) ?? null,
                columns,
              ),
            )
          }
        >
          Add
        </Button>
      </Sentence>
      {worked.length > 1 && (
        <Sentence>
          Add the difference{" "}
          <SentenceChoice
            label="Number of which"
            value={from ?? ""}
            options={options}
            onChange={(next) => setPair({ ...pair, of: next })}
          />
          {" − "}
          <SentenceChoice
            label="Number that is subtracted"
            value={less ?? ""}
            options={options}
            onChange={(next) => setPair({ ...pair, less: next })}
          />
          {". "}
          <Button
            className="font-sans"
            disabled={from === less}
            onClick={() =>
              add([
                {
                  ...{ is: "difference", of: from ?? "", less: less ?? "" },
                  name: columnName([from ?? "", "less", less ?? ""], columns),
                },
              ])
            }
          >
            Add difference
          </Button>
        </Sentence>
      )}
    </div>
  );
}
