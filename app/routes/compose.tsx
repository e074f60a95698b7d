import { ChevronDown, CornerDownLeft, FileText, LayoutGrid, Plus } from "lucide-react";
import { useMemo } from "react";
import { AnswerSettings } from "~/app/compose/answer-settings";
import { BlockSettings } from "~/app/compose/block-settings";
import { ColumnSettings } from "~/app/compose/column-settings";
import { Figure } from "~/app/compose/figure";
import { ItemSettings } from "~/app/compose/item-settings";
import { Margin } from "~/app/compose/margin";
import { PageComposer } from "~/app/compose/page-composer";
import { useInBrowser } from "~/app/components/use-in-browser";
import { SceneSettings } from "~/app/compose/scene-settings";
import { shownTrial } from "~/app/compose/shown-trial";
import { TrialTable } from "~/app/compose/trial-table";
import { Button, buttonClass } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { mediaUrlIn, newId, useStudy } from "~/app/editing/use-study";
import { newAnswer, newScene } from "~/core/design/defaults";
import { addAnswer, addScene } from "~/core/design/edits/scenes";
import { partsInOrder } from "~/core/design/lookup";
import { freeTitle } from "~/core/design/names";
import type { Block, Part } from "~/core/design/types";

export default function Compose() {
  const { document, view } = useStudy();
  const inBrowser = useInBrowser();
  const parts = partsInOrder(document);
  const part = parts.find(({ id }) => id === view.part) ?? parts[0];
  if (!part) return <p className="p-6 text-muted">The study has no parts yet. Add a page or a block in Plan.</p>;
  if (!inBrowser) return null;
  if (part.kind === "block") return <BlockComposer block={part} parts={parts} />;
  return (
    <div className="flex h-full flex-col">
      <div className="flex h-11 shrink-0 items-center gap-4 px-4">
        <PartChoice parts={parts} part={part} />
      </div>
      <div className="min-h-0 flex-1">
        <PageComposer page={part} />
      </div>
    </div>
  );
}

function PartChoice({ parts, part }: { parts: Part[]; part: Part }) {
  const { look } = useStudy();
  const Icon = part.kind === "page" ? FileText : LayoutGrid;
  return (
    <Menu
      trigger={
        <button type="button" aria-label={`Part: ${part.name}`} className={buttonClass()}>
          <Icon size={16} aria-hidden="true" />
          {part.name}
          <ChevronDown size={14} aria-hidden="true" />
        </button>
      }
    >
      {parts.map((each) => {
        const EachIcon = each.kind === "page" ? FileText : LayoutGrid;
        return (
          <MenuItem
            key={each.id}
            onSelect={() => look({ part: each.id, trial: null, row: null, selected: { kind: "nothing" } })}
          >
            <EachIcon size={14} aria-hidden="true" className="text-muted" />
            {each.name}
          </MenuItem>
        );
      })}
    </Menu>
  );
}

const figureHeight = 296;

function BlockComposer({ block, parts }: { block: Block; parts: Part[] }) {
  const { code, document, edit, look, view } = useStudy();
  const shown = useMemo(
    () => shownTrial(document, block, view.participant, view.trial, view.row),
    [document, block, view.participant, view.trial, view.row],
  );
  const mediaUrl = useMemo(() => mediaUrlIn(code, document), [code, document]);
  const addNewScene = () => {
    const scene = newScene(
      newId,
      freeTitle(
        "scene",
        block.scenes.map(({ name }) => name),
      ),
    );
    const { selected } = view;
    edit(addScene(block.id, scene, selected.kind === "scene" || selected.kind === "item" ? selected.scene : null));
    look({ selected: { kind: "scene", scene: scene.id } });
  };
  const chooseAnswer = () => {
    const there = block.answers[0];
    const last = block.scenes.at(-1);
    if (there) look({ selected: { kind: "answer", answer: there.id } });
    else if (last) {
      const answer = newAnswer(last.id, last.id, newId);
      edit(addAnswer(block.id, answer));
      look({ selected: { kind: "answer", answer: answer.id } });
    }
  };
  return (
    <div className="flex h-full">
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex h-11 shrink-0 items-center gap-4 px-4">
          <PartChoice parts={parts} part={block} />
          <h1 className="caption min-w-0 truncate" data-figure-caption>
            <b>Figure 1.</b> {shown.inWords}{" "}
            {shown.rowNumber !== null && (
              <em>
                (row {shown.rowNumber}
                {shown.levels && `: ${shown.levels}`})
              </em>
            )}
          </h1>
          <span className="ml-auto flex shrink-0 gap-1">
            <Button icon={Plus} look="quiet" onClick={addNewScene}>
              Scene
            </Button>
            <Button icon={CornerDownLeft} look="quiet" onClick={chooseAnswer}>
              Answer
            </Button>
          </span>
        </div>
        <Figure block={block} context={shown.context} mediaUrl={mediaUrl} height={figureHeight} />
        <div className="min-h-0 flex-1">
          <TableArea block={block} group={shown.context.group} shownRow={shown.trial?.row ?? view.row} />
        </div>
      </div>
      <SelectedSettings block={block} shown={shown} />
    </div>
  );
}

function TableArea({ block, group, shownRow }: { block: Block; group: string; shownRow: string | null }) {
  const height = Math.max(
    160,
    (typeof window === "undefined" ? 800 : window.innerHeight) - 51 - 44 - figureHeight - 100,
  );
  return <TrialTable key={block.id} block={block} group={group} shownRow={shownRow} height={height} />;
}

function SelectedSettings({ block, shown: { context } }: { block: Block; shown: ReturnType<typeof shownTrial> }) {
  const {
    view: { selected },
  } = useStudy();
  const scene =
    selected.kind === "scene" || selected.kind === "item"
      ? block.scenes.find(({ id }) => id === selected.scene)
      : undefined;
  const item = selected.kind === "item" ? scene?.items.find(({ id }) => id === selected.item) : undefined;
  const answer = selected.kind === "answer" ? block.answers.find(({ id }) => id === selected.answer) : undefined;
  const column = selected.kind === "column" ? block.table.columns.find(({ id }) => id === selected.column) : undefined;
  if (scene && item) return <ItemSettings key={item.id} block={block} scene={scene} item={item} context={context} />;
  if (scene) return <SceneSettings key={scene.id} block={block} scene={scene} context={context} />;
  if (answer) return <AnswerSettings block={block} answer={answer} context={context} />;
  if (column) return <ColumnSettings key={column.id} block={block} column={column} />;
  return (
    <Margin title={block.name} kind={block.practice ? "practice block" : "block"}>
      <p className="mt-1 text-sm text-muted">
        Choose a scene in the figure, the answer, or a column's name to see its settings here.
      </p>
      <BlockSettings block={block} />
    </Margin>
  );
}
