import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { FileText, GripVertical, LayoutGrid, Repeat2 } from "lucide-react";
import { useInBrowser } from "~/app/components/use-in-browser";
import { keyLabel } from "~/core/describe/words";
import { useStudy } from "~/app/editing/use-study";
import { conditionColor } from "~/app/ribbon/palette";
import { movePart } from "~/core/design/edits/parts";
import { partsInOrder, trialsInBlock } from "~/core/design/lookup";
import { partMinutes } from "~/core/compile/ribbon";
import type { GroupValue, Part, StudyDocument } from "~/core/design/types";
import { usesIn } from "~/core/design/uses";

/** The running order as a matrix: parts are rows, groups are columns; what differs by group stands out. */
export function PlanTable() {
  const { document, edit, look, view } = useStudy();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const inBrowser = useInBrowser();
  const parts = partsInOrder(document);
  const ids = parts.map(({ id }) => id);
  const drop = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id) edit(movePart(String(active.id), ids.indexOf(String(over.id))));
  };
  const { groups, groupValues } = document;
  const columns = {
    gridTemplateColumns: `36px 270px repeat(${groups.length}, minmax(${groups.length > 4 ? 120 : 160}px, 1fr))`,
  };
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
            <span className="ml-auto shrink-0 text-xs font-normal text-muted">1 of {groups.length}</span>
          </button>
        ))}
      </div>
      <div className="ml-9 border border-hairline bg-sheet">
        {(groupValues.length > 0 || groups.length > 1) && (
          <div
            role="row"
            className="grid min-h-[38px] border-b border-hairline"
            style={{ gridTemplateColumns: columns.gridTemplateColumns.replace("36px ", "") }}
          >
            <span role="rowheader" className="content-center border-r border-hairline px-3 text-muted">
              group values
            </span>
            {groupValues.length === 0 ? (
              <span role="cell" className="col-span-full col-start-2 content-center px-3 text-muted">
                none yet: “Group value” above adds one, for example which key means left
              </span>
            ) : (
              groups.map((group, index) => (
                <span
                  key={group.id}
                  role="cell"
                  className={`flex flex-wrap items-center gap-x-4 gap-y-1 px-3 py-1.5 ${index > 0 ? "border-l border-hairline" : ""} ${differs(groupValues, document, index) ? "bg-sheen-tint text-sheen" : ""}`}
                >
                  {groupValues.map((value) => (
                    <button
                      key={value.id}
                      type="button"
                      onClick={() => look({ selected: { kind: "group-value", value: value.id } })}
                      className="flex items-center gap-1.5 hover:underline"
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
          accessibility={inBrowser ? { container: globalThis.document.body } : {}}
          onDragEnd={drop}
        >
          <SortableContext items={ids} strategy={verticalListSortingStrategy}>
            {parts.map((part, index) => (
              <PartRow
                key={part.id}
                part={part}
                place={index + 1}
                columns={columns.gridTemplateColumns.replace("36px ", "")}
              />
            ))}
          </SortableContext>
        </DndContext>
        {parts.length === 0 && (
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

/** Whether a group has other values than the first one. */
const differs = (values: GroupValue[], { groups }: StudyDocument, index: number) =>
  values.some(({ perGroup }) => perGroup[groups[index]?.id ?? ""] !== perGroup[groups[0]?.id ?? ""]);

/** Group values a part uses, also through filled columns. */
const valuesUsed = (part: Part, document: StudyDocument): GroupValue[] => {
  const ids = new Set(usesIn(part).flatMap(({ ref }) => ("groupValue" in ref ? [ref.groupValue] : [])));
  return document.groupValues.filter(({ id }) => ids.has(id));
};

function PartRow({ part, place, columns }: { part: Part; place: number; columns: string }) {
  const { document, look, view } = useStudy();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: part.id,
  });
  const used = valuesUsed(part, document);
  const isChosen = view.selected.kind === "part" && view.selected.part === part.id;
  const Icon = part.kind === "page" ? FileText : part.practice ? Repeat2 : LayoutGrid;
  const minutes = partMinutes(document, part.id);
  const size =
    part.kind === "block" ? `${trialsInBlock(part)} trials` : minutes < 0.75 ? "½ min" : `${Math.round(minutes)} min`;
  return (
    <div
      ref={setNodeRef}
      role="row"
      data-part-row={part.name}
      style={{ transform: CSS.Translate.toString(transform), transition, gridTemplateColumns: columns }}
      className={`relative grid min-h-[39px] border-b border-hairline last:border-b-0 ${isDragging ? "z-10 bg-sheet opacity-80" : ""}`}
    >
      <span
        role="cell"
        className="absolute -left-9 top-0 flex h-full w-9 items-center justify-end gap-0.5 pr-2.5 text-xs"
      >
        <button
          ref={setActivatorNodeRef}
          type="button"
          aria-label={`Move ${part.name}: press space, then the arrow keys`}
          title="Drag to another place"
          className="cursor-grab text-muted/60 hover:text-ink"
          {...attributes}
          {...listeners}
          role="button"
        >
          <GripVertical size={13} aria-hidden="true" />
        </button>
        <span className="font-mono text-muted">{place}</span>
      </span>
      <span
        role="rowheader"
        className={`border-r border-hairline ${isChosen ? "border-l-[3px] border-l-plumage bg-plumage-tint" : ""}`}
      >
        <button
          type="button"
          aria-pressed={isChosen}
          onClick={() => look({ selected: { kind: "part", part: part.id }, part: part.id })}
          className="flex h-full w-full items-center gap-2 px-3 text-left hover:bg-plumage-tint"
        >
          <Icon size={16} aria-hidden="true" className="shrink-0" />
          <span className="truncate font-bold">{part.name}</span>
          <span className="ml-auto shrink-0 text-sm text-muted">{size}</span>
        </button>
      </span>
      {used.length === 0 ? (
        <span role="cell" className="col-start-2 col-end-[-1] flex items-center gap-3 px-3 text-sm text-muted">
          <span aria-hidden="true" className="h-px flex-1 bg-hairline" />
          same for all
          <span aria-hidden="true" className="h-px flex-1 bg-hairline" />
        </span>
      ) : (
        document.groups.map((group, index) => (
          <span
            key={group.id}
            role="cell"
            className={`flex flex-wrap items-center gap-x-2 px-3 text-sm ${index > 0 ? "border-l border-hairline" : ""} ${differs(used, document, index) ? "bg-sheen-tint text-sheen" : ""}`}
          >
            {used
              .map(
                (value) =>
                  `${value.type === "key" ? keyLabel(String(value.perGroup[group.id] ?? "?")) : `“${String(value.perGroup[group.id] ?? "")}”`} ${value.name}`,
              )
              .join(", ")}
          </span>
        ))
      )}
    </div>
  );
}
