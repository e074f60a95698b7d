import { perCent } from "./per-cent";
import { adaptiveKind } from "../adaptive/registry";
import type { Adaptive } from "../adaptive/specs";
import { shareAtLocation } from "../adaptive/curve";
import { targetOf } from "../adaptive/staircase/staircase";
import type { Block } from "../design/block";
import type { Again } from "../design/trial-order";
import type { Column, Follows } from "../values/table";

const inList = (values: readonly (string | number)[], and = "and"): string =>
  values.length < 2 ? String(values[0] ?? "") : `${values.slice(0, -1).join(", ")} ${and} ${values.at(-1)}`;
const once = (count: number): string => (count === 1 ? "once" : count === 2 ? "twice" : `${count} times`);

/** The share right that a method leads to, or at which its threshold lies. */
export const shareAtThreshold = (by: Adaptive): number =>
  by.method === "staircase" ? targetOf(by) : shareAtLocation(by);

/** When enough has been asked: “after 10 reversals or 80 trials”. */
function endInWords(by: Adaptive): string | null {
  const { endTrials } = by;
  const ends = [
    ...(by.method === "staircase" && by.endReversals !== undefined ? [`${by.endReversals} reversals`] : []),
    ...(endTrials !== undefined ? [`${endTrials} trials`] : []),
    ...(by.method === "bayesian" && by.endError !== undefined ? [`an error of at most ${by.endError}`] : []),
  ];
  return ends.length === 0 ? null : `after ${ends.join(" or ")}`;
}

const placed = {
  mode: "at the mode of the posterior",
  mean: "at the mean of the posterior",
  entropy: "where the expected entropy was least",
};

/** How a column followed the answers, as it can stand in a method section. */
export function followsInWords({ name }: Pick<Column, "name">, { by, each }: Follows, { table }: Block): string {
  const unit = by.scale === "logarithmic" ? " log10 units" : "";
  const source = adaptiveKind(by).source(by);
  const moved =
    by.method === "staircase"
      ? by.moves === "weighted"
        ? `by a weighted up–down staircase (${source}) to ${perCent(by.target)} right`
        : `by a staircase, harder after ${by.down === 1 ? "each right answer" : `${by.down} right answers in a row`} and easier after a wrong one (${source}), which leads to ${perCent(targetOf(by))} right`
      : `by Bayesian estimation, each value ${placed[by.next]} (${source})`;
  const start = by.method === "staircase" ? `, from ${by.start} in steps of ${inList(by.steps)}${unit}` : "";
  const end = endInWords(by);
  const level = each === undefined ? undefined : table.columns.find(({ id }) => id === each)?.name;
  return (
    `${name} followed the answers ${moved}, between ${by.least} and ${by.most}${start}` +
    `${level === undefined ? "" : `, for each ${level} by itself`}${end ? `; it ended ${end}` : ""}. ` +
    `Its threshold is the value with ${perCent(shareAtThreshold(by))} right on a ${by.curve === "weibull" ? "Weibull" : "logistic"} function fitted to all answers (guessing ${perCent(by.guess)}, lapses ${perCent(by.lapse)}).`
  );
}

/** Trials that come again: “each trial was asked until it was right twice in a row, after …, at most 5 times”. */
export function againInWords({ rightTimes, inARow, gaps, most }: Again): string {
  const until = rightTimes === 1 ? "right" : `right ${once(rightTimes)}${inARow ? " in a row" : ""}`;
  const [first] = gaps;
  const after =
    first === undefined
      ? "at the end of the block"
      : gaps.length === 1
        ? `after ${first} other ${first === 1 ? "trial" : "trials"}`
        : `after ${inList(gaps)} other trials, the more often it was right`;
  return `each trial came again ${after} until it was ${until}, at most ${once(most)} in all`;
}
