import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical } from "lucide-react";
import { useStudy } from "~/app/editing/use-study";
import { openingOf } from "~/core/order/opening";
import { lineKey } from "./plan-rows";

/** The line in the running order at which participants get their number, group and orders. */
export function PlacesLine() {
  const { document, look, view } = useStudy();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: lineKey,
  });
  const isChosen = view.selected.kind === "allocation";
  const isAtStart = openingOf(document).length === 0;
  return (
    <div
      ref={setNodeRef}
      role="row"
      data-places-line
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`relative border-b border-hairline ${isDragging ? "z-10 bg-sheet opacity-80" : ""}`}
    >
      <span
        role="cell"
        style={{ left: -36 }}
        className="absolute top-0 flex h-full w-9 items-center justify-start gap-0.5 pr-2.5"
      >
        <button
          ref={setActivatorNodeRef}
          type="button"
          aria-label="Move the line where places are given: press space, then the arrow keys"
          title="Drag to another place"
          className="cursor-grab text-muted/60 hover:text-ink"
          {...attributes}
          {...listeners}
          role="button"
        >
          <GripVertical size={13} aria-hidden="true" />
        </button>
      </span>
      <span role="cell" className="block">
        <button
          type="button"
          aria-pressed={isChosen}
          onClick={() => look({ selected: { kind: "allocation" } })}
          title="Number, group and orders: whoever leaves above this line takes no place"
          className={`flex h-[25px] w-full items-center gap-3 px-3 text-xs hover:bg-plumage-tint ${isChosen ? "bg-plumage-tint" : ""} ${isAtStart ? "text-muted" : "text-plumage"}`}
        >
          <span aria-hidden="true" className="h-0 flex-1 border-t border-dashed border-current opacity-60" />
          places are given here
          <span aria-hidden="true" className="h-0 flex-1 border-t border-dashed border-current opacity-60" />
        </button>
      </span>
    </div>
  );
}
