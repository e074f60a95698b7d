import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { useInBrowser } from "~/app/components/use-in-browser";
import type { Difference, EffectSize } from "~/core/stats/differences";
import type { ConditionAnswer, ConditionQuestion } from "~/server/results/conditions";
import { Figure } from "../figure/figure";
import { shownMeasure } from "../measures";
import type { Change } from "../result-views";
import { DifferenceChart } from "./difference-chart";
import { EffectsTable } from "./effects-table";
import { ResultRow, ResultTable, inJournalStyle } from "../result-table";

type Props = { question: ConditionQuestion; answer: ConditionAnswer; ask: (change: Change) => void };

const sizes: Record<EffectSize["name"], string> = { d_z: "z", d_av: "av", d_s: "s" };
const bySize: Record<EffectSize["name"], string> = {
  d_z: "by the standard deviation of the differences",
  d_av: "by the mean of both standard deviations",
  d_s: "by the pooled standard deviation",
};
const SizeName = ({ name }: Pick<EffectSize, "name">) => (
  <>
    <i>d</i>
    <sub>{sizes[name]}</sub>
  </>
);
const placeOf = ({ at }: Difference, others: readonly string[]) => {
  if (others.length === 0) return "all";
  return at.includes(null) ? "over all" : at.map((level) => level || "(empty)").join(", ");
};

/** What a condition has more than another, and the tests of all factors, as far as they are asked for. */
export function Differences({ question, answer, ask }: Props) {
  const { by, contrast, tests } = question;
  const column = contrast?.column ?? by.find((_, at) => (answer.levels[at]?.length ?? 0) > 1) ?? by[0] ?? "";
  const levels = answer.levels[by.indexOf(column)] ?? [];
  const named = levels.map((level) => [level, level || "(empty)"] as const);
  if (levels.length < 2) return null;
  const rest = (level: string) => levels.find((each) => each !== level) ?? "";
  return (
    <section aria-label="Differences" className="mt-5">
      <Sentence>
        {contrast ? "Subtract " : "Differences: subtract "}
        <SentenceChoice
          label="Level that is subtracted"
          value={contrast?.less ?? ""}
          options={[...(contrast ? [["", "nothing"] as const] : [["", "nothing yet"] as const]), ...named]}
          onChange={(less) =>
            ask(
              less === ""
                ? { less: [], from: [], across: [], tests: [] }
                : { across: column, less, from: contrast && contrast.from !== less ? contrast.from : rest(less) },
            )
          }
        />
        {contrast && (
          <>
            {" from "}
            <SentenceChoice
              label="Level from which it is subtracted"
              value={contrast.from}
              options={named}
              onChange={(from) => ask({ from, less: contrast.less === from ? rest(from) : contrast.less })}
            />
            {" of "}
            <SentenceChoice
              label="Column of the difference"
              value={column}
              options={by.filter((_, at) => (answer.levels[at]?.length ?? 0) > 1).map((each) => [each, each] as const)}
              onChange={(across) => {
                const [less = "", from = ""] = answer.levels[by.indexOf(across)] ?? [];
                ask({ across, less, from });
              }}
            />
            {", "}
            <SentenceChoice
              label="Tests"
              value={tests ? "yes" : ""}
              options={[
                ["", "without tests"],
                ["yes", "with t, p and the analysis of variance"],
              ]}
              onChange={(wanted) => ask({ tests: wanted === "" ? [] : wanted })}
            />
            .
          </>
        )}
      </Sentence>
      {contrast && <ContrastFigure question={question} answer={answer} contrast={contrast} />}
      {contrast && tests && <EffectsTable question={question} answer={answer} ask={ask} />}
    </section>
  );
}

