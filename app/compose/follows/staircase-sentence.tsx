import { Sentence, SentenceChoice, SentenceNumber, SentenceText } from "~/app/components/sentence";
import type { Staircase } from "~/core/adaptive/staircase/spec";
import { shareAtThreshold } from "~/core/describe/following";
import { perCent } from "~/core/describe/per-cent";
import { EndTrials, type SentencePart } from "./end-trials";

const inARow = [
  "each right answer makes",
  "2 right answers in a row make",
  "3 right answers in a row make",
  "4 right answers in a row make",
];

/** How a staircase moves and when it ends. */
export function StaircaseSentence({ by, change, unit }: SentencePart<Staircase>) {
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
          ["weighted", "each answer moves it:"] as const,
        ]}
        onChange={(next) =>
          next === "weighted" ? change({ moves: "weighted" }) : change({ moves: "up-down", down: Number(next) })
        }
      />{" "}
      {by.moves === "weighted" ? (
        <>
          right answers make it harder and wrong ones easier, so that{" "}
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
      <EndTrials by={by} change={change} />.
    </Sentence>
  );
}

function stepsIn(text: string): number[] | null {
  const steps = text.split(/[,;]/).map((each) => Number(each.trim()));
  return steps.length <= 12 && steps.every((step) => Number.isFinite(step) && step > 0) ? steps : null;
}
