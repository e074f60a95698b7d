import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { useStudy } from "~/app/editing/use-study";
import {
  boundsAround,
  boundsOf,
  guidesFor,
  halfStage,
  isCutOff,
  resized,
  snapped,
  tenth,
  turnTowards,
  type Bounds,
  type Box,
  type Guides,
  type Handle,
} from "~/core/design/arrange";
import type { PlacingNote } from "~/core/design/edits/placing";
import type { Block } from "~/core/design/block";
import type { Id } from "~/core/values/ref";
import type { Scene } from "~/core/design/scene";
import { unitsOf } from "~/core/design/visual-angle";
import type { Context } from "~/core/values/context";
import { pixelsPerUnit, type MediaUrl } from "~/player/stage/context";
import "~/player/stage/drawers-all";
import { buildScene } from "~/player/stage/scene-layer";
import { makeStage } from "~/player/stage/stage";
import { boxesOf, itemAt, itemsWithin } from "./boxes";
import type { Arranging } from "./use-arranging";

type Props = {
  block: Block;
  scene: Scene;
  context: Context;
  mediaUrl: MediaUrl;
  arranging: Arranging;
  aspect: number;
  width: number;
  height: number;
  rings: boolean;
  left: number;
  top: number;
  onLeave: () => void;
};
type Point = { x: number; y: number };
type Drag =
  | { kind: "move"; from: Point; boxes: Map<Id, Box>; key: string; hasMoved: boolean }
  | { kind: "resize"; from: Point; id: Id; box: Box; handle: Handle; key: string }
  | { kind: "turn"; id: Id; box: Box; key: string }
  | { kind: "marquee"; from: Point; to: Point };

const handles: Handle[] = [-1, 0, 1].flatMap((x) =>
  [-1, 0, 1].flatMap((y) => (x === 0 && y === 0 ? [] : [{ x, y } as Handle])),
);
const none: Guides = { x: [], y: [] };
/** How near a guide has to be to be snapped to, in pixels on the screen. */
const reachPixels = 6;

