import { list, object } from "../../shape/compound";
import { number, oneOf, only, text } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import { fromWhat, fromWords, type TrialRuleKind } from "../kind";
import { anyRule } from "../rule-fields";
import { centreOptions, centreWords, spreadOptions, spreadWords, within } from "../spread";
import { timedGroups } from "../timed-groups";

const shape = object({
  ...anyRule,
  kind: only("beyond"),
  times: number({ above: 0, most: 100 }),
  spread: oneOf(...spreadWords),
  around: oneOf(...centreWords),
  of: oneOf("person", "person-condition", "condition"),
  conditions: list(text({ most: 200 }), 0, 3),
  side: oneOf("both", "slow"),
  from: oneOf(...fromWords),
});
type Rule = Of<typeof shape>;

const byCondition = ({ of }: Rule) => of !== "person";
const ofWhom = [
  ["person", "the person’s times"],
  ["person-condition", "the person’s times in each condition"],
  ["condition", "all persons’ times in each condition"],
] as const;

/** Times that lie far from the middle of a person's, or of a condition's. Only times that are still in are looked at. */
export const beyond: TrialRuleKind<Rule> = {
  on: "trials",
  shape,
  called: "Far from the middle",
  looksAt: ({ of }) => (of === "condition" ? "all" : "person"),
  fresh: () => ({
    ...({
      times: 3,
      spread: "mad",
      around: "median",
      of: "person",
      conditions: [],
      side: "both",
      from: "times",
    } as const),
  }),
  phrase: (rule) => [
    "More than ",
    { as: "number", field: "times", label: "How many", least: 0.1, most: 100 },
    " ",
    { as: "choice", field: "spread", label: "Spread", options: spreadOptions },
    " ",
    {
      as: "choice",
      field: "side",
      label: "On which side",
      options: [
        ["both", "from"],
        ["slow", "above"],
      ],
    },
    " the ",
    { as: "choice", field: "around", label: "Middle", options: centreOptions },
    " of ",
    { as: "choice", field: "of", label: "Of whom", options: ofWhom },
    ...(byCondition(rule) ? [" (", { as: "conditions", field: "conditions", label: "Conditions" } as const, ")"] : []),
    ", ",
    fromWhat,
  ],
  inMethod: ({ times, spread, around, of, side, conditions }, count) => {
    const whose =
      of === "condition" ? "of all persons’ times" : count === 1 ? "of the person’s times" : "of each person’s times";
    const where = of === "person" || conditions.length === 0 ? "" : ` in each condition (${conditions.join(" × ")})`;
    const what = spread === "mad" ? "median absolute deviations (× 1.4826)" : "standard deviations";
    return `${count === 1 ? "was" : "were"} more than ${times} ${what} ${side === "slow" ? "above" : "from"} the ${around} ${whose}${where}`;
  },
  caution: ({ of }) =>
    of === "condition"
      ? "A criterion that pools persons in each condition can make differences where there are none (André, 2022)."
      : null,
  needs: (rule) => [hiddenOfTrials.rt, ...(byCondition(rule) ? rule.conditions : [])],
  timesOnly: ({ from }) => from === "times",
  marks: (rule, data, standing) => {
    const marks = new Uint8Array(data.trials);
    if (byCondition(rule) && !data.hasAll(rule.conditions)) return marks;
    const groups = data.groups(rule.of !== "condition", byCondition(rule) ? rule.conditions : []);
    for (const { rows, times } of timedGroups(data, groups, standing)) {
      const { from, to } = within(times, rule);
      for (let at = 0; at < times.length; at++) {
        const time = times[at] as number;
        if (time > to || (rule.side === "both" && time < from)) marks[rows[at] as number] = 1;
      }
    }
    return marks;
  },
};
