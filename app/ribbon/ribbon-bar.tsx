import { ChevronLeft, ChevronRight, Dices, FileText } from "lucide-react";
import { useMemo, useRef, useState, useEffect, type KeyboardEvent } from "react";
import { IconButton, Button } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { newId, useRibbon, useStudy, type View } from "~/app/editing/use-study";
import { ribbonColumns, type Ribbon, type RibbonPart } from "~/core/compile/ribbon";
import { setSettings } from "~/core/design/edits/study";
import { conditionColor } from "./palette";

/** The complete sequence of one participant, under every design screen. */
export function RibbonBar() {
  const { document, view, look, edit } = useStudy();
  const ribbon = useRibbon();
  const columns = useMemo(() => ribbonColumns(document), [document]);
  const go = (trial: number) => {
    const part = ribbon?.parts.find(({ ticks }) => ticks.some((tick) => tick.trial === trial));
    const tick = part?.ticks.find((each) => each.trial === trial);
    if (part && tick)
      look({
        part: part.part,
        trial,
        row: tick.row,
        ...(part.part === view.part ? {} : { selected: { kind: "nothing" } }),
      });
  };
  return (
    <section
      aria-label="Ribbon: the session of one participant"
      className="h-[100px] shrink-0 border-t border-hairline bg-sheet px-4 pt-1.5"
      data-ribbon={ribbon ? ribbon.participant : ""}
    >
      <div className="flex h-[27px] items-center gap-1 overflow-hidden whitespace-nowrap text-sm">
        <IconButton
          icon={ChevronLeft}
          label="Participant before"
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
          draw another
        </Button>
        <span className="ml-2 text-muted">colour</span>
        <ColumnChoice
          label="Column that colours the ticks"
          value={view.color}
          columns={columns}
          onChoose={(color) => look({ color })}
        />
        <span className="flex gap-2.5 text-xs">
          {ribbon?.colorLevels.slice(0, 8).map((level, index) => (
            <span key={level} className="flex items-center gap-1">
              <span aria-hidden="true" className="size-2.5" style={{ background: conditionColor(index) }} />
              {level}
            </span>
          ))}
        </span>
        <span className="ml-2 text-muted">height</span>
        <ColumnChoice
          label="Column that sets the ticks' height"
          value={view.height}
          columns={columns}
          onChoose={(height) => look({ height })}
        />
        {ribbon && (
          <span className="ml-auto overflow-hidden text-ellipsis pl-3 text-xs text-muted">
            <b className="font-mono font-normal text-ink">{ribbon.trials}</b> trials · about{" "}
            {Math.max(1, Math.round(ribbon.minutes))} min · longest run {ribbon.longestRun} · each row{" "}
            {ribbon.leastUse === ribbon.mostUse ? ribbon.mostUse : `${ribbon.leastUse}–${ribbon.mostUse}`}×
          </span>
        )}
      </div>
      {ribbon && <Ticks ribbon={ribbon} current={shownTick(ribbon, view)} onGo={go} />}
    </section>
  );
}

/** The trial the figure shows: the one chosen, else the first with the chosen row, else the first of the part. */
function shownTick({ parts }: Ribbon, { part, trial, row }: View): number | null {
  const ticks = parts.find((each) => each.part === part)?.ticks ?? [];
  const asked = ticks.find((tick) => tick.trial === trial && (row === null || tick.row === row));
  return (asked ?? ticks.find((tick) => row === null || tick.row === row))?.trial ?? null;
}

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

const pageWidth = 15;
const gap = 8;
const height = 26;

/** More ticks than these are drawn as one path a colour: thousands of elements would take longer to draw than to work out. */
const mostSingleTicks = 600;
type Layout = ReturnType<typeof place>;

const SingleTicks = ({ layout }: { layout: Layout }) =>
  layout.ticks.map((tick) => (
    <rect
      key={tick.trial}
      data-tick={tick.trial}
      x={tick.x}
      y={17 + height - tick.h}
      width={Math.max(1, layout.step - layout.slack)}
      height={tick.h}
      fill={conditionColor(tick.color)}
    >
      <title>{`trial ${tick.trial}, row ${tick.rowNumber}`}</title>
    </rect>
  ));

