import { Ellipsis, Plus } from "lucide-react";
import { useState } from "react";
import { useDone } from "~/app/collect/use-done";
import { Button, IconButton } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { Field } from "~/app/components/field";
import { Menu, MenuItem } from "~/app/components/menu";
import { ReadyToSend } from "~/app/components/ready-to-send";
import { useStudy } from "~/app/editing/use-study";
import { trialScoreInWords } from "~/core/persons/trial-score";
import type { KeptScore } from "~/server/persons";
import type { ScoreLine, ScoresAnswer } from "~/server/results/scores";
import { freshScore } from "./score-sentence";
import { usePersons } from "./use-persons";

type Naming = { do: "add" } | { do: "rename" | "remove"; of: KeptScore };
const titles: Record<Naming["do"], string> = {
  add: "A new score over trials",
  rename: "Rename the score",
  remove: "Remove the score",
};
const does: Record<Naming["do"], string> = { add: "Make it", rename: "Rename", remove: "Remove" };

/** The scores that are told of sessions, and what can be done with those over trials. */
export function ScoreList({
  lines,
  chosen,
  levels,
  choose,
}: {
  lines: readonly ScoreLine[];
  chosen: string | null;
  levels: ScoresAnswer["levels"];
  choose: (name: string) => void;
}) {
  const { code } = useStudy();
  const { fetcher, send, isBusy, reason } = usePersons();
  const [naming, setNaming] = useState<Naming | null>(null);
  const [name, setName] = useState("");
  useDone(fetcher, () => {
    if (naming && naming.do !== "remove") choose(name.trim());
    setNaming(null);
  });
  // What came since the dialog was opened closes it as it is drawn, and not only by an effect afterwards.
  const [since, setSince] = useState(fetcher.data);
  const isDone = fetcher.data !== undefined && fetcher.data !== since && reason === undefined;
  const ask = (next: Naming, called = "") => {
    setSince(fetcher.data);
    setName(called);
    setNaming(next);
  };
  return (
    <aside aria-label="Scores">
      <ReadyToSend to={`/studies/${code}/scores`} />
      <div className="mb-2 flex items-center justify-between">
        <h2 className="font-serif text-[17px]">Scores</h2>
        <Button icon={Plus} onClick={() => ask({ do: "add" })}>
          New
        </Button>
      </div>
      <ul className="grid gap-2">
        {lines.map(({ name: own, kept }) => (
          <li
            key={own}
            className={`relative rounded-md border border-hairline ${own === chosen ? "bg-plumage-tint" : "bg-sheet"}`}
          >
            <button
              type="button"
              aria-current={own === chosen ? "true" : undefined}
              onClick={() => choose(own)}
              className="block w-full rounded-md px-3 py-2 pr-9 text-left"
            >
              <b className="block break-words font-mono text-sm">{own}</b>
              <span className="block text-xs text-muted">
                {kept ? trialScoreInWords(kept.score) : "from what sessions answered"}
              </span>
            </button>
            {kept && (
              <span className="absolute right-1 top-1.5">
                <Menu align="end" trigger={<IconButton icon={Ellipsis} label={`More of ${own}`} />}>
                  <MenuItem onSelect={() => ask({ do: "rename", of: kept }, own)}>Rename…</MenuItem>
                  <MenuItem alarm onSelect={() => ask({ do: "remove", of: kept })}>
                    Remove…
                  </MenuItem>
                </Menu>
              </span>
            )}
          </li>
        ))}
      </ul>
      <p className="mt-4 text-xs text-muted">
        A score over trials is a column of sessions: in Conditions, Records, recipes and every file. What is left out of
        results is left out of it.
      </p>
      {naming && !isDone && (
        <Dialog
          open
          onOpenChange={() => setNaming(null)}
          title={titles[naming.do]}
          description={
            naming.do === "add"
              ? "A number of each session, made of its trials: for example what one condition costs against another."
              : naming.do === "rename"
                ? "Its column changes its name, too, and norm samples stay with it. Recipes that use the old name will say that the column is missing."
                : `“${naming.of.name}” is a column no longer, and its norm samples go with it. No data are touched.`
          }
        >
          <form
            className="grid gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              if (naming.do === "remove") return send({ do: "remove-score", id: naming.of.id });
              if (name.trim() === "") return;
              if (naming.do === "add") send({ do: "add-score", name: name.trim(), score: freshScore(levels) });
              else send({ do: "rename-score", id: naming.of.id, name: name.trim() });
            }}
          >
            {naming.do !== "remove" && (
              <Field
                label="Name"
                value={name}
                maxLength={40}
                hint="As a column: letters, digits and underscores."
                onChange={({ target }) => setName(target.value)}
              />
            )}
            {reason !== undefined && (
              <p role="alert" className="text-sm text-alarm">
                {reason}
              </p>
            )}
            <div className="flex justify-end gap-2">
              <Button onClick={() => setNaming(null)}>Cancel</Button>
              <Button
                type="submit"
                look={naming.do === "remove" ? "alarm" : "primary"}
                disabled={(naming.do !== "remove" && name.trim() === "") || isBusy}
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
