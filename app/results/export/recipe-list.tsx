import { Ellipsis, Plus } from "lucide-react";
import { useRef, useState } from "react";
import { useFetcher } from "react-router";
import { Button, IconButton } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Dialog } from "~/app/components/dialog";
import { Field } from "~/app/components/field";
import { Menu, MenuItem } from "~/app/components/menu";
import { ReadyToSend } from "~/app/components/ready-to-send";
import { readFileAs, saveAsFile } from "~/app/components/read-file";
import { useDone } from "~/app/collect/use-done";
import { useStudy } from "~/app/editing/use-study";
import type { RecipeChange } from "~/core/export/recipes/change";
import { recipeInShort } from "~/core/export/recipes/in-words";
import { recipeFile, rowKindNames, rowKinds, type Recipe } from "~/core/export/recipes/recipe";
import { freshRecipe } from "~/core/export/recipes/templates";
import type { ExportAnswer } from "~/server/results/export";
import type { KeptRecipe } from "~/server/recipes";

type Naming = { do: "add"; recipe: Recipe } | { do: "rename"; of: KeptRecipe } | { do: "remove"; of: KeptRecipe };
const titles: Record<Naming["do"], string> = {
  add: "A new recipe",
  rename: "Rename the recipe",
  remove: "Remove the recipe",
};
const does: Record<Naming["do"], string> = { add: "Make it", rename: "Rename", remove: "Remove" };

/** A card of the list: what it is, in short. */
const Card = ({
  title,
  says,
  isChosen,
  choose,
  menu,
}: {
  title: string;
  says: React.ReactNode;
  isChosen: boolean;
  choose: () => void;
  menu?: React.ReactNode;
}) => (
  <li className={`relative rounded-md border border-hairline ${isChosen ? "bg-plumage-tint" : "bg-sheet"}`}>
    <button
      type="button"
      aria-current={isChosen ? "true" : undefined}
      onClick={choose}
      className="block w-full rounded-md px-3 py-2 pr-9 text-left"
    >
      <b className="block break-words text-sm">{title}</b>
      <span className="block text-xs text-muted">{says}</span>
    </button>
    {menu && <span className="absolute right-1 top-1.5">{menu}</span>}
  </li>
);

/** The recipes of a study beside what is always there; what can be done with them. */
export function RecipeList({ answer, choose }: { answer: ExportAnswer; choose: (id: string) => void }) {
  const { code } = useStudy();
  const fetcher = useFetcher<{ id?: string; reason?: string }>();
  const [naming, setNaming] = useState<Naming | null>(null);
  const [name, setName] = useState("");
  const file = useRef<HTMLInputElement>(null);
  const { recipes, used } = answer;
  const refused = fetcher.data?.reason;
  useDone(fetcher, () => {
    const id = fetcher.data?.id;
    if (naming?.do === "add" && id !== undefined) choose(id);
    if (naming?.do === "remove") choose("");
    setNaming(null);
  });
  const ask = (next: Naming, called = "") => {
    setName(called);
    setNaming(next);
  };
  const take = async (chosen: File) => {
    const read = await readFileAs(chosen, recipeFile, "recipe");
    if (read) ask({ do: "add", recipe: read.recipe }, read.name);
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
            <MenuItem key={rows} onSelect={() => ask({ do: "add", recipe: freshRecipe(rows, answer.available) })}>
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
        <Card
          title="Everything"
          says="All trials, answers, sessions and events with codebook. Always there."
          isChosen={used === null}
          choose={() => choose("")}
        />
        {recipes.map((each) => (
          <Card
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
                <MenuItem onSelect={() => ask({ do: "rename", of: each }, each.name)}>Rename…</MenuItem>
                <MenuItem onSelect={() => ask({ do: "add", recipe: each.recipe }, `${each.name}, copy`)}>
                  Copy…
                </MenuItem>
                <MenuItem onSelect={() => save(each)}>Save as a file, for another study</MenuItem>
                <MenuItem alarm onSelect={() => ask({ do: "remove", of: each })}>
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
        <Dialog
          open
          onOpenChange={() => setNaming(null)}
          title={titles[naming.do]}
          description={
            naming.do === "remove"
              ? `“${naming.of.name}” is removed, and its address gives nothing any longer. No data are touched.`
              : naming.do === "rename"
                ? "Its address stays as it is, so that scripts go on."
                : `${recipeInShort(naming.recipe)}.`
          }
        >
          <form
            className="grid gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              if (naming.do === "remove") return send({ do: "remove", id: naming.of.id });
              if (name.trim() === "") return;
              if (naming.do === "add") send({ do: "add", name: name.trim(), recipe: naming.recipe });
              else send({ do: "rename", id: naming.of.id, name: name.trim() });
            }}
          >
            {naming.do !== "remove" && (
              <Field label="Name" value={name} maxLength={80} onChange={({ target }) => setName(target.value)} />
            )}
            {refused !== undefined && (
              <p role="alert" className="text-sm text-alarm">
                {refused}
              </p>
            )}
            <div className="flex justify-end gap-2">
              <Button onClick={() => setNaming(null)}>Cancel</Button>
              <Button
                type="submit"
                look={naming.do === "remove" ? "alarm" : "primary"}
                disabled={(naming.do !== "remove" && name.trim() === "") || fetcher.state !== "idle"}
              >
                {does[naming.do]}
              </Button>
            </div>
          </form>
        </Dialog>
      )}
    </aside>
  );
}
