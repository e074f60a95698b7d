import { ArrowDown, ArrowUp } from "lucide-react";
import { Link } from "react-router";
import { Button } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { Pages } from "~/app/components/pages";
import { perCent } from "~/core/describe/per-cent";
import type { PersonColumn, PersonRow } from "~/server/results/persons";
import type { ResultView } from "../result-views";

const ms = (value: number | null) => (value === null ? "" : String(Math.round(value)));
const share = (value: number | null) => (value === null ? "" : perCent(value));

type Shown = { name: PersonColumn; says: string; title?: string; isNumber: boolean; of: (row: PersonRow) => string };
const columns: readonly Shown[] = [
  { name: "group", says: "group", isNumber: false, of: ({ group }) => group },
  { name: "trials", says: "trials", isNumber: true, of: ({ trials }) => trials.toLocaleString("en") },
  { name: "right", says: "right", isNumber: true, of: ({ right }) => share(right) },
  { name: "median", says: "median ms", isNumber: true, of: ({ median }) => ms(median) },
  { name: "spread", says: "SD", isNumber: true, of: ({ spread }) => ms(spread) },
  {
    name: "missed",
    says: "no answer",
    title: "trials without an answer in time",
    isNumber: true,
    of: ({ missed }) => share(missed),
  },
  { name: "late", says: "late", title: "trials with late scenes", isNumber: true, of: ({ late }) => share(late) },
];

/** How a session's times are distributed, over an axis that all of them share. */
function SmallHistogram({ bins, isOut }: { bins: readonly number[]; isOut: boolean }) {
  const most = Math.max(1, ...bins);
  const [width, height] = [4, 20];
  return (
    <svg width={width * bins.length} height={height} aria-hidden="true">
      {bins.map((count, at) => (
        <rect
          key={at}
          x={at * width}
          y={height - (count / most) * height}
          width={width - 1}
          height={(count / most) * height}
          fill={isOut ? "var(--muted)" : "var(--plumage)"}
        />
      ))}
    </svg>
  );
}

export const View: ResultView<"persons"> = ({ question, answer, ask }) => {
  const { sort: sorted, isFalling, page, scores, shown } = question;
  const sort = typeof sorted === "string" ? sorted : `score:${sorted.score}`;
  const { rows, total, pages, from, to, rightOnly } = answer;
  const head = (name: PersonColumn | `score:${string}`, says: string, isNumber: boolean, title?: string) => (
    <th
      key={name}
      scope="col"
      title={title}
      aria-sort={sort === name ? (isFalling ? "descending" : "ascending") : "none"}
      className={`sticky top-0 bg-sheet px-2 ${isNumber ? "text-right" : "text-left"}`}
    >
      <button
        type="button"
        className="inline-flex items-center gap-1 font-semibold hover:text-ink"
        onClick={() => ask({ order: sort === name && !isFalling ? `-${name}` : name, sheet: "" })}
      >
        {says}
        {sort === name &&
          (isFalling ? <ArrowDown size={12} aria-hidden="true" /> : <ArrowUp size={12} aria-hidden="true" />)}
      </button>
    </th>
  );
  if (total === 0) return <p className="mt-4 text-muted">No sessions are in yet.</p>;
  return (
    <>
      <div className="mb-1.5 flex items-center gap-3">
        <p className="text-sm text-muted" role="status">
          {total.toLocaleString("en")} {total === 1 ? "session" : "sessions"}, those that are left out among them.{" "}
          {rightOnly && "Times are of right answers only. "}Small figures: times from {Math.round(from)} to{" "}
          {Math.round(to)} ms.
        </p>
        {scores.length > 0 && (
          <Menu trigger={<Button>Scores shown: {shown.length}</Button>}>
            {scores.map((name) => (
              <MenuItem
                key={name}
                onSelect={() =>
                  ask({
                    scores: (shown.includes(name) ? shown.filter((each) => each !== name) : [...shown, name]).join(","),
                  })
                }
              >
                {shown.includes(name) ? `Without ${name}` : `With ${name}`}
              </MenuItem>
            ))}
          </Menu>
        )}
        {pages > 1 && <Pages page={page} pages={pages} onPage={(next) => ask({ sheet: String(next) })} />}
      </div>
      <div className="overflow-x-auto rounded-md border border-hairline bg-sheet">
        <table className="w-full text-left text-sm" data-persons>
          <thead>
            <tr className="h-9 border-b border-ink text-xs text-muted">
              {head("participant", "participant", true)}
              {columns.map(({ name, says, isNumber, title }) => head(name, says, isNumber, title))}
              {shown.map((name) => head(`score:${name}`, name, true, "a score"))}
              <th scope="col" className="px-3 font-semibold">
                times
              </th>
              {head("leftOutBy", "left out by", false)}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr
                key={row.session}
                data-left-out={row.leftOutBy !== null}
                className={`h-[34px] border-b border-hairline last:border-b-0 ${row.leftOutBy === null ? "" : "text-muted"}`}
              >
                <td className="px-2 text-right font-mono text-xs">
                  <Link to={`?tab=person&session=${row.session}`} className="underline underline-offset-2">
                    {row.participant > 0 ? row.participant : row.session}
                    {row.sitting > 1 && `, sitting ${row.sitting}`}
                  </Link>
                </td>
                {columns.map(({ name, isNumber, of }) => (
                  <td key={name} className={`px-2 ${isNumber ? "text-right font-mono text-xs" : ""}`}>
                    {of(row)}
                  </td>
                ))}
                {row.scores.map((value, at) => (
                  <td key={shown[at]} className="px-2 text-right font-mono text-xs">
                    {value === null ? "" : String(Number(value.toPrecision(5))).replace(/^-/, "−")}
                  </td>
                ))}
                <td className="px-3">
                  <SmallHistogram bins={row.bins} isOut={row.leftOutBy !== null} />
                </td>
                <td className="px-2">{row.leftOutBy}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
};