/** The opened scene: drawn by the player's own code, with handles and guides above it. */
export function StageCanvas({
  scene,
  context,
  mediaUrl,
  arranging,
  aspect,
  width,
  height,
  rings,
  onLeave,
  ...at
}: Props) {
  const { document } = useStudy();
  const host = useRef<HTMLDivElement>(null);
  const surface = useRef<HTMLDivElement>(null);
  const [heights, setHeights] = useState<ReadonlyMap<Id, number>>(new Map());
  const [drag, setDrag] = useState<Drag | null>(null);
  const [guides, setGuides] = useState<Guides>(none);
  const [notes, setNotes] = useState<PlacingNote[]>([]);
  const unit = Math.min(width, height) / 100;
  const { chosen, select, isFree, arrange, moveBy } = arranging;

  useEffect(() => {
    if (!host.current) return;
    const root = makeStage(host.current, document.settings.stageColor);
    const layer = buildScene(window.document, scene, {
      context,
      mediaUrl,
      pixelsPerUnit: pixelsPerUnit(width, height),
    });
    layer.show(true);
    root.replaceChildren(layer.element);
    const measured = () =>
      setHeights(
        new Map(
          scene.items.flatMap(({ id, ...item }) =>
            "at" in item && !("size" in item) ? [[id, (layer.items.get(id)?.offsetHeight ?? 0) / unit] as const] : [],
          ),
        ),
      );
    measured();
    void layer.ready.then(measured);
  }, [scene, context, mediaUrl, document.settings.stageColor, width, height, unit]);

  const boxes = useMemo(() => boxesOf(scene, context, heights), [scene, context, heights]);
  const shown = chosen.filter((id) => boxes.has(id));
  const single = shown.length === 1 ? shown[0] : undefined;
  const cutOff = [...boxes].flatMap(([id, box]) => (isCutOff(box, aspect) ? [id] : []));
  const left = (x: number) => width / 2 + x * unit;
  const top = (y: number) => height / 2 - y * unit;

  const pointOf = (event: PointerEvent): Point => {
    const frame = surface.current?.getBoundingClientRect();
    return {
      x: (event.clientX - (frame?.left ?? 0) - width / 2) / unit,
      y: (height / 2 - (event.clientY - (frame?.top ?? 0))) / unit,
    };
  };
  const down = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0) return;
    surface.current?.focus({ preventScroll: true });
    event.currentTarget.setPointerCapture(event.pointerId);
    const from = pointOf(event);
    const key = `drag ${Date.now()}`;
    const part = event.target instanceof HTMLElement ? event.target.dataset : {};
    const box = single ? boxes.get(single) : undefined;
    if (single && box && part.handle) {
      const [x, y] = part.handle.split(" ").map(Number) as [Handle["x"], Handle["y"]];
      return setDrag({ kind: "resize", from, id: single, box, handle: { x, y }, key });
    }
    if (single && box && part.turn) return setDrag({ kind: "turn", id: single, box, key });
    const hit = itemAt(boxes, from.x, from.y);
    if (hit === null) return setDrag({ kind: "marquee", from, to: from });
    const several = event.shiftKey || event.ctrlKey || event.metaKey;
    const next = several
      ? chosen.includes(hit)
        ? chosen.filter((id) => id !== hit)
        : [hit, ...chosen]
      : chosen.includes(hit)
        ? chosen
        : [hit];
    select(next);
    const moved = new Map(next.flatMap((id) => (isFree(id) && boxes.has(id) ? [[id, boxes.get(id) as Box]] : [])));
    setDrag({ kind: "move", from, boxes: moved, key, hasMoved: false });
  };
  const move = (event: PointerEvent) => {
    if (!drag) return;
    const at = pointOf(event);
    if (drag.kind === "marquee") return setDrag({ ...drag, to: at });
    if (drag.kind === "turn") {
      const turned = turnTowards(drag.box, at.x, at.y, event.shiftKey ? 15 : 1);
      return setNotes(arrange([{ id: drag.id, change: { turned } }], drag.key));
    }
    const [dx, dy] = [at.x - drag.from.x, at.y - drag.from.y];
    if (drag.kind === "resize") {
      const { x, y, w, h } = resized(drag.box, drag.handle, dx, dy, event.shiftKey);
      const change = {
        ...(drag.handle.x === 0 && !event.shiftKey ? {} : { w }),
        ...(drag.handle.y === 0 && !event.shiftKey ? {} : { h }),
        ...(Math.abs(x - drag.box.x) < 0.01 ? {} : { x: tenth(x) }),
        ...(Math.abs(y - drag.box.y) < 0.01 ? {} : { y: tenth(y) }),
      };
      return setNotes(arrange([{ id: drag.id, change }], drag.key));
    }
    if (!drag.hasMoved && Math.hypot(dx, dy) * unit < 3) return;
    if (!drag.hasMoved) setDrag({ ...drag, hasMoved: true });
    const bounds = boundsAround([...drag.boxes.values()].map(boundsOf));
    const others = [...boxes].flatMap(([id, box]) => (drag.boxes.has(id) ? [] : [boundsOf(box)]));
    const free: Bounds = {
      left: bounds.left + dx,
      right: bounds.right + dx,
      top: bounds.top + dy,
      bottom: bounds.bottom + dy,
    };
    const snap = event.ctrlKey
      ? { dx: 0, dy: 0, met: none }
      : snapped(free, guidesFor(others, aspect), reachPixels / unit);
    setGuides(snap.met);
    const placed = [...drag.boxes].map(([id, box]) => ({
      id,
      change: { x: tenth(box.x + dx + snap.dx), y: tenth(box.y + dy + snap.dy) },
    }));
    setNotes(arrange(placed, drag.key));
  };
  const up = () => {
    if (drag?.kind === "marquee") select(itemsWithin(boxes, drag.from, drag.to));
    setDrag(null);
    setGuides(none);
  };

  const nudge = (dx: number, dy: number) =>
    setNotes(
      moveBy(
        boxes,
        chosen.map((id) => ({ id, dx, dy })),
        `nudge ${chosen.join(" ")}`,
      ),
    );
  const next = (by: 1 | -1) => {
    const ids = scene.items.flatMap(({ id }) => (boxes.has(id) ? [id] : []));
    const at = chosen[0] ? ids.indexOf(chosen[0]) : by > 0 ? -1 : 0;
    const id = ids[(at + by + ids.length) % ids.length];
    if (id) select([id]);
  };
  const turnBy = (by: number) =>
    setNotes(
      arrange(
        shown.flatMap((id) => {
          const turned = boxes.get(id)?.turned ?? 0;
          return isFree(id) ? [{ id, change: { turned: (((turned + by) % 360) + 360) % 360 } }] : [];
        }),
        "turn",
      ),
    );
  const keys = (event: KeyboardEvent) => {
    if (event.metaKey || event.altKey) return;
    const step = event.shiftKey ? 5 : event.ctrlKey ? 0.1 : 1;
    const arrows: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    };
    const arrow = arrows[event.key];
    const plain: Record<string, () => void> = {
      ".": () => next(1),
      ",": () => next(-1),
      d: arranging.duplicate,
      l: arranging.lock,
      f: () => arranging.layer("front"),
      b: () => arranging.layer("bottom"),
      "+": () => arranging.layer("forward"),
      "-": () => arranging.layer("back"),
      r: () => turnBy(15),
      R: () => turnBy(-15),
      Delete: arranging.remove,
      Backspace: arranging.remove,
      Escape: () => (chosen.length > 0 ? select([]) : onLeave()),
    };
    const act = event.ctrlKey ? (event.key === "a" ? () => select([...boxes.keys()]) : undefined) : plain[event.key];
    if (arrow && chosen.length > 0) nudge(...arrow);
    else if (act) act();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const name = (id: Id) => scene.items.find((item) => item.id === id)?.name ?? "";
  const { w: halfW, h: halfH } = halfStage(aspect);
  const around = shown.length > 0 ? boundsAround(shown.map((id) => boundsOf(boxes.get(id) as Box))) : null;
  const bubble =
    noteInWords(notes) ?? (drag && around && drag.kind !== "marquee" ? measuresInWords(boxes, shown) : null);
  return (
    <div className="relative" style={{ width, height, left: at.left, top: at.top }}>
      <div ref={host} aria-hidden="true" data-stage className="absolute inset-0 outline-1 outline-muted outline" />
      <div
        ref={surface}
        role="application"
        tabIndex={0}
        aria-label={`Stage of ${scene.name}. ${shown.length === 0 ? "Nothing" : shown.map(name).join(", ")} selected. Full stop and comma step through the items, arrows move, Enter and Escape go in and out.`}
        className="absolute inset-0 touch-none !rounded-none outline-offset-2"
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        onKeyDown={keys}
        onCopy={(event) => {
          event.clipboardData.setData("text/plain", arranging.copied());
          event.preventDefault();
        }}
        onCut={(event) => {
          if (chosen.length === 0) return;
          event.clipboardData.setData("text/plain", arranging.copied());
          event.preventDefault();
          arranging.remove();
        }}
        onPaste={(event) => {
          void arranging.paste(event.clipboardData.getData("text/plain"));
          event.preventDefault();
        }}
      >
        <svg
          aria-hidden="true"
          width={width}
          height={height}
          className="pointer-events-none absolute inset-0 overflow-visible"
        >
          <g stroke="#55635e" strokeOpacity={0.55} strokeDasharray="2 5">
            <path d={`M${width / 2} 0V${height}M0 ${height / 2}H${width}`} />
          </g>
          {rings && document.settings.viewing && (
            <g fill="none" stroke="#2e7d8c" strokeOpacity={0.7}>
              {[1, 2, 5, 10, 20].map((degrees) => {
                // Eccentricity: the angle from the centre, so twice the angle of the ring's radius on both sides.
                const radius = (unitsOf(2 * degrees, document.settings.viewing) ?? 0) / 2;
                return radius * unit < 8 || radius > Math.max(halfW, halfH) ? null : (
                  <g key={degrees}>
                    <circle cx={width / 2} cy={height / 2} r={radius * unit} />
                    <text
                      x={width / 2 + 3}
                      y={height / 2 - radius * unit - 3}
                      stroke="none"
                      fill="#2e7d8c"
                      className="font-mono text-2xs"
                    >
                      {degrees}°
                    </text>
                  </g>
                );
              })}
            </g>
          )}
          <g fill="#55635e" className="font-mono text-2xs">
            <text x={6} y={15}>
              {tenth(halfH)}
            </text>
            <text x={6} y={height - 6}>
              −{tenth(halfW)}
            </text>
            <text x={width - 6} y={height - 6} textAnchor="end">
              {tenth(halfW)}
            </text>
          </g>
          <g stroke="#a3460f">
            {guides.x.map((x) => (
              <path key={`x${x}`} d={`M${left(x)} 0V${height}`} />
            ))}
            {guides.y.map((y) => (
              <path key={`y${y}`} d={`M0 ${top(y)}H${width}`} />
            ))}
          </g>
          {cutOff.map((id) => {
            const box = boxes.get(id) as Box;
            return (
              <rect
                key={id}
                x={left(box.x - box.w / 2)}
                y={top(box.y + box.h / 2)}
                width={box.w * unit}
                height={box.h * unit}
                transform={`rotate(${box.turned} ${left(box.x)} ${top(box.y)})`}
                fill="#a3460f"
                fillOpacity={0.1}
                stroke="#a3460f"
                strokeDasharray="4 3"
              />
            );
          })}
          {drag?.kind === "marquee" && (
            <rect
              x={left(Math.min(drag.from.x, drag.to.x))}
              y={top(Math.max(drag.from.y, drag.to.y))}
              width={Math.abs(drag.to.x - drag.from.x) * unit}
              height={Math.abs(drag.to.y - drag.from.y) * unit}
              fill="#0e5a4e"
              fillOpacity={0.08}
              stroke="#0e5a4e"
            />
          )}
        </svg>
        {shown.map((id) => (
          <Selection
            key={id}
            box={boxes.get(id) as Box}
            unit={unit}
            left={left}
            top={top}
            isFree={isFree(id)}
            handles={id === single && isFree(id)}
            isSized={scene.items.some((item) => item.id === id && "size" in item)}
          />
        ))}
      </div>
      {bubble && around && (
        <output
          className={`pointer-events-none absolute z-10 whitespace-nowrap rounded-md px-2.5 py-1 text-sm ${notes.length > 0 ? "bg-[#5a3fa0] text-white" : "bg-[#17211e] text-white"}`}
          style={{
            left: Math.max(4, Math.min(width - 260, left(around.right) + 12)),
            top: Math.max(4, top(around.top) - 34),
          }}
        >
          {bubble}
        </output>
      )}
      {cutOff.length > 0 && (
        <p className="absolute inset-x-0 top-full mt-1 truncate text-xs text-chestnut">
          Cut off on this display: {cutOff.map(name).join(", ")}
        </p>
      )}
    </div>
  );
}

