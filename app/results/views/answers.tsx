import { useState } from "react";
import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { conditionColor } from "~/app/ribbon/palette";
import type { Counted, LineSummary, QuestionSummary, ScoreSummary } from "~/server/results/answers";
import type { Described } from "~/core/stats/describe";
import type { ResultView } from "../result-views";

const two = (value: number | null | undefined) => (value == null ? "–" : value.toFixed(2).replace("-", "−"));
const sum = (counts: readonly number[]) => counts.reduce((all, count) => all + count, 0);

export const View: ResultView<"answers"> = ({ question: { byGroup, search }, answer, ask }) => {
  const { groups, questions, scores, sessions } = answer;
  if (questions.length === 0)
    return (
      <p className="text-muted">
        The study asks nothing on its pages. Add questions under Compose; their answers come here.
      </p>
    );
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap items-center gap-x-6">
        <Sentence>
          Show what {sessions} {sessions === 1 ? "participant" : "participants"} answered,{" "}
          <SentenceChoice
            label="Told apart"
            value={byGroup ? "group" : "none"}
            options={[
              ["none", "all together"],
              ["group", "each group by itself"],
            ]}
            onChange={(by) => ask({ by })}
          />
          .
        </Sentence>
        {byGroup && <Groups groups={groups} />}
      </div>
      {scores.length > 0 && <Scores scores={scores} groups={groups} />}
      {questions.map((each) => (
        <QuestionView
          key={each.id}
          question={each}
          groups={groups}
          search={search}
          onSearch={(text) => ask({ search: text })}
        />
      ))}
    </div>
  );
};

const Groups = ({ groups }: { groups: string[] }) => (
  <span className="flex gap-4 text-sm">
    {groups.map((group, index) => (
      <span key={group} className="flex items-center gap-1.5">
        <span aria-hidden="true" className="size-2.5 rounded-full" style={{ background: conditionColor(index) }} />
        {group}
      </span>
    ))}
  </span>
);