function TickPaths({ layout }: { layout: Layout }) {
  const paths = new Map<number, string[]>();
  const width = Math.max(0.25, layout.step - layout.slack);
  for (const { x, h, color } of layout.ticks) {
    const path = paths.get(color) ?? [];
    path.push(`M${x.toFixed(2)} ${17 + height}v${-h}h${width.toFixed(2)}v${h}z`);
    paths.set(color, path);
  }
  return [...paths].map(([color, path]) => (
    <path key={color} data-ticks={path.length} d={path.join("")} fill={conditionColor(color)} />
  ));
}

function Ticks({ ribbon, current, onGo }: { ribbon: Ribbon; current: number | null; onGo: (trial: number) => void }) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1248);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  const layout = useMemo(() => place(ribbon.parts, ribbon.trials, width), [ribbon, width]);
  const ticks = useMemo(
    () => (layout.ticks.length > mostSingleTicks ? <TickPaths layout={layout} /> : <SingleTicks layout={layout} />),
    [layout],
  );
  const step = (event: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowLeft: -1, PageDown: 10, PageUp: -10, Home: -Infinity, End: Infinity }[event.key];
    if (by === undefined || ribbon.trials === 0) return;
    event.preventDefault();
    onGo(Math.max(1, Math.min(ribbon.trials, (current ?? (by > 0 ? 0 : 2)) + by)));
  };
  const tickAt = (x: number) => layout.ticks.find((tick) => x >= tick.x - layout.slack && x < tick.x + layout.step);
  const marked = current === null ? undefined : layout.ticks.find(({ trial }) => trial === current);
  const now = marked
    ? `Trial ${marked.trial}, row ${marked.rowNumber}${ribbon.colorLevels[marked.color] ? `, ${ribbon.colorLevels[marked.color]}` : ""}`
    : "No trial chosen";
  return (
    <div
      ref={box}
      role="slider"
      tabIndex={0}
      aria-label="Trial of the session"
      aria-valuemin={1}
      aria-valuemax={Math.max(1, ribbon.trials)}
      aria-valuenow={current ?? 1}
      aria-valuetext={now}
      onKeyDown={step}
      className="relative mt-0.5 h-[62px] overflow-hidden"
      onClick={(event) => {
        const found = tickAt(event.clientX - (box.current?.getBoundingClientRect().left ?? 0));
        if (found) onGo(found.trial);
      }}
    >
      <svg width={width} height={60} aria-hidden="true" className="block">
        {layout.parts.map((part) =>
          part.kind === "page" ? (
            <rect
              key={part.part}
              x={part.x}
              y={17}
              width={pageWidth - 4}
              height={height}
              rx={2}
              fill="none"
              stroke="var(--muted)"
              strokeOpacity={0.5}
            >
              <title>{part.name}</title>
            </rect>
          ) : (
            <text key={part.part} x={part.x} y={11} className="fill-(--muted) text-[11px]">
              {part.name.slice(0, Math.max(3, Math.floor(part.width / 6)))}
            </text>
          ),
        )}
        {ticks}
        {marked && (
          <path
            d={`M${marked.x + layout.step / 2 - 5} 9h8l-4 6z M${marked.x + layout.step / 2 - 1.5} 14v${height + 6}`}
            fill="var(--ink)"
            stroke="var(--ink)"
            strokeWidth={1}
          />
        )}
      </svg>
      {ribbon.trials === 0 && (
        <p className="absolute inset-x-0 top-5 flex items-center gap-1 text-sm text-muted">
          <FileText size={14} aria-hidden="true" />
          No trials yet: give a block rows and copies in Compose.
        </p>
      )}
    </div>
  );
}

/** Where everything stands on a ribbon of this width. */
function place(parts: RibbonPart[], trials: number, width: number) {
  const fixed = parts.reduce((sum, part) => sum + (part.kind === "page" ? pageWidth : gap), 0);
  const step = Math.min(14, (width - fixed) / Math.max(1, trials));
  const slack = step > 3 ? 1.3 : step > 1.6 ? 0.4 : 0;
  let x = 0;
  const ticks: { trial: number; rowNumber: number; x: number; h: number; color: number }[] = [];
  const placed = parts.map((part) => {
    const start = x;
    if (part.kind === "page") x += pageWidth;
    else {
      for (const { trial, rowNumber, color, height: level } of part.ticks) {
        ticks.push({ trial, rowNumber, color, x, h: level <= 0 ? height : Math.max(8, height - 10 * level) });
        x += step;
      }
      x += gap;
    }
    return { ...part, x: start, width: x - start };
  });
  return { parts: placed, ticks, step, slack };
}
