import { useMemo } from "react";
import { Sentence, SentenceChoice, SentenceNumber, SentenceText } from "~/app/components/sentence";
import { useStudy } from "~/app/editing/use-study";
import { TraceChart, TraceLegend } from "~/app/results/trace-chart";
import { changedAdaptive } from "~/core/adaptive/new";
import { adaptiveKind } from "~/core/adaptive/registry";
import type { Adaptive } from "~/core/adaptive/specs";
import type { Bayesian } from "~/core/adaptive/bayesian/spec";
import type { Staircase } from "~/core/adaptive/staircase/spec";
import { shareAtThreshold } from "~/core/describe/following";
import type { Block } from "~/core/design/block";
import { setFollows } from "~/core/design/edits/table";
import { observedBy } from "~/core/simulate/observer";
import type { Column, Follows } from "~/core/values/table";

const perCent = (share: number) => `${Math.round(share * 1000) / 10} %`;
const mostInExample = 80;

/** How a column follows the answers, as sentences whose underlined words are choices, with what one simulated observer would be shown. */
export function FollowsSentence({ block, column, follows }: { block: Block; column: Column; follows: Follows }) {
  const { document, edit } = useStudy();
  const { by, each, keeps } = follows;
  const set = (next: Follows) => edit(setFollows(block.id, column.id, next), `follows ${column.id}`);
  const setBy = (next: Adaptive) => set({ ...follows, by: next });
  const change = (fields: Partial<Staircase> | Partial<Bayesian>) => setBy(without({ ...by, ...fields }));
  const factors = block.table.columns.filter(
    (one) => one.id !== column.id && !one.follows && !one.cases && !one.letters,
  );
  const numbers = document.variables.filter(({ type }) => type === "number");
  const unit = by.scale === "logarithmic" ? "log10 units" : "units";
  return (
    <div className="grid gap-2">
      <Example by={by} />
      <Sentence>
        Its value follows the answers{" "}
        <SentenceChoice
          label="Method"
          value={by.method}
          options={[
            ["staircase", "by a staircase"],
            ["bayesian", "by Bayesian estimation"],
          ]}
          onChange={(method) => setBy(changedAdaptive(by, { method }))}
        />
        , between{" "}
        <SentenceNumber
          label="Least value"
          value={by.least}
          most={by.most}
          onChange={(least) => setBy(changedAdaptive(by, { range: { least } }))}
        />{" "}
        and{" "}
        <SentenceNumber
          label="Greatest value"
          value={by.most}
          least={by.least}
          onChange={(most) => setBy(changedAdaptive(by, { range: { most } }))}
        />
        , where{" "}
        <SentenceChoice
          label="Which values are harder"
          value={by.harder}
          options={[
            ["lower", "lower"],
            ["higher", "higher"],
          ]}
          onChange={(harder) => change({ harder })}
        />{" "}
        values are harder, in steps that are{" "}
        <SentenceChoice
          label="Scale"
          value={by.scale}
          options={[
            ["linear", "differences"],
            ["logarithmic", "ratios"],
          ]}
          onChange={(scale) => setBy(changedAdaptive(by, { scale }))}
        />
        .
      </Sentence>
      {by.method === "staircase" ? (
        <StaircaseSentence by={by} change={change} unit={unit} />
      ) : (
        <BayesianSentence by={by} change={change} unit={unit} />
      )}
      <Sentence>
        It is followed{" "}
        <SentenceChoice
          label="Levels"
          value={each ?? ""}
          options={[
            ["", "over all trials together"],
            ...factors.map(({ id, name }) => [id, `for each ${name} by itself`] as const),
          ]}
          onChange={(level) => set(level ? { ...follows, each: level } : { by, ...(keeps ? { keeps } : {}) })}
        />
        , and its threshold{" "}
        <SentenceChoice
          label="Where the threshold is kept"
          value={keeps ?? ""}
          options={[
            ["", "stands in the data"],
            ...numbers.map(({ id, name }) => [id, `is kept in ${name}, too`] as const),
          ]}
          onChange={(variable) => set(variable ? { ...follows, keeps: variable } : { by, ...(each ? { each } : {}) })}
        />
        .
      </Sentence>
      <Sentence>
        A{" "}
        <SentenceChoice
          label="Function"
          value={by.curve}
          options={[
            ["logistic", "logistic function"],
            ["weibull", "Weibull function"],
          ]}
          onChange={(curve) =>
            setBy({ ...(curve === "weibull" ? changedAdaptive(by, { scale: "logarithmic" }) : by), curve })
          }
        />{" "}
        is fitted, with{" "}
        <SentenceNumber
          label="Right by guessing, per cent"
          value={by.guess * 100}
          least={0}
          most={95}
          unit=" %"
          onChange={(guess) => change({ guess: guess / 100 })}
        />{" "}
        right by guessing,{" "}
        <SentenceNumber
          label="Lapses, per cent"
          value={by.lapse * 100}
          least={0}
          most={40}
          unit=" %"
          onChange={(lapse) => change({ lapse: lapse / 100 })}
        />{" "}
        lapses, and a spread from{" "}
        <SentenceNumber
          label="Least spread"
          value={by.spreadFrom}
          above={0}
          most={by.spreadTo}
          onChange={(spreadFrom) => change({ spreadFrom })}
        />{" "}
        to{" "}
        <SentenceNumber
          label="Greatest spread"
          value={by.spreadTo}
          least={by.spreadFrom}
          onChange={(spreadTo) => change({ spreadTo })}
        />{" "}
        {unit}.
      </Sentence>
    </div>
  );
}

