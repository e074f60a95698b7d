import { Grid2x2Plus } from "lucide-react";
import { useState } from "react";
import { Button } from "~/app/components/button";
import { useStudy } from "~/app/editing/use-study";
import type { Block } from "~/core/design/block";
import type { Id } from "~/core/values/ref";
import { CrossDialog } from "./cross-dialog";
import { TableSummary } from "./summary";
import { TableSheet } from "./table-sheet";

/** Table 1: the rows of a block. */
export function TrialTable({
  block,
  group,
  shownRow,
  height,
}: {
  block: Block;
  group: Id;
  shownRow: Id | null;
  height: number;
}) {
  const { look } = useStudy();
  const [isCrossing, setIsCrossing] = useState(false);
  return (
    <>
      <TableSheet
        holder={block}
        group={group}
        shownRow={shownRow}
        height={height}
        hasCopies
        summary={<TableSummary block={block} />}
        tools={
          <Button icon={Grid2x2Plus} onClick={() => setIsCrossing(true)}>
            <span className="tight:sr-only">Cross factors</span>
          </Button>
        }
        onColumn={(column) => look({ selected: { kind: "column", column } })}
        onRow={(row) => look({ row })}
      />
      <CrossDialog block={block} open={isCrossing} onOpenChange={setIsCrossing} />
    </>
  );
}
