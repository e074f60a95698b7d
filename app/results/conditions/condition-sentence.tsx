import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { centres, trimmedShare } from "~/core/stats/centre";
import type { ConditionAnswer, ConditionQuestion } from "~/server/results/conditions";
import { measuresOf, shownMeasure } from "../measures";
import type { Change } from "../result-views";
import { SignalSentence } from "../signal-sentence";

const names = ["First column", "Second column", "Third column"];
const params = ["by", "and", "then"] as const;

/** What is compared, by what; and what is subtracted from what. */
export function ConditionSentence({
  question,
  answer,
  ask,
}: {
  question: ConditionQuestion;
  answer: ConditionAnswer;
  ask: (change: Change) => void;
}) {
  const { by, columns } = question;
  /** The column at a place becomes another; those after it move up where it goes. */
  const setAt = (at: number, name: string) => {
    const others = by.filter((each, index) => index !== at && each !== name);
    const next = name === "" ? others : [...others.slice(0, at), name, ...others.slice(at)];
    ask(Object.fromEntries(params.map((param, index) => [param, next[index] ?? ""])));
  };
  return (
    <Sentence>
      Show{" "}
      <SentenceChoice
        label="Measure"
        value={shownMeasure(question, answer.rightOnly).value}
        options={measuresOf(question, answer.rightOnly)}
        onChange={(of) => ask({ of })}
      />
      <SignalSentence measured={question} ask={ask} />
      {[...by, ""].slice(0, names.length).map((name, at) => (
        <span key={at}>
          {at === 0 ? " by " : " and "}
          <SentenceChoice
            label={names[at] ?? ""}
            value={name}
            options={[
              ...(at === 0 ? [] : [["", "nothing else"] as const]),
              ...columns
                .filter((each) => at === 0 || each === name || !by.includes(each))
                .map((each) => [each, each] as const),
            ]}
            onChange={(wanted) => setAt(at, wanted)}
          />
        </span>
      ))}
      .
    </Sentence>
  );
}

/** How the numbers of the measure came about. */
export const howMeasured = ({ measure, column, signal }: ConditionQuestion, { rightOnly, beside }: ConditionAnswer) => {
  const late = " A missing or late answer counts as not right.";
  const right = rightOnly ? " Times are of right answers only." : "";
  switch (measure) {
    case "accuracy":
      return `Each session counts once: means of the sessions’ shares.${late}${right}`;
    case "inverse":
      return `Each session counts once: its mean time divided by its share of right answers.${late}${right}`;
    case "balanced":
      return `Each session counts once: its standardized share of right answers less its standardized mean time, by mean and standard deviation over all sessions and conditions shown.${late}${right}`;
    case "sensitivity":
    case "criterion":
      return `Each session counts once: ${measure === "sensitivity" ? "z(hits) − z(false alarms)" : "−(z(hits) + z(false alarms)) / 2"}, with half a trial added to hits and to false alarms, and one to the trials of each. There was something to detect where ${signal?.column} is ${signal?.level}; no answer counts as not having noticed it.`;
    case "trials":
      return "Each session counts once, with the trials that are kept.";
    case "column":
      return `Each session counts once, with the mean of ${column} in its trials; what it has once, it has in all of its conditions.`;
    default:
      return `Each session counts once: means of the sessions’ ${centres[measure]}s${
        measure === "trimmed"
          ? ` (of each session’s times the fastest and the slowest ${trimmedShare * 100} % are left out)`
          : ""
      }.${beside === "accuracy" ? late : ""}${right}`;
  }
};
