import { startCase } from "../../describe/in-words";
import { object } from "../../shape/compound";
import { number, oneOf, only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import { anyRule } from "../rule-fields";
import type { SessionRuleKind } from "../kind";
import { spreadOptions, spreadWords, within } from "../spread";
import { markWhere } from "../measured";

const shape = object({
  ...anyRule,
  kind: only("unlike-others"),
  times: number({ above: 0, most: 100 }),
  spread: oneOf(...spreadWords),
  of: oneOf("time", "right"),
});
type Rule = Of<typeof shape>;

const measures = [
  ["time", "median time"],
  ["right", "share of right answers"],
] as const;
const around = (spread: Rule["spread"]) => (spread === "mad" ? "median" : "mean");

/**
 * Sessions that lie far from the others, whatever their conditions: a criterion that looks at conditions or groups finds
 * differences where there are none (André, 2022).
 */
export const unlikeOthers: SessionRuleKind<Rule> = {
  on: "sessions",
  shape,
  called: "Far from all other sessions",
  looksAt: () => "all",
  fresh: () => ({ times: 3, spread: "mad", of: "time" }),
  phrase: ({ spread }) => [
    {
      as: "choice",
      field: "of",
      label: "Measure",
      options: measures.map(([value, words]) => [value, startCase(words)]),
    },
    " more than ",
    { as: "number", field: "times", label: "How many", least: 0.1, most: 100 },
    " ",
    { as: "choice", field: "spread", label: "Spread", options: spreadOptions },
    ` from all sessions’ ${around(spread)}`,
  ],
  inMethod: ({ times, spread, of }) =>
    `had a ${measures.find(([value]) => value === of)?.[1]} more than ${times} ${spread === "mad" ? "MAD" : "SD"} from the ${around(spread)} of all sessions`,
  needs: () => ({ trials: ["practice", hiddenOfTrials.isFirst, hiddenOfTrials.right, hiddenOfTrials.rt] }),
  marks: ({ times, spread, of }, data, kept) => {
    const values = of === "time" ? data.medians : data.rightShares;
    const there = [...values].filter((value, session) => kept[session] === 1 && !Number.isNaN(value));
    const range = within(there, { times, spread, around: around(spread) });
    return markWhere(values, (value) => value < range.from || value > range.to);
  },
};
