import { coded } from "../../tidy/column";
import { object } from "../../shape/compound";
import { oneOf, only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import { fromWhat, fromWords, type TrialRuleKind } from "../kind";
import { anyRule } from "../rule-fields";

const shape = object({ ...anyRule, kind: only("after-wrong"), from: oneOf(...fromWords) });

/** Trials directly after one of the same run through a block that was not right: an answer that is missing is not right either. */
export const afterWrong: TrialRuleKind<Of<typeof shape>> = {
  on: "trials",
  shape,
  called: "After a wrong answer",
  fresh: () => ({ from: "times" }),
  phrase: () => ["After a wrong answer, ", fromWhat],
  inMethod: () => "followed a wrong or missing answer",
  needs: () => [hiddenOfTrials.right, "part", "block_attempt"],
  timesOnly: ({ from }) => from === "times",
  marks: (_, data) => {
    const marks = new Uint8Array(data.trials);
    const { right, starts } = data;
    const part = coded(data.column("trials", "part")).codes;
    const attempt = coded(data.column("trials", "block_attempt")).codes;
    for (let session = 0; session < data.sessions.length; session++)
      for (let row = (starts[session] as number) + 1; row < (starts[session + 1] as number); row++)
        if (right[row - 1] === 0 && part[row] === part[row - 1] && attempt[row] === attempt[row - 1]) marks[row] = 1;
    return marks;
  },
};
