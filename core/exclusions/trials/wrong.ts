import { object } from "../../shape/compound";
import { only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import type { TrialRuleKind } from "../kind";
import { anyRule } from "../rule-fields";

const shape = object({ ...anyRule, kind: only("wrong") });

/** Times of answers that were not right; for accuracy these are what is counted. */
export const wrong: TrialRuleKind<Of<typeof shape>> = {
  on: "trials",
  shape,
  called: "Wrong answers, for times only",
  fresh: () => ({}),
  phrase: () => ["Wrong answers, for times only"],
  inMethod: (_, count) => `had ${count === 1 ? "a wrong answer" : "wrong answers"}`,
  needs: () => [hiddenOfTrials.right, hiddenOfTrials.rt],
  timesOnly: () => true,
  marks: (_, data) => {
    const { right, rt } = data;
    const marks = new Uint8Array(data.trials);
    for (let row = 0; row < marks.length; row++)
      if (right[row] === 0 && !Number.isNaN(rt[row] as number)) marks[row] = 1;
    return marks;
  },
};
