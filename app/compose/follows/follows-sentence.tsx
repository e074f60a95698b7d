import { withoutUndefined } from "~/core/shape/without-undefined";
import { Sentence, SentenceChoice, SentenceNumber } from "~/app/components/sentence";
import { useStudy } from "~/app/editing/use-study";
import { changedAdaptive } from "~/core/adaptive/new";
import type { Adaptive } from "~/core/adaptive/specs";
import type { Bayesian } from "~/core/adaptive/bayesian/spec";
import type { Staircase } from "~/core/adaptive/staircase/spec";
import type { Block } from "~/core/design/block";
import { setFollows } from "~/core/design/edits/table";
import type { Column, Follows } from "~/core/values/table";
import { BayesianSentence } from "./bayesian-sentence";
import { Example } from "./example";
import { StaircaseSentence } from "./staircase-sentence";

/** How a column follows the answers, as sentences whose underlined words are choices, with what one simulated observer would be shown. */
export function FollowsSentence({ block, column, follows }: { block: Block; column: Column; follows: Follows }) {
  const { document, edit } = useStudy();
  const { by, each, keeps } = follows;
  const set = (next: Follows) => edit(setFollows(block.id, column.id, next), `follows ${column.id}`);
  const setBy = (next: Adaptive) => set({ ...follows, by: next });
  const change = (fields: Partial<Staircase> | Partial<Bayesian>) =>
    setBy(withoutUndefined({ ...by, ...fields }) as Adaptive);
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
        It follows the answers of{" "}
        <SentenceChoice
          label="Levels"
          value={each ?? ""}
          options={[
            ["", "all trials together"],
            ...factors.map(({ id, name }) => [id, `each ${name} by itself`] as const),
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
