import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { useInBrowser } from "~/app/components/use-in-browser";
import { alongNames, alongs, type Along } from "~/core/stats/along";
import { mostCurves } from "~/core/stats/distributions";
import { CurveChart, CurveLegend } from "../curve-chart";
import { Figure } from "../figure/figure";
import { howMeasured, measuresOf, shownMeasure } from "../measures";
import { NumberTable } from "../number-table";
import { SignalSentence } from "../signal-sentence";
import { TooMany } from "../too-many";
import type { ResultView } from "../result-views";

/** How steps came about that do not explain themselves. */
const howMade: Partial<Record<Along, string>> = {
  before: " The answer before is that of the trial just before in the same block; a missing one is not right.",
  same: " Each trial is compared with the one just before it in the same block.",
};

export const View: ResultView<"course"> = ({ question, answer, ask }) => {
  const inBrowser = useInBrowser();
  const { along, by, columns } = question;
  const { steps, levels, cells, sessions, rightOnly } = answer;
  const measure = shownMeasure(question, rightOnly);
  /** A cell's value, and half the width of its interval; null where there is none. */
  const cellAt = (step: string, level: string) => {
    const found = cells.find((cell) => cell.step === step && cell.level === level);
    return found && found.mean !== null ? { mean: found.mean, interval: found.interval } : null;
  };
  const curves = levels.map((level) => ({
    ...{ level, persons: sessions, trials: 0 },
    points: steps.flatMap((step, x) => {
      const found = cellAt(step, level);
      if (!found) return [];
      return [
        { x, y: measure.drawn(found.mean), half: found.interval === null ? null : measure.drawn(found.interval) },
      ];
    }),
  }));
  return (
    <>
      <Sentence>
        Show{" "}
        <SentenceChoice
          label="Measure"
          value={measure.value}
          options={measuresOf(question, rightOnly)}
          onChange={(of) => ask({ of })}
        />
        <SignalSentence measured={question} ask={ask} /> by{" "}
        <SentenceChoice
          label="Along"
          value={along}
          options={alongNames.map((name) => [name, alongs[name]] as const)}
          onChange={(wanted) => ask({ along: wanted })}
        />{" "}
        {along === "same" ? "in " : "and "}
        <SentenceChoice
          label="Column"
          value={by ?? ""}
          options={[
            ...(along === "same" ? [] : [["", "nothing else"] as const]),
            ...columns.map((name) => [name, name] as const),
          ]}
          onChange={(wanted) => ask({ by: wanted })}
        />
        .
      </Sentence>
      {sessions === 0 ? (
        <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">No trials are in yet.</p>
      ) : levels.length > mostCurves ? (
        <TooMany column={by ?? ""} count={levels.length} />
      ) : (
        <div className="mt-2 grid grid-cols-[minmax(0,1.2fr)_minmax(0,0.8fr)] items-start gap-4 small:grid-cols-1">
          <Figure
            name="course"
            table={{
              header: [
                ...[alongs[along], by ?? "condition", measure.says],
                ...["half of its 95 % interval", "sessions", "trials"],
              ],
              rows: cells.map((cell) => [
                ...[cell.step, cell.level, cell.mean, cell.interval, cell.persons, cell.trials],
              ]),
            }}
            caption={
              <>
                <b>Figure 4.</b> {measure.says} by {alongs[along]}
                {by !== null && `${along === "same" ? " in" : " and"} ${by}`}{" "}
                <em>
                  (n = {sessions.toLocaleString("en")}; bars: 95 % intervals, within sessions where these have several
                  of the conditions)
                </em>
              </>
            }
          >
            <div className="h-[340px]">
              {inBrowser && (
                <CurveChart curves={curves} along={{ label: alongs[along], steps }} yLabel={measure.axis} />
              )}
            </div>
            <CurveLegend curves={curves} />
          </Figure>
          <NumberTable
            title={
              <>
                <b>Table 4.</b> {measure.says}
              </>
            }
            head={alongs[along]}
            columns={levels.map((level) => level || "all")}
            rows={steps.map((step) => ({
              name: step,
              cells: levels.map((level) => {
                const found = cellAt(step, level);
                return { says: measure.written(found?.mean ?? null), half: measure.written(found?.interval ?? null) };
              }),
            }))}
          >
            {howMeasured(question, rightOnly)}
            {howMade[along]}
          </NumberTable>
        </div>
      )}
    </>
  );
};
