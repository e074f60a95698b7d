import { useMemo } from "react";
import { blockSource } from "~/app/compose/shown-trial";
import { useStudy } from "~/app/editing/use-study";
import type { Block } from "~/core/design/block";
import { cellAsText } from "~/core/design/cells";
import type { Column } from "~/core/values/table";

const mostShown = 8;

/** What the participant shown draws into a column, in the first trials of the block. */
export function DrawnExample({ block, column }: { block: Block; column: Column }) {
  const {
    document,
    view: { participant },
  } = useStudy();
  const drawn = useMemo(() => {
    const { trials } = blockSource(document, block, participant);
    return trials?.rows
      .slice(0, mostShown)
      .map((_, index) => cellAsText(document, column, trials.at(index).values[column.id] ?? null) || "nothing");
  }, [document, block, column, participant]);
  if (!drawn || drawn.length === 0) return null;
  return (
    <p className="text-sm text-muted" data-drawn-example>
      Participant {participant} has: <span className="text-ink">{drawn.join(", ")}</span>
      {drawn.length === mostShown && " …"}
    </p>
  );
}
