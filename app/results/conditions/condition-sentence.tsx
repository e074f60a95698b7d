import { Sentence, SentenceChoice } from "~/app/components/sentence";
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
