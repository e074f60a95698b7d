import { Tick } from "~/app/components/fields";
import { Pages } from "~/app/components/pages";
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
        <span className="ml-auto">
          <Pages page={page} pages={pages} onPage={(wanted) => ask({ page: String(wanted) })} />
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
          empty="No trials are in yet. Release the study under Collect and give its link to participants."
        />
      </div>
    </div>
  );
};
