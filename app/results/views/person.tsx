import { Printer } from "lucide-react";
import { Link } from "react-router";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { useStudy } from "~/app/editing/use-study";
import { perCent } from "~/core/describe/per-cent";
import type { ResultView } from "../result-views";

const rounded = (value: number | null, digits: number) =>
  value === null ? "" : value.toFixed(digits).replace(/^-/, "−");
const raw = (value: number | null) => (value === null ? "" : String(Number(value.toPrecision(5))).replace(/^-/, "−"));
const head = "px-2 py-1 font-semibold";
const number = "px-2 py-1 text-right font-mono text-xs";

export const View: ResultView<"person"> = ({ question, answer }) => {
  const { code, document } = useStudy();
  const { about, scores, column, conditions, rightOnly } = answer;
  if (!about)
    return <p className="mt-4 text-muted">This session is not among the results: choose one under Persons.</p>;
  const norms = scores.flatMap((score) => score.norms);
  return (
    <article
      aria-label="One person"
      className="mx-auto max-w-[820px] rounded-md border border-hairline bg-sheet px-8 py-6"
    >
      <div className="flex items-start justify-between gap-4">
        <div>
          <h2 className="font-serif text-[24px] leading-8">
            {about.participant > 0 ? `Participant ${about.participant}` : "A session without a number"}
            {about.sitting > 1 && `, sitting ${about.sitting}`}
          </h2>
          <p className="text-sm text-muted">
            {document.title}
            {about.group !== "" && `, group ${about.group}`}, release {about.release}, begun{" "}
            <When iso={about.startedAt} form="moment" />
            {about.finishedAt === null && ", not finished"}.
          </p>
        </div>
        <span className="flex gap-2 print:hidden">
          <Link to={`/studies/${code}/sessions/${question.session}`} className="self-center text-sm underline">
            course and answers
          </Link>
          <Button icon={Printer} onClick={() => window.print()}>
            Print
          </Button>
        </span>
      </div>
      {scores.length > 0 && (
        <section aria-label="Scores of this person" className="mt-5">
          <h3 className="font-serif text-[17px]">Scores</h3>
          <table className="mt-1 w-full border-y border-ink text-left text-sm">
            <thead>
              <tr className="border-b border-ink text-xs text-muted">
                <th scope="col" className={head}>
                  score
                </th>
                {["raw", "percentile", "z", "T", "stanine", "95 % interval"].map((says) => (
                  <th key={says} scope="col" className={`${head} text-right`}>
                    {says}
                  </th>
                ))}
                <th scope="col" className={head}>
                  norm sample
                </th>
              </tr>
            </thead>
            <tbody>
              {scores.flatMap(({ name, raw: value, norms: samples }) =>
                (samples.length === 0 ? [null] : samples).map((sample, at) => (
                  <tr key={`${name} ${at}`}>
                    <td className="px-2 py-1 font-mono text-xs">{at === 0 && name}</td>
                    <td className={number}>{at === 0 && raw(value)}</td>
                    <td className={number}>{sample && rounded(sample.percentile, 0)}</td>
                    <td className={number}>{sample && rounded(sample.z, 2)}</td>
                    <td className={number}>{sample && rounded(sample.t, 0)}</td>
                    <td className={number}>{sample && rounded(sample.stanine, 0)}</td>
                    <td className={`${number} whitespace-nowrap`}>
                      {sample &&
                        sample.from !== null &&
                        sample.to !== null &&
                        `${raw(sample.from)} to ${raw(sample.to)}`}
                    </td>
                    <td className="px-2 py-1">{sample && `${sample.name}: ${sample.band}`}</td>
                  </tr>
                )),
              )}
            </tbody>
          </table>
          {norms.length > 0 && (
            <p className="mt-1 text-xs text-muted">
              T is 50 + 10 z. Samples:{" "}
              {[...new Map(norms.map((each) => [each.name, each])).values()]
                .map(({ name, source, year }) =>
                  [name, source, year].filter((part) => part !== null && part !== "").join(", "),
                )
                .join("; ")}
              .
            </p>
          )}
        </section>
      )}
      {conditions.length > 0 && (
        <section aria-label="Conditions of this person" className="mt-5">
          <h3 className="font-serif text-[17px]">By {column}</h3>
          <table className="mt-1 w-full border-y border-ink text-left text-sm">
            <thead>
              <tr className="border-b border-ink text-xs text-muted">
                <th scope="col" className={head}>
                  {column}
                </th>
                {["trials", "right", `mean ms${rightOnly ? ", right answers" : ""}`].map((says) => (
                  <th key={says} scope="col" className={`${head} text-right`}>
                    {says}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {conditions.map(({ level, trials, accuracy, time }) => (
                <tr key={level}>
                  <td className="px-2 py-1">{level || "(empty)"}</td>
                  <td className={number}>{trials}</td>
                  <td className={number}>{accuracy === null ? "" : perCent(accuracy)}</td>
                  <td className={number}>{rounded(time, 0)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-1 text-xs text-muted">What is left out of results is left out here.</p>
        </section>
      )}
    </article>
  );
};
