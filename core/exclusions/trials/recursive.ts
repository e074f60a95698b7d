import { list, object } from "../../shape/compound";
import { oneOf, only, text } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import { fromWhat, fromWords, type TrialRuleKind } from "../kind";
import { recursivelyOut } from "../recursion";
import { anyRule } from "../rule-fields";
import { timedGroups } from "../timed-groups";

const shape = object({
  ...anyRule,
  kind: only("recursive"),
  conditions: list(text({ most: 200 }), 0, 3),
  from: oneOf(...fromWords),
});
type Rule = Of<typeof shape>;

/** Times of right answers, by person and condition, by the modified recursive procedure of Van Selst and Jolicoeur (1994). */
export const recursive: TrialRuleKind<Rule> = {
  on: "trials",
  shape,
  called: "Far from the middle, recursively",
  looksAt: () => "person",
  fresh: () => ({ conditions: [], from: "times" }),
  phrase: () => [
    "Far from the person’s mean in each condition (",
    { as: "conditions", field: "conditions", label: "Conditions" },
    ") by the modified recursive procedure, ",
    fromWhat,
  ],
  inMethod: ({ conditions }, count) =>
    `${count === 1 ? "was" : "were"} outliers by the modified recursive procedure with moving criterion (Van Selst & Jolicoeur, 1994), for each person${conditions.length > 0 ? ` and condition (${conditions.join(" × ")})` : ""}, right answers only`.replace(
      "was outliers",
      "was an outlier",
    ),
  needs: ({ conditions }) => [hiddenOfTrials.rt, hiddenOfTrials.right, ...conditions],
  timesOnly: ({ from }) => from === "times",
  marks: ({ conditions }, data, standing) => {
    const marks = new Uint8Array(data.trials);
    const { right } = data;
    if (!data.hasAll(conditions)) return marks;
    // Where nothing is right or wrong all times are looked at.
    for (const { rows, times } of timedGroups(data, data.groups(true, conditions), standing, (row) => right[row] !== 0))
      for (const at of recursivelyOut(times)) marks[rows[at] as number] = 1;
    return marks;
  },
};
