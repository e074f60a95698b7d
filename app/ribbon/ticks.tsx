import { FileText } from "lucide-react";
import { useEffect, useMemo, useState, type KeyboardEvent, type MouseEvent } from "react";
import { useWidth } from "~/app/components/use-width";
import type { Ribbon, Ticks as BlockTicks } from "~/core/compile/ribbon";
import { conditionColor } from "./palette";
import {
  heightOf,
  pageWidth,
  xOfTick,
  layOutTicks,
  tickAt,
  tickOf,
  type PlacedTick,
  type RibbonLayout,
} from "./ribbon-layout";

/** More ticks than these are drawn as one path a colour: thousands of elements would take longer to draw than to work out. */
const mostSingleTicks = 600;
const top = 17;

const SingleTicks = ({ layout }: { layout: RibbonLayout }) =>
  layout.parts.map((part) => {
    const { ticks } = part;
    return (
      ticks &&
      Array.from(ticks.rows, (rowNumber, at) => {
        const high = heightOf(layout, ticks, at);
        return (
          <rect
            key={ticks.first + at}
            data-tick={ticks.first + at}
            data-row={rowNumber}
            x={xOfTick(layout, part, at)}
            y={top + layout.tickHeight - high}
            width={Math.max(1, layout.step - layout.slack)}
            height={high}
            fill={conditionColor(ticks.colors[at] ?? -1)}
          />
        );
      })
    );
  });

function TickPaths({ layout }: { layout: RibbonLayout }) {
  // Colours come again where there are many levels.
  const paths = new Map<string, string[]>();
  const width = Math.max(0.25, layout.step - layout.slack);
  for (const part of layout.parts)
    part.ticks?.colors.forEach((level, at) => {
      const color = conditionColor(level);
      const high = heightOf(layout, part.ticks as BlockTicks, at);
      const path = paths.get(color) ?? [];
      const x = xOfTick(layout, part, at).toFixed(2);
      path.push(`M${x} ${top + layout.tickHeight}v${-high}h${width.toFixed(2)}v${high}z`);
      paths.set(color, path);
    });
  return [...paths].map(([color, path]) => (
    <path key={color} data-ticks={path.length} d={path.join("")} fill={color} />
  ));
}

/** Trials that break a limit: a mark below and above, in the colour of errors. */
function Breaks({ layout }: { layout: RibbonLayout }) {
  const broken = layout.parts.flatMap((part) =>
    [...(part.ticks?.breaks.keys() ?? [])].map((at) => xOfTick(layout, part, at)),
  );
  if (broken.length === 0) return null;
  const width = Math.max(1.5, layout.step - layout.slack);
  return (
    <path
      data-breaks={broken.length}
      d={broken
        .map(
          (x) =>
            `M${x.toFixed(2)} ${top - 4}h${width.toFixed(2)}v3h${-width.toFixed(2)}z M${x.toFixed(2)} ${top + layout.tickHeight + 1}h${width.toFixed(2)}v3h${-width.toFixed(2)}z`,
        )
        .join("")}
      fill="var(--alarm)"
    />
  );
}

