import { inList } from "~/core/describe/in-words";
import { Tick } from "~/app/components/fields";
import { useInBrowser } from "~/app/components/use-in-browser";
import type { ConditionAnswer, ConditionQuestion } from "~/server/results/conditions";
import { ConditionCharts, Legend } from "../conditions/condition-chart";
import { ConditionSentence } from "../conditions/condition-sentence";
import { ConditionTable } from "../conditions/condition-table";
import { Differences } from "../conditions/differences";
import { Figure, type FigureTable } from "../figure/figure";
import { shownMeasure } from "../measures";
import type { ResultView } from "../result-views";
import { TooMany } from "../too-many";

/** Which intervals the bars are: within participants, as far as they have several of the conditions. */
const intervalsInWords = ({ within, between }: ConditionAnswer): string =>
  within.length === 0
    ? "95 % intervals of the means"
    : `95 % intervals within participants, after Cousineau and Morey${between.length > 0 ? `, for each ${inList(between)} by itself` : ""}`;

/** The cells as numbers, with every digit. */
function tableOf(question: ConditionQuestion, { cells, beside, rightOnly }: ConditionAnswer): FigureTable {
  const other = beside && shownMeasure({ ...question, measure: beside, column: null }, rightOnly);
  const half = "half of its 95 % interval";
  return {
    header: [
      ...[...question.by, shownMeasure(question, rightOnly).says, half, "SD"],
      ...(other ? [other.says, half] : []),
      ...["sessions", "trials"],
    ],
    rows: cells.map((cell) => [
      ...[...cell.levels, cell.mean, cell.interval, cell.sd],
      ...(cell.beside ? [cell.beside.mean, cell.beside.interval] : []),
      ...[cell.persons, cell.trials],
    ]),
  };
}

export const View: ResultView<"conditions"> = ({ question, answer, ask }) => {
  const inBrowser = useInBrowser();
  const measure = shownMeasure(question, answer.rightOnly);
  const most = answer.levels.reduce(
    (found, { length }, at, all) => (length > (all[found]?.length ?? 0) ? at : found),
    0,
  );
  return (
    <>
      <ConditionSentence question={question} answer={answer} ask={ask} />
      {answer.trials === 0 ? (
        <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">
          No trials are in yet. Release the study under Collect and give its link to participants; what they do shows
          here at once.
        </p>
      ) : answer.cells.length === 0 ? (
        <TooMany column={question.by[most] ?? ""} count={answer.levels[most]?.length ?? 0} />
      ) : (
        <>
          <div className="mt-2 grid grid-cols-[minmax(0,1fr)_minmax(0,0.95fr)] items-start gap-4 small:grid-cols-1">
            <Figure
              name="conditions"
              table={tableOf(question, answer)}
              caption={
                <>
                  <b>Figure 2.</b> {measure.says} by {inList(question.by)}{" "}
                  <em>
                    (n = {answer.sessions.toLocaleString("en")}; bars: {intervalsInWords(answer)}
                    {question.lines && "; lines: sessions"}
                    {answer.pointOfEach > 1 && `; points: one of ${answer.pointOfEach} sessions`})
                  </em>
                </>
              }
            >
              <div className="min-h-[310px]">
                {inBrowser && <ConditionCharts answer={answer} measure={measure} lines={question.lines} />}
              </div>
              <Legend levels={answer.levels[1] ?? []} />
              {answer.within.includes(question.by[0] ?? "") && (
                <div className="flex justify-center pt-1">
                  <Tick checked={question.lines} onChange={(on) => ask({ lines: on ? "yes" : [] })}>
                    a line for each session
                  </Tick>
                </div>
              )}
            </Figure>
            <ConditionTable question={question} answer={answer} />
          </div>
          {question.measure === "inverse" && answer.cells.some(({ beside }) => (beside?.mean ?? 1) < 0.9) && (
            <p role="note" className="mt-3 text-sm text-alarm">
              In some conditions more than 10 % of the answers are wrong: inverse efficiency is not to be relied on
              there (Bruyer & Brysbaert, 2011).
            </p>
          )}
          <Differences question={question} answer={answer} ask={ask} />
        </>
      )}
    </>
  );
};
