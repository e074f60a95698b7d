import { Ellipsis, Plus } from "lucide-react";
import { useState } from "react";
import { useDone } from "~/app/components/use-done";
import { Button, IconButton } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { ReadyToSend } from "~/app/components/ready-to-send";
import { useStudy } from "~/app/editing/use-study";
import { trialScoreInWords } from "~/core/persons/trial-score";
import type { KeptScore } from "~/server/persons";
import type { ScoreLine, ScoresAnswer } from "~/server/results/scores";
import { ListCard, NamingDialog } from "../named-list";
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
  const [asked, setAsked] = useState("");
  useDone(fetcher, () => {
    if (naming && naming.do !== "remove") choose(asked);
    setNaming(null);
  });
  return (
    <aside aria-label="Scores">
      <ReadyToSend to={`/studies/${code}/scores`} />
      <div className="mb-2 flex items-center justify-between">
        <h2 className="font-serif text-[17px]">Scores</h2>
        <Button icon={Plus} onClick={() => setNaming({ do: "add" })}>
          New
        </Button>
      </div>
      <ul className="grid gap-2">
        {lines.map(({ name: own, kept }) => (
          <ListCard
            key={own}
            title={own}
            isColumn
            says={kept ? trialScoreInWords(kept.score) : "from what sessions answered"}
            isChosen={own === chosen}
            choose={() => choose(own)}
            menu={
              kept && (
                <Menu align="end" trigger={<IconButton icon={Ellipsis} label={`More of ${own}`} />}>
                  <MenuItem onSelect={() => setNaming({ do: "rename", of: kept })}>Rename…</MenuItem>
                  <MenuItem alarm onSelect={() => setNaming({ do: "remove", of: kept })}>
                    Remove…
                  </MenuItem>
                </Menu>
              )
            }
          />
        ))}
      </ul>
      <p className="mt-4 text-xs text-muted">
        A score over trials is a column of sessions: in Conditions, Records, recipes and every file. What is left out of
        results is left out of it.
      </p>
      {naming && (
        <NamingDialog
          title={titles[naming.do]}
          description={
            naming.do === "add"
              ? "A number of each session, made of its trials: for example what one condition costs against another."
              : naming.do === "rename"
                ? "Its column changes its name, too, and norm samples stay with it. Recipes that use the old name will say that the column is missing."
                : `“${naming.of.name}” is a column no longer, and its norm samples go with it. No data are touched.`
          }
          does={does[naming.do]}
          name={naming.do === "remove" ? null : naming.do === "rename" ? naming.of.name : ""}
          most={40}
          hint="As a column: letters, digits and underscores."
          isBusy={isBusy}
          reason={reason}
          close={() => setNaming(null)}
          submit={(name) => {
            setAsked(name);
            if (naming.do === "remove") send({ do: "remove-score", id: naming.of.id });
            else if (naming.do === "add") send({ do: "add-score", name, score: freshScore(levels) });
            else send({ do: "rename-score", id: naming.of.id, name });
          }}
        />
      )}
    </aside>
  );
}