function Selection({
  box,
  unit,
  left,
  top,
  isFree,
  handles: hasHandles,
  isSized,
}: {
  box: Box;
  unit: number;
  left: (x: number) => number;
  top: (y: number) => number;
  isFree: boolean;
  handles: boolean;
  isSized: boolean;
}) {
  const [w, h] = [box.w * unit, box.h * unit];
  return (
    <div
      aria-hidden="true"
      data-selection
      className={`absolute border ${isFree ? "cursor-move border-[#0e5a4e]" : "border-dashed border-[#55635e]"}`}
      style={{
        left: left(box.x) - w / 2,
        top: top(box.y) - h / 2,
        width: w,
        height: h,
        rotate: `${box.turned}deg`,
        boxShadow: "0 0 0 1px rgb(255 255 255 / 0.6)",
      }}
    >
      {hasHandles && (
        <>
          <span className="pointer-events-none absolute bottom-full left-1/2 h-5 w-px bg-[#0e5a4e]" />
          <span
            data-turn="yes"
            className="absolute -top-[29px] left-1/2 size-3 -translate-x-1/2 cursor-grab rounded-full border border-[#0e5a4e] bg-white"
          />
          {handles
            .filter(({ y }) => isSized || y === 0)
            .map(({ x, y }) => (
              <span
                key={`${x} ${y}`}
                data-handle={`${x} ${y}`}
                className="absolute size-2 -translate-x-1/2 -translate-y-1/2 border border-[#0e5a4e] bg-white"
                style={{
                  left: `${50 + x * 50}%`,
                  top: `${50 - y * 50}%`,
                  cursor: x === 0 ? "ns-resize" : y === 0 ? "ew-resize" : x * y > 0 ? "nesw-resize" : "nwse-resize",
                }}
              />
            ))}
        </>
      )}
    </div>
  );
}

const signed = (value: number) => String(value).replace("-", "−");

/** What placing did to the table, or why it did nothing. */
function noteInWords(notes: PlacingNote[]): string | null {
  const cells = notes.flatMap((note) => (note.kind === "cell" ? [note] : []));
  const [first] = cells;
  if (first)
    return `row ${first.row}: ${[...new Map(cells.map(({ column, value }) => [column, value]))]
      .map(([column, value]) => `${column} = ${signed(value)}`)
      .join(", ")}`;
  const fixed = notes.find((note) => note.kind === "fixed");
  return fixed?.kind === "fixed" ? `${fixed.measure} comes from ${fixed.from}: change it there` : null;
}

function measuresInWords(boxes: ReadonlyMap<Id, Box>, shown: Id[]): string | null {
  const box = shown[0] ? boxes.get(shown[0]) : undefined;
  if (!box || shown.length !== 1) return null;
  return `x ${signed(tenth(box.x))}, y ${signed(tenth(box.y))} · ${tenth(box.w)} × ${tenth(box.h)}${box.turned ? ` · ${Math.round(box.turned)}°` : ""}`;
}