function Scores({ scores, groups }: { scores: ScoreSummary[]; groups: string[] }) {
  return (
    <section aria-label="Scores">
      <p className="caption mb-1">
        <b>Scores.</b>{" "}
        <em>Cronbach’s alpha over participants who have all items, with its 95 % interval (Feldt, 1965)</em>
      </p>
      <table className="w-full max-w-[900px] text-sm">
        <thead>
          <tr className="border-b border-hairline text-left text-muted">
            {["score", "group", "n", "mean", "SD", "least", "most", "alpha"].map((head) => (
              <th key={head} className="py-1 pr-4 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {scores.flatMap((score) =>
            score.numbers.map((numbers, index) => (
              <tr key={`${score.name} ${index}`} className="border-b border-hairline">
                <td className="py-1 pr-4 font-mono text-xs">{index === 0 ? score.name : ""}</td>
                <td className="pr-4">{groups[index]}</td>
                <Cells numbers={numbers} />
                <td className="pr-4 font-mono text-xs">
                  {index > 0 ? (
                    ""
                  ) : score.alpha ? (
                    `${two(score.alpha.alpha)} [${two(score.alpha.low)}, ${two(score.alpha.high)}]`
                  ) : (
                    <span title={score.withoutAlpha ?? ""}>none: {score.withoutAlpha}</span>
                  )}
                </td>
              </tr>
            )),
          )}
        </tbody>
      </table>
    </section>
  );
}

const Cells = ({ numbers }: { numbers: Described | null }) => (
  <>
    {[numbers?.n ?? 0, two(numbers?.mean), two(numbers?.sd), two(numbers?.least), two(numbers?.most)].map(
      (cell, index) => (
        <td key={index} className="pr-4 font-mono text-xs">
          {cell}
        </td>
      ),
    )}
  </>
);

type ViewProps = { question: QuestionSummary; groups: string[]; search: string; onSearch: (text: string) => void };

function QuestionView({ question, groups, search, onSearch }: ViewProps) {
  const { name, page, text, kind, states, shown } = question;
  const told = (
    [
      [states.answered, "answered"],
      [states.skipped, "skipped"],
      [states["rather-not"], "would rather not say"],
      [states["timed-out"], "ran out of time"],
      [states["not-shown"], "not shown"],
    ] as const
  ).filter(([count]) => count > 0);
  return (
    <section aria-label={name} className="border-t border-hairline pt-3" data-answers={name}>
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span className="font-mono text-xs text-sheen">{name}</span>
        <span className="font-semibold">{text}</span>
        <span className="text-sm text-muted">
          {kind}, on {page}
        </span>
        <span className="ml-auto text-sm text-muted">
          {told.map(([count, says]) => `${count} ${says}`).join(" · ") || "nobody was asked yet"}
        </span>
      </p>
      <div className="mt-1.5 max-w-[900px]">
        {shown.as === "counts" && <Bars counts={shown.counts} groups={groups} numbers={shown.numbers} />}
        {shown.as === "numbers" && (
          <>
            <Histogram bins={shown.bins} groups={groups} />
            <Numbers numbers={shown.numbers} groups={groups} />
          </>
        )}
        {shown.as === "lines" && <Lines lines={shown.lines} groups={groups} />}
        {shown.as === "texts" && <Texts texts={shown.texts} all={shown.all} search={search} onSearch={onSearch} />}
      </div>
    </section>
  );
}

const barColor = (groups: string[], index: number) => (groups.length > 1 ? conditionColor(index) : "var(--plumage)");

function Bars({
  counts,
  groups,
  numbers,
}: {
  counts: Counted[];
  groups: string[];
  numbers: (Described | null)[] | null;
}) {
  const totals = groups.map((_, index) => Math.max(1, sum(counts.map((each) => each.counts[index] ?? 0))));
  const most = Math.max(1, ...counts.flatMap((each) => each.counts));
  return (
    <>
      <ul className="grid gap-1">
        {counts.map((each) => (
          <li key={each.value} className="grid grid-cols-[minmax(90px,220px)_1fr] items-center gap-3 text-sm">
            <span className="truncate text-right" title={each.label}>
              {each.label === each.value ? each.label : `${each.label} (${each.value})`}
            </span>
            <span className="grid gap-px">
              {each.counts.map((count, index) => (
                <span key={groups[index]} className="flex items-center gap-2">
                  <span
                    className="h-3 rounded-[2px]"
                    style={{
                      width: `${(70 * count) / most}%`,
                      minWidth: count > 0 ? 2 : 0,
                      background: barColor(groups, index),
                    }}
                  />
                  <span className="font-mono text-xs text-muted">
                    {count} · {Math.round((100 * count) / (totals[index] ?? 1))} %
                  </span>
                </span>
              ))}
            </span>
          </li>
        ))}
      </ul>
      {numbers && <Numbers numbers={numbers} groups={groups} />}
    </>
  );
}

const Numbers = ({ numbers, groups }: { numbers: (Described | null)[]; groups: string[] }) => (
  <p className="mt-1 flex flex-wrap gap-x-6 text-sm text-muted">
    {numbers.map((each, index) => (
      <span key={groups[index]}>
        {groups.length > 1 && `${groups[index]}: `}
        {each
          ? `n ${each.n}, mean ${two(each.mean)}, SD ${two(each.sd)}, median ${two(each.median)}`
          : "no numbers yet"}
      </span>
    ))}
  </p>
);

function Histogram({ bins, groups }: { bins: { from: number; to: number; counts: number[] }[]; groups: string[] }) {
  const most = Math.max(1, ...bins.flatMap(({ counts }) => counts));
  return (
    <div
      role="img"
      aria-label={bins.map(({ from, to, counts }) => `${from} to ${to}: ${counts.join(", ")}`).join("; ")}
      className="flex h-28 items-end gap-px border-b border-muted"
    >
      {bins.map(({ from, to, counts }) => (
        <span
          key={from}
          className="flex h-full flex-1 flex-col justify-end"
          title={`${from} to ${to}: ${counts.join(", ")}`}
        >
          <span className="flex h-20 items-end gap-px">
            {counts.map((count, index) => (
              <span
                key={groups[index]}
                className="flex-1 rounded-t-[2px]"
                style={{ height: `${(100 * count) / most}%`, background: barColor(groups, index) }}
              />
            ))}
          </span>
          <span className="truncate text-center font-mono text-2xs text-muted">{from}</span>
        </span>
      ))}
    </div>
  );
}

/** Statements as shares of their points, one bar a line; what gets points or a place as its mean. */
function Lines({ lines, groups }: { lines: LineSummary[]; groups: string[] }) {
  return (
    <ul className="grid gap-1.5">
      {lines.map((line) => (
        <li key={line.label} className="grid grid-cols-[minmax(120px,260px)_1fr_150px] items-center gap-3 text-sm">
          <span className="truncate" title={line.label}>
            {line.label}
          </span>
          <span className="grid gap-0.5">
            {groups.map((group, index) => {
              const all = Math.max(1, sum(line.counts.map(({ counts }) => counts[index] ?? 0)));
              return (
                <span key={group} className="flex h-4 overflow-hidden rounded-[2px] bg-track">
                  {line.counts.map(({ value, label, counts }, at) => (
                    <span
                      key={value}
                      title={`${label}: ${counts[index]}`}
                      className="flex items-center justify-center text-2xs text-white"
                      style={{
                        width: `${(100 * (counts[index] ?? 0)) / all}%`,
                        background: barColor(groups, index),
                        opacity: 0.35 + (0.65 * at) / Math.max(1, line.counts.length - 1),
                      }}
                    >
                      {(counts[index] ?? 0) / all > 0.07 ? value : ""}
                    </span>
                  ))}
                </span>
              );
            })}
          </span>
          <span className="font-mono text-xs text-muted">
            {line.numbers.map((numbers) => (numbers ? `${two(numbers.mean)} (${two(numbers.sd)})` : "–")).join("  ")}
          </span>
        </li>
      ))}
    </ul>
  );
}

function Texts({
  texts,
  all,
  search,
  onSearch,
}: {
  texts: { participant: number; text: string }[];
  all: number;
  search: string;
  onSearch: (text: string) => void;
}) {
  const [typed, setTyped] = useState(search);
  return (
    <>
      <form
        className="mb-1 flex max-w-xs gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          onSearch(typed);
        }}
      >
        <input
          aria-label="Search the texts"
          placeholder="Search the texts"
          className="field"
          value={typed}
          onChange={({ target }) => setTyped(target.value)}
          onBlur={() => typed !== search && onSearch(typed)}
        />
      </form>
      <ul className="max-h-48 overflow-auto border-l-2 border-hairline pl-3 text-sm" tabIndex={0}>
        {texts.map(({ participant, text }, index) => (
          <li key={index} className="py-0.5">
            <span className="mr-2 font-mono text-xs text-muted">{participant || "–"}</span>
            <span className="whitespace-pre-wrap">{text}</span>
          </li>
        ))}
        {texts.length === 0 && <li className="text-muted">{search ? "No text has that." : "No texts yet."}</li>}
      </ul>
      {all > texts.length && (
        <p className="text-xs text-muted">
          {texts.length} of {all}; the search finds the others.
        </p>
      )}
    </>
  );
}
