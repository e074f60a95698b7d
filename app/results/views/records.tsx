import { ChevronLeft, ChevronRight } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { Tick } from "~/app/components/fields";
import { RecordTable } from "~/app/components/table";
import type { ResultView } from "../result-views";

export const View: ResultView<"records"> = ({ question: { page, pilots }, answer, ask }) => {
  const { header, rows, total, pages } = answer;
  return (
    <div className="flex h-full flex-col">
      <div className="flex h-9 shrink-0 items-center gap-3">
        <span className="text-muted">{total.toLocaleString("en")} trials, as they are exported</span>
        <Tick checked={pilots} onChange={(on) => ask({ pilots: on ? "yes" : "no", page: "1" })}>
          with rehearsals
        </Tick>
        <span className="ml-auto flex items-center gap-1 text-sm">
          <IconButton
            icon={ChevronLeft}
            label="Previous page"
            disabled={page <= 1}
            onClick={() => ask({ page: String(page - 1) })}
          />
          <span className="font-mono text-xs">
            {page} / {pages}
          </span>
          <IconButton
            icon={ChevronRight}
            label="Next page"
            disabled={page >= pages}
            onClick={() => ask({ page: String(page + 1) })}
          />
        </span>
      </div>
      <div
        className="min-h-0 flex-1 overflow-auto border border-hairline bg-sheet"
        tabIndex={0}
        role="region"
        aria-label="Records"
      >
        <RecordTable
          header={header}
          rows={rows}
          empty="No trials are in yet. Freeze a release under Collect and give its link to participants."
        />
      </div>
    </div>
  );
};