function ContrastFigure({
  question,
  answer,
  contrast,
}: Omit<Props, "ask"> & { contrast: NonNullable<ConditionQuestion["contrast"]> }) {
  const inBrowser = useInBrowser();
  const { by, tests } = question;
  const { differences } = answer;
  const measure = shownMeasure(question, answer.rightOnly);
  const others = by.filter((name) => name !== contrast.column);
  const says = `${contrast.from || "(empty)"} − ${contrast.less || "(empty)"}`;
  const isCorrected = differences.filter(({ at }) => !at.includes(null)).length > 1;
  const written = (value: number) => measure.written(value, 1);
  if (differences.length === 0)
    return (
      <p className="mt-3 rounded-md border border-hairline bg-sheet p-5 text-muted">
        The difference {says} cannot be told: it needs at least two sessions with both, and they must not be alike.
      </p>
    );
  const effects = differences[0]?.effects.map(({ name }) => name) ?? [];
  const isPaired = differences[0]?.persons.length === 1;
  const unit = measure.isShare ? "points of %" : measure.unit;
  const persons = ({ persons: of }: Difference) => of.join(" and ");
  return (
    <div className="mt-2 grid grid-cols-[minmax(0,0.8fr)_minmax(0,1.2fr)] items-start gap-4 small:grid-cols-1">
      <Figure
        name="differences"
        table={{
          header: [
            ...[...others, "difference", `${measure.axis}: ${says}`, "low end of the 95 % interval", "high end"],
            ...["t", "df", "p", "p after Holm", ...effects, "sessions"],
          ],
          rows: differences.map((each) => [
            ...each.at.map((level) => level ?? "over all"),
            ...[says, each.difference, each.low, each.high, each.t, each.df, each.p, each.holm],
            ...effects.map((name) => each.effects.find((size) => size.name === name)?.value ?? null),
            persons(each),
          ]),
        }}
        caption={
          <>
            <b>Figure 2 b.</b> Difference of {measure.says.charAt(0).toLowerCase() + measure.says.slice(1)}: {says}{" "}
            <em>(bars: 95 % intervals of the difference)</em>
          </>
        }
      >
        {inBrowser && (
          <DifferenceChart
            says={`${says}${measure.unit === "" ? "" : `, ${unit}`}`}
            drawn={differences.map((each) => ({
              place: placeOf(each, others),
              x: measure.drawn(each.difference),
              half: measure.drawn((each.high - each.low) / 2),
            }))}
          />
        )}
      </Figure>
      <ResultTable
        name="differences"
        title={
          <>
            <b>Table 2 b.</b> {says}
            {measure.unit !== "" && `, ${unit}`}
          </>
        }
        head={[
          ...(others.length > 0 ? [{ says: others.join(", ") }] : []),
          { says: "difference", isNumber: true },
          { says: "95 % interval", isNumber: true },
          ...(tests
            ? [
                { says: "t", isNumber: true },
                { says: "df", isNumber: true },
                { says: "p", isNumber: true },
              ]
            : []),
          ...(tests && isCorrected ? [{ says: "p, Holm", isNumber: true }] : []),
          ...effects.map((name) => ({
            says: <SizeName name={name} />,
            isNumber: true,
          })),
          { says: "n", isNumber: true },
        ]}
        note={
          <>
            {effects.map((name, at) => (
              <span key={name}>
                {at > 0 && ", "}
                <SizeName name={name} /> is the difference {bySize[name]}
              </span>
            ))}
            {tests && (isPaired ? ". t is that of pairs" : ". t and its degrees of freedom are Welch’s")}.
          </>
        }
      >
        {differences.map((each) => (
          <ResultRow
            key={each.at.join()}
            cells={[
              ...(others.length > 0 ? [placeOf(each, others)] : []),
              written(each.difference),
              `${written(each.low)} to ${written(each.high)}`,
              ...(tests
                ? [
                    each.t.toFixed(2),
                    Number.isInteger(each.df) ? String(each.df) : each.df.toFixed(1),
                    inJournalStyle(each.p),
                  ]
                : []),
              ...(tests && isCorrected ? [each.at.includes(null) ? "" : inJournalStyle(each.holm)] : []),
              ...effects.map((name) => (each.effects.find((size) => size.name === name)?.value ?? NaN).toFixed(2)),
              persons(each),
            ]}
            numbersFrom={others.length > 0 ? 1 : 0}
          />
        ))}
      </ResultTable>
    </div>
  );
}
