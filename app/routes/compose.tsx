import { ChevronDown, FileText, ImageDown, Images, LayoutGrid, Play, Plus } from "lucide-react";
import { useDeferredValue, useEffect, useMemo, useRef, useState } from "react";
import { requireStudy } from "~/app/study-access.server";
import { AnswerSettings } from "~/app/compose/answer-settings";
import { BlockSettings } from "~/app/compose/block-settings";
import { ColumnSettings } from "~/app/compose/column-settings";
import { Figure } from "~/app/compose/figure";
import { ItemSettings } from "~/app/compose/item-settings";
import { AnswerMenu } from "~/app/compose/answer-menu";
import { Margin } from "~/app/compose/margin";
import { useEscapeUp } from "~/app/compose/escape-up";
import { PaperDialog } from "~/app/compose/paper/paper-dialog";
import { PlayTrial } from "~/app/compose/play-trial";
import { PageComposer } from "~/app/compose/page-composer";
import { useInBrowser } from "~/app/components/use-in-browser";
import { SceneSettings } from "~/app/compose/scene-settings";
import { blockSource, shownTrial } from "~/app/compose/shown-trial";
import { OpenedStage } from "~/app/compose/stage/opened-stage";
import { RowsNear } from "~/app/compose/stage/rows-near";
import { AgainSentence } from "~/app/compose/rules/again-sentence";
import { CriterionSentence } from "~/app/compose/rules/criterion-sentence";
import { placedRule } from "~/app/compose/rules/places";
import { RuleMargin } from "~/app/compose/rules/rule-margin";
import { RuleButtons, RulesPane } from "~/app/compose/rules/rules-pane";
import { MarkerButton, MarkersPane } from "~/app/compose/markers/markers-pane";
import { TrialTable } from "~/app/compose/table/trial-table";
import { Button, buttonClass, IconButton } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import { mediaUrlIn, useStudy } from "~/app/editing/use-study";
import { newScene } from "~/core/design/scene";
import { setCriterion } from "~/core/design/edits/rules";
import { addScene } from "~/core/design/edits/scenes";
import { partsInOrder } from "~/core/design/lookup";
import { freeTitle } from "~/core/values/names";
import type { Block } from "~/core/design/block";
import type { Part } from "~/core/design/document";
import type { Route } from "./+types/compose";

