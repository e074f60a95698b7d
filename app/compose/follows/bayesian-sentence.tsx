import { Sentence, SentenceChoice, SentenceNumber } from "~/app/components/sentence";
import { adaptiveKind } from "~/core/adaptive/registry";
import type { Bayesian } from "~/core/adaptive/bayesian/spec";
import { shareAtThreshold } from "~/core/describe/following";
import { perCent } from "~/core/describe/per-cent";
import { EndTrials, type SentencePart } from "./end-trials";

/** Where values are placed in Bayesian estimation and when it ends. */
export function BayesianSentence({ by, change, unit }: SentencePart<Bayesian>) {
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
      <EndTrials by={by} change={change} />. The threshold is the value with {perCent(shareAtThreshold(by))} right.
    </Sentence>
  );
}
