import { Bar, BarChart, CartesianGrid, ResponsiveContainer, XAxis, YAxis } from "recharts";
import type { ScoresAnswer } from "~/server/results/scores";
import { axisLine, labelBelow, labelBeside, tick } from "../axis";
import { Figure } from "../figure/figure";

const short = (value: number) => String(Number(value.toPrecision(4))).replace("-", "−");

/** How a score is distributed over the sessions that are kept, and how reliable it is. */
export function ScoreHistogram({
  score,
  answer: { described, bins, reliability },
}: {
  score: string;
  answer: ScoresAnswer;
}) {
  if (!described) return <p className="text-muted">No session that is kept has this score.</p>;
  const { n, mean, sd, median, least, most } = described;
  const halves = reliability
    ? ` Reliability by halves (odd and even trials of each condition): r = ${reliability.r.toFixed(2)}, for the whole length ${Number.isFinite(reliability.whole) ? reliability.whole.toFixed(2) : "not to be told"} (Spearman–Brown), ${reliability.n} sessions.`
    : "";
  return (
    <Figure
      name={`score-${score}`}
      table={{ header: ["from", "to", "sessions"], rows: bins.map(({ from, to, count }) => [from, to, count]) }}
      caption={
        <>
          <b>{score}</b>, n = {n}: mean {short(mean)}
          {sd !== null && `, SD ${short(sd)}`}, median {short(median)}, from {short(least)} to {short(most)}.{halves}
        </>
      }
    >
      <ResponsiveContainer width="100%" height={190}>
        <BarChart
          data={bins.map(({ from, to, count }) => ({ at: `${short(from)} to ${short(to)}`, from: short(from), count }))}
          margin={{ left: 8, right: 16, top: 8, bottom: 20 }}
          barCategoryGap={1}
        >
          <CartesianGrid vertical={false} stroke="var(--hairline)" />
          <XAxis
            dataKey="from"
            tick={tick}
            axisLine={axisLine}
            tickLine={false}
            label={labelBelow(`${score}, lower end of each bar`)}
          />
          <YAxis
            allowDecimals={false}
            tick={tick}
            axisLine={axisLine}
            tickLine={false}
            label={labelBeside("sessions")}
          />
          <Bar dataKey="count" fill="var(--plumage)" isAnimationActive={false} />
        </BarChart>
      </ResponsiveContainer>
    </Figure>
  );
}