/** The design comes with the study's window; this only says who may look at it. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  await requireStudy(request, context, params.code, "see-design");
  return null;
}
export const shouldRevalidate = () => false;

export default function Compose() {
  const { document, view } = useStudy();
  const inBrowser = useInBrowser();
  const parts = partsInOrder(document);
  const part = parts.find(({ id }) => id === view.part) ?? parts[0];
  if (!part) return <p className="p-6 text-muted">The study has no parts yet. Add a page or a block in Plan.</p>;
  if (!inBrowser) return null;
  if (part.kind === "block") return <BlockComposer key={part.id} block={part} parts={parts} />;
  return <PageComposer page={part} parts={<PartChoice parts={parts} part={part} />} />;
}

function PartChoice({ parts, part }: { parts: Part[]; part: Part }) {
  const { look } = useStudy();
  const Icon = part.kind === "page" ? FileText : LayoutGrid;
  return (
    <Menu
      onOpened={() => look({ selected: { kind: "nothing" } })}
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
  const [asked, setAsked] = useState<"paper" | "play" | null>(null);
  // The trial is found anew behind the keystroke, so that typing among thousands of rows does not wait for it.
  // Not on the opened stage, where the next step of a move counts from where the last one led.
  const present = useMemo(() => ({ document, block }), [document, block]);
  const late = useDeferredValue(present);
  const source = view.opened === null ? late : present;
  const trials = useMemo(
    () => blockSource(source.document, source.block, view.participant),
    [source, view.participant],
  );
  const shown = useMemo(() => shownTrial(trials, view.trial, view.row), [trials, view.trial, view.row]);
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
  const row = shown.trial?.row ?? view.row;
  const opened = block.scenes.find(({ id }) => id === view.opened);
  const step = (by: 1 | -1) => {
    const rows = block.table.rows;
    const at = rows.findIndex(({ id }) => id === row);
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))];
    if (next) look({ row: next.id });
  };
  useRowKeys(step);
  const toBlock = () => look({ selected: { kind: "nothing" } });
  useEscapeUp(view.selected.kind !== "nothing" && !opened, toBlock);
  const height = useWindowHeight() - 51 - 100;
  return (
    <div className="flex h-full small:h-auto small:flex-col">
      <div className="flex min-w-0 flex-1 flex-col">
        {opened ? (
          <div className="min-h-0 flex-1 small:h-[max(340px,80vh)] small:flex-none">
            <OpenedStage block={block} scene={opened} shown={shown} mediaUrl={mediaUrl} row={row} />
          </div>
        ) : (
          <>
            <div className="flex min-h-11 shrink-0 items-center gap-x-4 px-4 small:flex-wrap small:py-1.5">
              <PartChoice parts={parts} part={block} />
              <h1 className="caption line-clamp-2 min-w-0" data-figure-caption>
                <b>Figure 1.</b> {shown.inWords}{" "}
                {shown.rowNumber !== null && (
                  <em>
                    (row {shown.rowNumber}
                    {shown.levels && `: ${shown.levels}`})
                  </em>
                )}
              </h1>
              <span className="ml-auto flex shrink-0 gap-1 small:ml-0 small:shrink small:flex-wrap">
                <Button icon={Plus} look="quiet" onClick={addNewScene}>
                  <span className="tight:sr-only">Scene</span>
                </Button>
                <AnswerMenu block={block} />
                <Button icon={Images} look="quiet" onClick={() => look({ asked: "media" })}>
                  <span className="tight:sr-only">Media</span>
                </Button>
                <IconButton icon={Play} label="Play trial" onClick={() => setAsked("play")} />
                <IconButton icon={ImageDown} label="For the paper" onClick={() => setAsked("paper")} />
              </span>
            </div>
            <Figure block={block} context={shown.context} mediaUrl={mediaUrl} height={figureHeight} />
            <PaperDialog
              block={block}
              context={shown.context}
              mediaUrl={mediaUrl}
              open={asked === "paper"}
              onOpenChange={(open) => setAsked(open ? "paper" : null)}
            />
            {asked === "play" && shown.trial && (
              <PlayTrial block={block} trial={shown.trial} mediaUrl={mediaUrl} onClose={() => setAsked(null)} />
            )}
          </>
        )}
        {opened ? (
          <RowsNear block={block} group={shown.context.group} row={row} onStep={step} />
        ) : (
          <Below
            block={block}
            shown={shown}
            row={row}
            height={Math.max(160, height - 44 - figureHeight - tabsHeight)}
          />
        )}
      </div>
      <SelectedSettings block={block} shown={shown} />
    </div>
  );
}

/** Height of the row that tells table, rules and repetition apart. */
const tabsHeight = 40;

