import { useMemo } from "react";
import { useStudy } from "~/app/editing/use-study";
import { plannedAssignment } from "~/core/allocate/allocate";
import { excessesOf } from "~/core/allocate/bounds";
import { compileBlock } from "~/core/compile/compile";
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
    if (excessesOf(document).length > 0) return null;
    const { group, orders } = plannedAssignment(document, participant);
    const trials = compileBlock(document, block, participant, document.settings.seed, group, orders);
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
