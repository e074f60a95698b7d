import { numbersOf } from "~/core/questions/points";
import { questionKind, type Question } from "~/core/questions/registry";

const most = 6;

const Round = ({ square = false }: { square?: boolean }) => (
  <span
    aria-hidden="true"
    className={`inline-block size-2.5 shrink-0 border border-muted ${square ? "rounded-[2px]" : "rounded-full"}`}
  />
);
const Lines = ({ texts, square = false }: { texts: string[]; square?: boolean }) => (
  <div className="flex flex-wrap gap-x-4 gap-y-0.5 pt-0.5 text-xs text-muted">
    {texts.slice(0, most).map((text, index) => (
      <span key={index} className="flex max-w-full items-center gap-1.5">
        <Round square={square} />
        <span className="truncate">{text}</span>
      </span>
    ))}
    {texts.length > most && <span>and {texts.length - most} more</span>}
  </div>
);

/** A question's answers in few signs, so that a form can be read at a glance; how it really looks, the live view shows. */
export function Sketch({ question }: { question: Question }) {
  if ("points" in question && "from" in question && "labels" in question) {
    const lines =
      "statements" in question
        ? question.statements.map(({ text }) => text)
        : "pairs" in question
          ? question.pairs.map(({ left, right }) => `${left} – ${right}`)
          : [];
    return (
      <>
        <div className="flex gap-3 pt-0.5 text-2xs text-muted">
          {numbersOf(question).map((number, index) => (
            <span key={number} className="flex min-w-0 flex-col items-center">
              <Round />
              <span className="truncate">{question.labels[index] || (question.numbers ? number : "")}</span>
            </span>
          ))}
        </div>
        {lines.length > 0 && <Lines texts={lines} />}
      </>
    );
  }
  if ("options" in question) {
    const other = "other" in question && question.other !== undefined ? [`${question.other} ____`] : [];
    return (
      <Lines texts={[...question.options.map(({ label }) => label), ...other]} square={question.kind !== "one-of"} />
    );
  }
  if (question.kind === "agree") return <Lines texts={[question.label]} square />;
  if (question.kind === "line")
    return (
      <div className="flex items-center gap-2 pt-1 text-2xs text-muted">
        {question.left}
        <span aria-hidden="true" className="h-px flex-1 bg-muted" />
        {question.right}
      </div>
    );
  const { levels } = questionKind(question.kind);
  if (levels) return <Lines texts={levels(question).map(({ label }) => label)} />;
  return <div aria-hidden="true" className="mt-1 h-5 w-1/2 rounded-sm border border-hairline" />;
}
