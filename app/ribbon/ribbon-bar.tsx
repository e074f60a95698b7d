import { ChevronLeft, ChevronRight, Dices, ZoomIn, ZoomOut } from "lucide-react";
import { useMemo, useState } from "react";
import { IconButton, Button } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import { useRibbon, useStudy, type View } from "~/app/editing/use-study";
import { excessInWords } from "~/core/allocate/bounds";
import { ribbonColumns, rowInWords, type Ribbon } from "~/core/compile/ribbon";
import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";
import { setSettings } from "~/core/design/edits/study";
import type { Id } from "~/core/values/ref";
import { conditionColor } from "./palette";
import type { PlacedTick } from "./ribbon-layout";
import { RibbonCounts } from "./ribbon-counts";
import { Ticks } from "./ticks";

/** The complete sequence of one participant, under every design screen. */
export function RibbonBar() {
  const { document, look, edit, ...study } = useStudy();
  const columns = useMemo(() => ribbonColumns(document), [document]);
  const view = withColumns(study.view, columns);
  const ribbon = useRibbon(view);
  const excess = useMemo(() => excessInWords(document), [document]);
  const [zoom, setZoom] = useState(1);
  const go = (trial: number) => {
    for (const { part, ticks } of ribbon?.parts ?? []) {
      const rowNumber = ticks?.rows[trial - ticks.first];
      if (rowNumber === undefined) continue;
      const row = blockIn(document, part)?.table.rows[rowNumber - 1]?.id ?? null;
      look({ part, trial, row, ...(part === view.part ? {} : { selected: { kind: "nothing" } }) });
    }
  };
  const rowOf = ({ part, rowNumber }: PlacedTick) => {
    const block = blockIn(document, part);
    return block && ribbon ? rowInWords(document, block, rowNumber, ribbon.group) : "";
  };
  return (
    <section
      aria-label="Ribbon: the session of one participant"
      className="h-[100px] shrink-0 border-t border-hairline bg-sheet px-4 pt-1.5 small:h-auto small:pb-2"
      data-ribbon={ribbon ? ribbon.participant : ""}
    >
      <div className="flex min-h-[27px] items-center gap-1 overflow-hidden whitespace-nowrap text-sm small:flex-wrap small:overflow-visible">
        <IconButton
          icon={ChevronLeft}
          label="Previous participant"
          disabled={view.participant <= 1}
          onClick={() => look({ participant: view.participant - 1, trial: null })}
        />
        <span className="min-w-24 text-center font-semibold">Participant {view.participant}</span>
        <IconButton
          icon={ChevronRight}
          label="Next participant"
          onClick={() => look({ participant: view.participant + 1, trial: null })}
        />
        <span className="ml-2 text-muted">
          {ribbon?.groupName} · seed <span className="font-mono text-ink">{document.settings.seed}</span>
        </span>
        <Button
          icon={Dices}
          look="quiet"
          onClick={() => edit(setSettings({ seed: newId("x").slice(2).toUpperCase().slice(0, 4) }))}
          title="Every order of the study is drawn anew from another seed. Undo brings the old one back."
        >
          <span className="tight:sr-only">draw another</span>
        </Button>
        <span className="ml-2 text-muted tight:hidden">colour</span>
        <ColumnChoice
          label="Column that colours the ticks"
          value={view.color}
          columns={columns}
          onChoose={(color) => look({ color })}
        />
        <span className="flex gap-2.5 text-xs">
          {ribbon?.colorLevels.slice(0, 4).map((level, index) => (
            <span key={level} className="flex items-center gap-1">
              <span aria-hidden="true" className="size-2.5" style={{ background: conditionColor(index) }} />
              {level}
            </span>
          ))}
        </span>
        {(ribbon?.colorLevels.length ?? 0) > 4 && (
          <span className="text-xs text-muted">+{(ribbon?.colorLevels.length ?? 0) - 4}</span>
        )}
        <span className="ml-2 text-muted tight:hidden">height</span>
        <ColumnChoice
          label="Column that sets the ticks' height"
          value={view.height}
          columns={columns}
          onChoose={(height) => look({ height })}
        />
        <span className="ml-auto flex">
          <IconButton
            icon={ZoomOut}
            label="Show more of the session"
            disabled={zoom <= 1}
            onClick={() => setZoom(zoom / 2)}
          />
          <IconButton icon={ZoomIn} label="Show it larger" disabled={zoom >= 16} onClick={() => setZoom(zoom * 2)} />
        </span>
        {ribbon && <RibbonCounts ribbon={ribbon} color={view.color} />}
      </div>
      {!ribbon && excess !== null && <p className="max-w-3xl text-sm text-alarm">{excess}</p>}
      {ribbon && (
        <Ticks ribbon={ribbon} current={shownTick(ribbon, document, view)} zoom={zoom} rowOf={rowOf} onGo={go} />
      )}
    </section>
  );
}

/** The view with columns that are there: one that was removed or renamed makes way for the first. */
function withColumns(view: View, columns: readonly string[]): View {
  const there = (name: string | null) => (name === null || columns.includes(name) ? name : (columns[0] ?? null));
  return { ...view, color: there(view.color), height: there(view.height) };
}

/** The trial the figure shows: the one chosen, else the first with the chosen row, else the first of the part. */
function shownTick({ parts }: Ribbon, document: StudyDocument, { part, trial, row }: View): number | null {
  const ticks = parts.find((each) => each.part === part)?.ticks;
  if (!ticks || part === null) return null;
  const rows = blockIn(document, part)?.table.rows ?? [];
  const rowNumber = row === null ? null : rows.findIndex(({ id }) => id === row) + 1;
  const asked = trial === null ? undefined : ticks.rows[trial - ticks.first];
  if (trial !== null && asked !== undefined && (rowNumber === null || asked === rowNumber)) return trial;
  const first = rowNumber === null ? 0 : ticks.rows.indexOf(rowNumber);
  return first >= 0 && first < ticks.rows.length ? ticks.first + first : null;
}

const blockIn = ({ parts }: StudyDocument, part: Id): Block | null => {
  const found = parts[part];
  return found?.kind === "block" ? found : null;
};

function ColumnChoice({
  label,
  value,
  columns,
  onChoose,
}: {
  label: string;
  value: string | null;
  columns: string[];
  onChoose: (column: string | null) => void;
}) {
  return (
    <Menu
      trigger={
        <button
          type="button"
          aria-label={`${label}: ${value ?? "none"}`}
          className="rounded-[4px] px-1 font-semibold hover:bg-plumage-tint"
        >
          {value ?? "none"}
        </button>
      }
    >
      {columns.map((column) => (
        <MenuItem key={column} onSelect={() => onChoose(column)}>
          {column}
        </MenuItem>
      ))}
      <MenuItem onSelect={() => onChoose(null)}>none</MenuItem>
    </Menu>
  );
}
