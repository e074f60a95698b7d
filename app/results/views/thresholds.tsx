import { RecordTable } from "~/app/components/table";
import type { Cell } from "~/core/values/data-column";
import type { ResultView } from "../result-views";
import { nameOf, shortNumber, TrackFigures } from "../track-figures";

const header = ["participant", "value", "reversals", "threshold", "error", "from", "to"];
const rounded = (value: number | undefined): Cell => (value === undefined ? null : Number(value.toPrecision(3)));

/** Thresholds over all sessions, and how the values of one participant went. */
export const View: ResultView<"thresholds"> = ({ answer, ask }) => {
  const { all, found, summary, chosen } = answer;
  if (all.length === 0)
    return <p className="mt-4 text-muted">No value has followed any answers yet in what was collected.</p>;
  const isAlone = new Set(all.map(({ block }) => block)).size < 2;
  const participants = [...new Set(all.map(({ participant }) => participant))];
  const shown = chosen[0]?.participant ?? participants[0] ?? 1;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-6 small:grid-cols-1">
      <section aria-label="Thresholds of all participants" tabIndex={0} className="min-w-0 overflow-x-auto">
        <h2 className="font-serif text-lg">Thresholds</h2>
        <ul className="mt-1 mb-3 text-sm">
          {summary.map(({ column, level, numbers }) => (
            <li key={`${column} ${level}`}>
              <b className="font-mono text-xs">{level ? `${column}, ${level}` : column}</b>{" "}
              {numbers
                ? `mean ${shortNumber(numbers.mean)}${numbers.sd === null ? "" : `, SD ${shortNumber(numbers.sd)}`}, median ${shortNumber(numbers.median)}, ${shortNumber(numbers.least)} to ${shortNumber(numbers.most)} in ${numbers.n}`
                : "none yet"}
            </li>
          ))}
        </ul>
        <RecordTable
          header={header}
          rows={all.map((each): Cell[] => [
            each.participant,
            nameOf(each, isAlone),
            each.method === "staircase" ? each.reversals : null,
            rounded(each.threshold?.value),
            rounded(each.threshold?.error),
            rounded(each.threshold?.from),
            rounded(each.threshold?.to),
          ])}
          empty=""
        />
        {found > all.length && (
          <p className="mt-2 text-sm text-muted">
            The first {all.length.toLocaleString("en")} of {found.toLocaleString("en")} are listed; the means above are
            of all, and the export has each.
          </p>
        )}
      </section>
      <section>
        <h2 className="mb-2 flex items-center gap-2 font-serif text-lg">
          Trial by trial
          <label className="ml-auto flex items-center gap-2 font-sans text-sm text-muted">
            participant
            <select
              className="field w-24"
              value={String(shown)}
              onChange={({ target }) => ask({ participant: target.value })}
            >
              {participants.map((each) => (
                <option key={each}>{each}</option>
              ))}
            </select>
          </label>
        </h2>
        <TrackFigures tracks={chosen} />
      </section>
    </div>
  );
};
