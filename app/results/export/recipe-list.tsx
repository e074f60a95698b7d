import { Ellipsis, Plus } from "lucide-react";
import { useRef, useState } from "react";
import { useFetcher } from "react-router";
import { Button, IconButton } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Menu, MenuItem } from "~/app/components/menu";
import { ReadyToSend } from "~/app/components/ready-to-send";
import { readFileAs, saveAsFile } from "~/app/components/read-file";
import { useDone } from "~/app/components/use-done";
import { useStudy } from "~/app/editing/use-study";
import type { RecipeChange } from "~/core/export/recipes/change";
import { recipeInShort } from "~/core/export/recipes/in-words";
import { recipeFile, rowKindNames, rowKinds, type Recipe } from "~/core/export/recipes/recipe";
import { freshRecipe } from "~/core/export/recipes/templates";
import type { ExportAnswer } from "~/server/results/export";
import type { KeptRecipe } from "~/server/recipes";
import { ListCard, NamingDialog } from "../named-list";

type Naming =
  { do: "add"; recipe: Recipe; called: string } | { do: "rename"; of: KeptRecipe } | { do: "remove"; of: KeptRecipe };
const titles: Record<Naming["do"], string> = {
  add: "A new recipe",
  rename: "Rename the recipe",
  remove: "Remove the recipe",
};
const does: Record<Naming["do"], string> = { add: "Make it", rename: "Rename", remove: "Remove" };

/** The recipes of a study beside what is always there; what can be done with them. */
export function RecipeList({ answer, choose }: { answer: ExportAnswer; choose: (id: string) => void }) {
  const { code } = useStudy();
  const fetcher = useFetcher<{ id?: string; reason?: string }>();
  const [naming, setNaming] = useState<Naming | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const { recipes, used } = answer;
  useDone(fetcher, () => {
    const id = fetcher.data?.id;
    if (naming?.do === "add" && id !== undefined) choose(id);
    if (naming?.do === "remove") choose("");
    setNaming(null);
  });
  const take = async (chosen: File) => {
    const read = await readFileAs(chosen, recipeFile, "recipe");
    if (read) setNaming({ do: "add", recipe: read.recipe, called: read.name });
  };
  const send = (change: RecipeChange) =>
    void fetcher.submit(JSON.stringify(change), {
      method: "post",
      action: `/studies/${code}/recipes`,
      encType: "application/json",
    });
  const save = ({ name: called, address, recipe }: KeptRecipe) =>
    saveAsFile({ form: "lapwing-recipe-1", name: called, recipe }, `${address}.lapwing-recipe.json`);
  return (
    <aside aria-label="Recipes">
      <ReadyToSend to={`/studies/${code}/recipes`} />
      <div className="mb-2 flex items-center justify-between">
        <h2 className="font-serif text-[17px]">Recipes</h2>
        <Menu trigger={<Button icon={Plus}>New</Button>}>
          {rowKindNames.map((rows) => (
            <MenuItem
              key={rows}
              onSelect={() => setNaming({ do: "add", recipe: freshRecipe(rows, answer.available), called: "" })}
            >
              A row for each {rowKinds[rows]}
            </MenuItem>
          ))}
          <MenuItem onSelect={() => file.current?.click()}>From a file…</MenuItem>
        </Menu>
        <input
          ref={file}
          type="file"
          hidden
          accept=".json"
          aria-label="A recipe’s file"
          onChange={({ target }) => {
            const [chosen] = target.files ?? [];
            if (chosen) void take(chosen);
            target.value = "";
          }}
        />
      </div>
      <ul className="grid gap-2">
        <ListCard
          title="Everything"
          says="All trials, answers, sessions and events with codebook. Always there."
          isChosen={used === null}
          choose={() => choose("")}
        />
        {recipes.map((each) => (
          <ListCard
            key={each.id}
            title={each.name}
            isChosen={used?.id === each.id}
            choose={() => choose(each.id)}
            says={
              <>
                {recipeInShort(each.recipe)}.
                {each.readAt !== null && (
                  <>
                    {" "}
                    Taken {each.reads === 1 ? "once" : `${each.reads.toLocaleString("en")} times`}, last{" "}
                    <When iso={each.readAt} />.
                  </>
                )}
              </>
            }
            menu={
              <Menu align="end" trigger={<IconButton icon={Ellipsis} label={`More of ${each.name}`} />}>
                <MenuItem onSelect={() => setNaming({ do: "rename", of: each })}>Rename…</MenuItem>
                <MenuItem onSelect={() => setNaming({ do: "add", recipe: each.recipe, called: `${each.name}, copy` })}>
                  Copy…
                </MenuItem>
                <MenuItem onSelect={() => save(each)}>Save as a file, for another study</MenuItem>
                <MenuItem alarm onSelect={() => setNaming({ do: "remove", of: each })}>
                  Remove…
                </MenuItem>
              </Menu>
            }
          />
        ))}
      </ul>
      <p className="mt-4 text-xs text-muted">
        A recipe gives the same file from the same data, every time. It can be saved as a file and used in other
        studies.
      </p>
      {naming && (
        <NamingDialog
          title={titles[naming.do]}
          description={
            naming.do === "remove"
              ? `“${naming.of.name}” is removed, and its address gives nothing any longer. No data are touched.`
              : naming.do === "rename"
                ? "Its address stays as it is, so that scripts go on."
                : `${recipeInShort(naming.recipe)}.`
          }
          does={does[naming.do]}
          name={naming.do === "remove" ? null : naming.do === "rename" ? naming.of.name : naming.called}
          most={80}
          isBusy={fetcher.state !== "idle"}
          reason={fetcher.data?.reason}
          close={() => setNaming(null)}
          submit={(name) => {
            if (naming.do === "remove") send({ do: "remove", id: naming.of.id });
            else if (naming.do === "add") send({ do: "add", name, recipe: naming.recipe });
            else send({ do: "rename", id: naming.of.id, name });
          }}
        />
      )}
    </aside>
  );
}