/** The same without what is undefined. */
function without<T extends object>(value: T): Adaptive {
  return Object.fromEntries(Object.entries(value).filter(([, each]) => each !== undefined)) as unknown as Adaptive;
}

type Part<T> = { by: T; change: (fields: Partial<T>) => void; unit: string };

const inARow = [
  "each right answer makes",
  "2 right answers in a row make",
  "3 right answers in a row make",
  "4 right answers in a row make",
];

function StaircaseSentence({ by, change, unit }: Part<Staircase>) {
  const ends =
    by.endReversals !== undefined
      ? by.endTrials !== undefined
        ? "either"
        : "reversals"
      : by.endTrials !== undefined
        ? "trials"
        : "block";
  return (
    <Sentence>
      From{" "}
      <SentenceNumber
        label="First value"
        value={by.start}
        least={by.least}
        most={by.most}
        onChange={(start) => change({ start })}
      />{" "}
      on,{" "}
      <SentenceChoice
        label="What makes it harder"
        value={by.moves === "weighted" ? "weighted" : String(by.down)}
        options={[
          ...inARow.map((words, index) => [String(index + 1), words] as const),
          ["weighted", "each answer moves it, so that it comes to rest at a share;"] as const,
        ]}
        onChange={(next) =>
          next === "weighted" ? change({ moves: "weighted" }) : change({ moves: "up-down", down: Number(next) })
        }
      />{" "}
      {by.moves === "weighted" ? (
        <>
          right answers make it harder and wrong ones easier, until{" "}
          <SentenceNumber
            label="Share right, per cent"
            value={by.target * 100}
            least={5}
            most={95}
            unit=" %"
            onChange={(target) => change({ target: target / 100 })}
          />{" "}
          are right.
        </>
      ) : (
        <>it harder, a wrong one easier, which leads to {perCent(shareAtThreshold(by))} right.</>
      )}{" "}
      Its steps are{" "}
      <SentenceText
        label="Steps"
        value={by.steps.join(", ")}
        problem={(text) => (stepsIn(text) ? null : "Numbers greater than 0, with commas between, at most 12.")}
        onChange={(text) => change({ steps: stepsIn(text) ?? by.steps })}
      />{" "}
      {unit}: the first until the first reversal, the last from then on.
      {by.moves === "up-down" && (
        <>
          {" "}
          Steps to the easier side are{" "}
          <SentenceNumber
            label="Ratio of easier steps"
            value={by.easierBy ?? 1}
            above={0}
            most={20}
            onChange={(ratio) => change({ easierBy: ratio === 1 ? undefined : ratio })}
          />{" "}
          times as large.
        </>
      )}{" "}
      It ends{" "}
      <SentenceChoice
        label="When it ends"
        value={ends}
        options={[
          ["reversals", "after so many reversals:"],
          ["trials", "after so many trials:"],
          ["either", "after so many reversals, or trials:"],
          ["block", "with the block"],
        ]}
        onChange={(next) =>
          change({
            endReversals: next === "reversals" || next === "either" ? (by.endReversals ?? 10) : undefined,
            endTrials: next === "trials" || next === "either" ? (by.endTrials ?? 60) : undefined,
          })
        }
      />
      {by.endReversals !== undefined && (
        <>
          {" "}
          <SentenceNumber
            label="Reversals"
            value={by.endReversals}
            least={1}
            most={200}
            whole
            onChange={(endReversals) => change({ endReversals })}
          />
        </>
      )}
      {ends === "either" && ","}
      {by.endTrials !== undefined && (
        <>
          {" "}
          <SentenceNumber
            label="Trials"
            value={by.endTrials}
            least={1}
            most={10_000}
            whole
            onChange={(endTrials) => change({ endTrials })}
          />
        </>
      )}
      .
    </Sentence>
  );
}