/** What stands below the figure: the table, the rules, or until when the block is repeated. */
function Below({
  block,
  shown,
  row,
  height,
}: {
  block: Block;
  shown: ReturnType<typeof shownTrial>;
  row: string | null;
  height: number;
}) {
  const { look, view } = useStudy();
  const rules = block.rules.length + block.scenes.reduce((sum, { rules = [] }) => sum + rules.length, 0);
  const markers = (block.markers ?? []).length;
  const { criterion } = block;
  const share = criterion?.rightShare === undefined ? "" : `${Math.round(criterion.rightShare * 100)} %`;
  const tabs = [
    ["table", "Table", `${block.table.rows.length} rows`],
    ["rules", "Rules", rules > 0 ? String(rules) : ""],
    ["markers", "Markers", markers > 0 ? String(markers) : ""],
    ["criterion", "Until good enough", criterion ? share || "by time" : block.order.again ? "again" : ""],
  ] as const;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div
        className="flex min-h-10 shrink-0 items-center gap-1 border-t border-hairline bg-sheet px-3 small:flex-wrap small:py-1"
        style={{ minHeight: tabsHeight }}
      >
        <div role="tablist" aria-label="Below the figure" className="flex gap-1">
          {tabs.map(([below, name, count]) => (
            <button
              key={below}
              type="button"
              role="tab"
              aria-selected={view.below === below}
              className={`flex items-baseline gap-2 rounded-md px-2.5 py-1 text-sm ${view.below === below ? "bg-plumage-tint font-semibold text-plumage" : "text-muted hover:text-ink"}`}
              onClick={() =>
                look({ below, ...(view.selected.kind === "rule" ? { selected: { kind: "nothing" } } : {}) })
              }
            >
              {name}
              <span className="font-mono text-xs font-normal">{count}</span>
            </button>
          ))}
        </div>
        <span className="ml-auto flex gap-1">
          {view.below === "rules" && <RuleButtons block={block} />}
          {view.below === "markers" && <MarkerButton block={block} />}
        </span>
      </div>
      <div className="min-h-0 flex-1">
        {view.below === "rules" ? (
          <RulesPane block={block} />
        ) : view.below === "markers" ? (
          <MarkersPane block={block} />
        ) : view.below === "criterion" ? (
          <div className="h-full overflow-y-auto border-t border-hairline px-4 py-3">
            <CriterionSentence
              value={block.criterion}
              onChange={(next) => setCriterion(block.id, next)}
              block={block}
              what={block.practice ? "practice" : "the block"}
              where={`block “${block.name}”`}
            />
            <div className="mt-4 border-t border-hairline pt-3">
              <AgainSentence block={block} />
            </div>
          </div>
        ) : (
          <TrialTable key={block.id} block={block} group={shown.context.group} shownRow={row} height={height} />
        )}
      </div>
    </div>
  );
}

/** Page Up and Page Down step through the rows of the table wherever the focus is, but in fields. */
function useRowKeys(step: (by: 1 | -1) => void) {
  const latest = useRef(step);
  useEffect(() => {
    latest.current = step;
  });
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key !== "PageUp" && event.key !== "PageDown") return;
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (
        event.target instanceof HTMLElement &&
        event.target.closest("input, textarea, select, [contenteditable], .dsg-container")
      )
        return;
      event.preventDefault();
      latest.current(event.key === "PageDown" ? 1 : -1);
    };
    addEventListener("keydown", keys);
    return () => removeEventListener("keydown", keys);
  }, []);
}

function useWindowHeight(): number {
  const [height, setHeight] = useState(window.innerHeight);
  useEffect(() => {
    const changed = () => setHeight(window.innerHeight);
    addEventListener("resize", changed);
    return () => removeEventListener("resize", changed);
  }, []);
  return height;
}

function SelectedSettings({ block, shown: { context } }: { block: Block; shown: ReturnType<typeof shownTrial> }) {
  const {
    document,
    look,
    view: { selected },
  } = useStudy();
  const scene =
    selected.kind === "scene" || selected.kind === "item"
      ? block.scenes.find(({ id }) => id === selected.scene)
      : undefined;
  const item = selected.kind === "item" ? scene?.items.find(({ id }) => id === selected.item) : undefined;
  const answer = selected.kind === "answer" ? block.answers.find(({ id }) => id === selected.answer) : undefined;
  const column = selected.kind === "column" ? block.table.columns.find(({ id }) => id === selected.column) : undefined;
  const placed = selected.kind === "rule" ? placedRule(document, selected.rule, block.id) : undefined;
  if (placed)
    return (
      <RuleMargin
        key={placed.rule.id}
        placed={placed}
        up={{ name: block.name, go: () => look({ selected: { kind: "nothing" } }) }}
      />
    );
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
