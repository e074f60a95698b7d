import type { ConditionAnswer, ConditionQuestion } from "~/server/results/conditions";
import { Tick } from "~/app/components/fields";
import type { Change } from "../result-views";
import { ResultRow, ResultTable, inJournalStyle } from "../result-table";

/** The analysis of variance of the columns that are compared. */
export function EffectsTable({
  question: { by, measuredColumns },
  answer,
  ask,
}: {
  question: ConditionQuestion;
  answer: ConditionAnswer;
  ask: (change: Change) => void;
}) {
  const { factorial } = answer;
  if (!factorial)
    return (
      <p className="mt-3 rounded-md border border-hairline bg-sheet p-5 text-muted">
        There is no analysis of variance yet. It needs more sessions with all conditions than there are groups, and they
        must not be alike.
      </p>
    );
  const { effects, persons, lacking } = factorial;
  const told = by.filter((_, at) => effects.some(({ factors }) => factors.includes(at)));
  const isCorrected = effects.some(({ epsilon }) => epsilon !== null);
  const number = (says: React.ReactNode) => ({ says, isNumber: true });
  return (
    <div className="mt-4 max-w-[760px]">
      <ResultTable
        name="effects"
        title={
          <>
            <b>Table 2 c.</b> Analysis of variance
          </>
        }
        head={[
          ...[{ says: "effect" }, number(<i>F</i>), number("df"), number(<i>p</i>)],
          ...(isCorrected
            ? [
                number("ε"),
                number(
                  <>
                    <i>p</i> by ε
                  </>,
                ),
              ]
            : []),
          number(
            <>
              η²<sub>G</sub>
            </>,
          ),
        ]}
        note={
          <>
            Of {persons.toLocaleString("en")} sessions that have all conditions
            {lacking > 0 && ` (${lacking.toLocaleString("en")} lack some)`}; sums of squares of type III. η²<sub>G</sub>{" "}
            is generalised η²{isCorrected && "; ε is Greenhouse and Geisser’s"}. It takes columns as manipulated, unless
            they are measured:{" "}
            {told.map((name) => (
              <span key={name} className="mr-4 inline-block align-middle">
                <Tick
                  checked={measuredColumns.includes(name)}
                  name={`${name} was measured`}
                  onChange={(on) =>
                    ask({ measured: on ? [...measuredColumns, name] : measuredColumns.filter((each) => each !== name) })
                  }
                >
                  {name}
                </Tick>
              </span>
            ))}
          </>
        }
      >
        {effects.map(({ factors, f, df, dfError, p, epsilon, corrected, etaG }) => (
          <ResultRow
            key={factors.join()}
            numbersFrom={1}
            cells={[
              ...[factors.map((at) => by[at]).join(" × "), f.toFixed(2), `${df}, ${dfError}`, inJournalStyle(p)],
              ...(isCorrected ? [epsilon?.toFixed(2) ?? "", corrected === null ? "" : inJournalStyle(corrected)] : []),
              inJournalStyle(etaG),
            ]}
          />
        ))}
      </ResultTable>
    </div>
  );
}