function stepsIn(text: string): number[] | null {
  const steps = text.split(/[,;]/).map((each) => Number(each.trim()));
  return steps.length <= 12 && steps.every((step) => Number.isFinite(step) && step > 0) ? steps : null;
}

function BayesianSentence({ by, change, unit }: Part<Bayesian>) {
  const ends =
    by.endError !== undefined
      ? by.endTrials !== undefined
        ? "either"
        : "error"
      : by.endTrials !== undefined
        ? "trials"
        : "block";
  const { expected } = by;
  return (
    <Sentence>
      Each value is{" "}
      <SentenceChoice
        label="Where the next value is"
        value={by.next}
        options={[
          ["entropy", "where it tells most"],
          ["mean", "at the posterior’s mean"],
          ["mode", "at the posterior’s mode"],
        ]}
        onChange={(next) => change({ next })}
      />
      . At first the threshold is{" "}
      <SentenceChoice
        label="What is expected"
        value={expected ? "known" : "open"}
        options={[
          ["open", "expected anywhere between"],
          ["known", "expected near a value"],
        ]}
        onChange={(what) =>
          change({
            expected: what === "open" ? undefined : { value: adaptiveKind(by).next(by, []), sd: by.spreadTo },
          })
        }
      />
      {expected && (
        <>
          {": "}
          <SentenceNumber
            label="Expected threshold"
            value={expected.value}
            least={by.least}
            most={by.most}
            onChange={(value) => change({ expected: { ...expected, value } })}
          />
          , give or take{" "}
          <SentenceNumber
            label="Its deviation"
            value={expected.sd}
            above={0}
            onChange={(sd) => change({ expected: { ...expected, sd } })}
          />{" "}
          {unit}
        </>
      )}
      . It ends{" "}
      <SentenceChoice
        label="When it ends"
        value={ends}
        options={[
          ["trials", "after so many trials:"],
          ["error", "when its error is at most"],
          ["either", "when its error is at most, or after so many trials:"],
          ["block", "with the block"],
        ]}
        onChange={(next) =>
          change({
            endError: next === "error" || next === "either" ? (by.endError ?? by.spreadFrom) : undefined,
            endTrials: next === "trials" || next === "either" ? (by.endTrials ?? 40) : undefined,
          })
        }
      />
      {by.endError !== undefined && (
        <>
          {" "}
          <SentenceNumber
            label="Error"
            value={by.endError}
            above={0}
            onChange={(endError) => change({ endError })}
          />{" "}
          {unit}
        </>
      )}
      {ends === "either" && ","}
      {by.endTrials !== undefined && (
        <>
          {" "}
          <SentenceNumber
            label="Trials"
            value={by.endTrials}
            least={1}
            most={10_000}
            whole
            onChange={(endTrials) => change({ endTrials })}
          />
        </>
      )}
      . The threshold is the value with {perCent(shareAtThreshold(by))} right.
    </Sentence>
  );
}

/** What one simulated observer would be shown, whose threshold lies in the middle. */
function Example({ by }: { by: Adaptive }) {
  const shown = useMemo(() => {
    const kind = adaptiveKind(by);
    const answered = observedBy(by, 0.4, "example", mostInExample);
    return { answered, threshold: kind.threshold(by, answered), isDone: kind.isDone(by, answered) };
  }, [by]);
  const { answered, threshold, isDone } = shown;
  return (
    <figure>
      <figcaption className="mb-1 text-xs text-muted">
        As for one simulated observer:{" "}
        {isDone ? `done after ${answered.length} trials` : `the first ${answered.length} trials`}
        {threshold &&
          `, threshold ${short(threshold.value)} (95 %: ${short(threshold.from)} to ${short(threshold.to)})`}
      </figcaption>
      <TraceChart
        trials={answered.map((each, index) => ({ ...each, trial: index + 1, counts: true }))}
        threshold={threshold}
        scale={by.scale}
        height={120}
      />
      <TraceLegend />
    </figure>
  );
}
const short = (value: number) => Number(value.toPrecision(3));