export function Ticks({
  ribbon,
  current,
  zoom,
  rowOf,
  onGo,
}: {
  ribbon: Ribbon;
  current: number | null;
  zoom: number;
  /** A tick's row in words. */
  rowOf: (tick: PlacedTick) => string;
  onGo: (trial: number) => void;
}) {
  const [box, width] = useWidth(1248);
  const [hovered, setHovered] = useState<{ x: number; words: string } | null>(null);
  const layout = useMemo(() => layOutTicks(ribbon.parts, ribbon.trials, width, zoom), [ribbon, width, zoom]);
  const drawn = useMemo(
    () => (
      <>
        {layout.count > mostSingleTicks ? <TickPaths layout={layout} /> : <SingleTicks layout={layout} />}
        <Breaks layout={layout} />
      </>
    ),
    [layout],
  );
  const marked = current === null ? undefined : tickOf(layout, current);
  const { tickHeight } = layout;
  /** Where places are given, if not at the start. */
  const lineX = ribbon.opening > 0 ? layout.parts[ribbon.opening]?.x : undefined;
  const markedX = marked?.x;
  useEffect(() => {
    const view = box.current;
    if (!view || markedX === undefined || zoom === 1) return;
    if (markedX < view.scrollLeft || markedX > view.scrollLeft + view.clientWidth - 20)
      view.scrollLeft = markedX - view.clientWidth / 2;
  }, [box, markedX, zoom]);
  const step = (event: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowLeft: -1, PageDown: 10, PageUp: -10, Home: -Infinity, End: Infinity }[event.key];
    if (by === undefined || ribbon.trials === 0) return;
    event.preventDefault();
    onGo(Math.max(1, Math.min(ribbon.trials, (current ?? (by > 0 ? 0 : 2)) + by)));
  };
  const at = ({ clientX }: MouseEvent) => {
    const view = box.current;
    return clientX - (view?.getBoundingClientRect().left ?? 0) + (view?.scrollLeft ?? 0);
  };
  const hover = (event: MouseEvent) => {
    const x = at(event);
    const tick = tickAt(layout, x);
    const part = layout.parts.find((each) => x >= each.x && x < each.x + each.width);
    const page = part?.ticks ? undefined : part;
    setHovered(
      tick
        ? {
            x: tick.x,
            words: `Trial ${tick.trial}, row ${tick.rowNumber}: ${rowOf(tick)}${part?.ticks?.breaks.has(tick.at) ? " (breaks a limit)" : ""}`,
          }
        : page
          ? {
              x: page.x,
              words: `${page.name}${page.attempts > 1 ? `, up to ${page.attempts} times` : ""}${page.conditional ? ", played only on a condition" : ""}${layout.parts.indexOf(page) < ribbon.opening ? ", before places are given" : ""}`,
            }
          : null,
    );
  };
  const now = marked
    ? `Trial ${marked.trial}, row ${marked.rowNumber}${ribbon.colorLevels[marked.color] ? `, ${ribbon.colorLevels[marked.color]}` : ""}`
    : "No trial chosen";
  const scrolled = box.current?.scrollLeft ?? 0;
  return (
    <div className="relative">
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
        onMouseMove={hover}
        onMouseLeave={() => setHovered(null)}
        className={`relative mt-0.5 h-[62px] overflow-y-hidden ${zoom > 1 ? "overflow-x-auto" : "overflow-x-hidden"}`}
        onClick={(event) => {
          const found = tickAt(layout, at(event));
          if (found) onGo(found.trial);
        }}
      >
        <svg width={Math.max(width, layout.width)} height={60} aria-hidden="true" className="block">
          {layout.parts.map((part) =>
            !part.ticks ? (
              <rect
                key={part.part}
                x={part.x}
                y={top}
                width={pageWidth - 4}
                height={tickHeight}
                rx={2}
                fill="none"
                stroke="var(--muted)"
                strokeOpacity={0.5}
                strokeDasharray={part.conditional ? "3 2" : undefined}
              />
            ) : (
              <text key={part.part} x={part.x} y={11} className="fill-(--muted) text-[11px]">
                {labelOf(part).slice(0, Math.max(3, Math.floor(part.width / 6)))}
              </text>
            ),
          )}
          {lineX !== undefined && (
            <path
              data-places-mark
              d={`M${lineX - 2} ${top - 6}v${tickHeight + 12}`}
              stroke="var(--plumage)"
              strokeDasharray="3 2"
            />
          )}
          {drawn}
          {layout.subBlocks.map((span) => (
            <g key={`${span.x} ${span.name}`}>
              <path d={`M${span.x} ${top + tickHeight + 2.5}h${span.width}`} stroke="var(--muted)" />
              {span.width > 26 && (
                <text x={span.x} y={top + tickHeight + 12} className="fill-(--muted) text-[10px]">
                  {span.name.slice(0, Math.floor(span.width / 5.6))}
                </text>
              )}
            </g>
          ))}
          {layout.brackets.map((span) => {
            const y = (layout.subBlocks.length > 0 ? 53.5 : top + tickHeight + 9) - 3 * span.depth;
            const label = Math.min(span.width - 16, span.name.length * 5.8 + 8);
            const middle = span.x + span.width / 2;
            return (
              <g key={`${span.id} ${span.x}`} data-bracket-span={span.name}>
                <path
                  d={`M${span.x + 0.5} ${y - 4}v4h${(span.width - label) / 2}m${label} 0h${(span.width - label) / 2}v-4`}
                  fill="none"
                  stroke="var(--plumage)"
                />
                {label > 20 && (
                  <text x={middle} y={y + 4} textAnchor="middle" className="fill-(--plumage) text-[10.5px]">
                    {span.name.slice(0, Math.floor(label / 5.6))}
                  </text>
                )}
              </g>
            );
          })}
          {marked && (
            <path
              d={`M${marked.x + layout.step / 2 - 5} 9h8l-4 6z M${marked.x + layout.step / 2 - 1.5} 14v${tickHeight + 6}`}
              fill="var(--ink)"
              stroke="var(--ink)"
              strokeWidth={1}
            />
          )}
        </svg>
      </div>
      {hovered && (
        <span
          role="tooltip"
          style={{ left: Math.max(0, Math.min(hovered.x - scrolled, width - 420)) }}
          className="pointer-events-none absolute bottom-[52px] z-20 max-w-[420px] truncate rounded-[4px] border border-hairline bg-sheet px-2 py-0.5 text-xs"
        >
          {hovered.words}
        </span>
      )}
      {ribbon.trials === 0 && ribbon.parts.some(({ ticks }) => ticks !== null) && (
        <p className="absolute inset-x-0 top-5 flex items-center gap-1 text-sm text-muted">
          <FileText size={14} aria-hidden="true" />
          No trials yet: give a block rows and copies in Compose.
        </p>
      )}
    </div>
  );
}

/** A block's name, with how often it may be played. */
const labelOf = ({ name, attempts }: { name: string; attempts: number }): string =>
  attempts > 1 ? `${name} · up to ${attempts}×` : name;
