import { numbersOf } from "~/core/questions/points";

/*
 * A question's answers in few signs, so that a form can be read at a glance; how it really looks, the live view shows.
 */

const most = 6;

const Round = ({ square = false }: { square?: boolean }) => (
  <span
    aria-hidden="true"
    className={`inline-block size-2.5 shrink-0 border border-muted ${square ? "rounded-[2px]" : "rounded-full"}`}
  />
);

export const ChoicesSketch = ({ texts, square = false }: { texts: string[]; square?: boolean }) => (
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

type Offered = { options: { label: string }[]; other?: string | undefined };
/** The words of options, and of the field for another. */
export const offeredTexts = ({ options, other }: Offered): string[] => [
  ...options.map(({ label }) => label),
  ...(other === undefined ? [] : [`${other} ____`]),
];

type Points = { points: number; from: number; labels: string[]; numbers: boolean };
export const PointsSketch = ({ question, lines = [] }: { question: Points; lines?: string[] }) => (
  <>
    <div className="flex gap-3 pt-0.5 text-2xs text-muted">
      {numbersOf(question).map((number, index) => (
        <span key={number} className="flex min-w-0 flex-col items-center">
          <Round />
          <span className="truncate">{question.labels[index] || (question.numbers ? number : "")}</span>
        </span>
      ))}
    </div>
    {lines.length > 0 && <ChoicesSketch texts={lines} />}
  </>
);

export const FieldSketch = () => (
  <div aria-hidden="true" className="mt-1 h-5 w-1/2 rounded-sm border border-hairline" />
);
