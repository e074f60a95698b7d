import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Active,
  type Announcements,
  type DragEndEvent,
  type UniqueIdentifier,
} from "@dnd-kit/core";
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { useInBrowser } from "~/app/components/use-in-browser";
import { keyLabel } from "~/core/devices/keys/keys";
import { useMemo } from "react";
import { useStudy, type Selected } from "~/app/editing/use-study";
import { conditionColor } from "~/app/ribbon/palette";
import { shareOf } from "~/core/allocate/scheme";
import { differs, PartRow } from "./part-row";
import { PlacesLine } from "./places-line";
import { dropped, lineKey, partsBetween, planRows, withLine, type PlanRow } from "./plan-rows";
import type { GroupValue } from "~/core/values/study-values";

const bracketWidth = 15;

/** What is read out while a row is moved. */
function saidOfMoves(rows: readonly PlanRow[]): Announcements {
  const name = ({ id }: { id: UniqueIdentifier }) =>
    id === lineKey
      ? "The line where places are given"
      : (rows.find(({ part }) => part.id === id)?.part.name ?? "The row");
  const stays = ({ active }: { active: Active }) => `${name(active)} stays where it is.`;
  return {
    onDragStart: ({ active }) => `${name(active)} is picked up.`,
    onDragOver: ({ active, over }) =>
      !over || over.id === active.id ? stays({ active }) : `${name(active)} takes the place of ${name(over)}.`,
    onDragEnd: ({ active, over }) =>
      !over || over.id === active.id ? stays({ active }) : `${name(active)} has taken the place of ${name(over)}.`,
    onDragCancel: stays,
  };
}

/** The parts that are selected, as the table lists them. */
const selectedParts = (selected: Selected, rows: readonly PlanRow[]): string[] =>
  selected.kind === "part"
    ? [selected.part]
    : selected.kind === "parts"
      ? partsBetween(rows, selected.from, selected.to)
      : [];

/** The running order as a matrix: parts are rows, groups are columns; what differs by group stands out. */
export function PlanTable({ minutes }: { minutes: Readonly<Record<string, number>> }) {
  const { document, edit, look, view } = useStudy();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const inBrowser = useInBrowser();
  const rows = useMemo(() => planRows(document), [document]);
  const keys = withLine(rows, document.allocation.after);
  const depth = Math.max(0, ...rows.map(({ brackets }) => brackets.length));
  const gutter = 36 + depth * bracketWidth;
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const change = dropped(document, rows, String(active.id), String(over.id));
    if (change) edit(change);
  };
  const { groups, groupValues } = document;
  const columns = {
    gridTemplateColumns: `${gutter}px ${groups.length > 3 ? 220 : 270}px repeat(${groups.length}, minmax(${groups.length > 4 ? 84 : 140}px, 1fr))`,
  };
  const inner = columns.gridTemplateColumns.replace(`${gutter}px `, "");
  const total = groups.reduce((sum, group) => sum + shareOf(group), 0);
  const selection = selectedParts(view.selected, rows);
  return (
    <div role="table" aria-label="Running order" className="min-w-fit pr-5">
      <div role="row" className="grid items-center text-sm" style={columns}>
        <span role="columnheader">
          <span className="sr-only">place</span>
        </span>
        <span role="columnheader" className="h-9 content-center font-semibold text-muted">
          Order of parts
        </span>
        {groups.map((group, index) => (
          <button
            key={group.id}
            role="columnheader"
            type="button"
            onClick={() => look({ selected: { kind: "group", group: group.id } })}
            className={`flex h-9 items-center gap-2 px-3 text-left font-semibold ${view.selected.kind === "group" && view.selected.group === group.id ? "bg-plumage-tint" : "hover:bg-plumage-tint"}`}
          >
            <span
              aria-hidden="true"
              className="size-2.5 shrink-0 rounded-full"
              style={{ background: conditionColor(index) }}
            />
            <span className="truncate">{group.name}</span>
            <span
              className={`ml-auto shrink-0 text-xs font-normal text-muted ${groups.length > 4 && total === groups.length ? "sr-only" : ""}`}
            >
              {shareOf(group)} of {total}
            </span>
          </button>
        ))}
      </div>
      <div className="border border-hairline bg-sheet" style={{ marginLeft: gutter }}>
        {(groupValues.length > 0 || groups.length > 1) && (
          <div role="row" className="grid min-h-[38px] border-b border-hairline" style={{ gridTemplateColumns: inner }}>
            <span role="rowheader" className="content-center border-r border-hairline px-3 text-muted">
              group values
            </span>
            {groupValues.length === 0 ? (
              <span role="cell" className="col-span-full col-start-2 content-center px-3 text-muted">
                none yet: “Group” above adds one, for example which key means left
              </span>
            ) : (
              groups.map((group, index) => (
                <span
                  key={group.id}
                  role="cell"
                  className={`flex min-w-0 flex-wrap items-center gap-x-4 gap-y-1 px-3 py-1.5 ${index > 0 ? "border-l border-hairline" : ""} ${differs(groupValues, document, index) ? "bg-sheen-tint text-sheen" : ""}`}
                >
                  {groupValues.map((value) => (
                    <button
                      key={value.id}
                      type="button"
                      onClick={() => look({ selected: { kind: "group-value", value: value.id } })}
                      className="flex max-w-full flex-wrap items-center gap-x-1.5 overflow-hidden text-left hover:underline"
                    >
                      {value.name} <Shown value={value} group={group.id} />
                    </button>
                  ))}
                </span>
              ))
            )}
          </div>
        )}
        <DndContext
          id="running-order"
          sensors={sensors}
          collisionDetection={closestCenter}
          accessibility={{
            announcements: saidOfMoves(rows),
            ...(inBrowser ? { container: globalThis.document.body } : {}),
          }}
          onDragEnd={drop}
        >
          <SortableContext items={keys} strategy={verticalListSortingStrategy}>
            {keys.map((key) => {
              const index = rows.findIndex(({ part }) => part.id === key);
              const row = rows[index];
              return key === lineKey || !row ? (
                <PlacesLine key={lineKey} />
              ) : (
                <PartRow
                  key={key}
                  row={row}
                  rows={rows}
                  number={index + 1}
                  columns={inner}
                  gutter={gutter}
                  minutes={minutes[key]}
                  isSelected={selection.includes(key)}
                />
              );
            })}
          </SortableContext>
        </DndContext>
        {rows.length === 0 && (
          <p className="p-4 text-muted">No parts yet. “Page” adds instructions or consent, “Block” adds trials.</p>
        )}
      </div>
    </div>
  );
}

const Shown = ({ value, group }: { value: GroupValue; group: string }) => {
  const text = String(value.perGroup[group] ?? "");
  return value.type === "key" ? (
    <kbd className="rounded-[4px] border border-current px-1.5 font-sans text-xs leading-4">
      {keyLabel(text) || "?"}
    </kbd>
  ) : (
    <span className="font-mono text-xs">“{text}”</span>
  );
};
