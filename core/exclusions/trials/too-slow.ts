import { object } from "../../shape/compound";
import { number, oneOf, only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import { anyRule } from "../rule-fields";
import { fromWhat, fromWords, type TrialRuleKind } from "../kind";
import { markWhere } from "../measured";

const shape = object({
  ...anyRule,
  kind: only("too-slow"),
  over: number({ least: 0, most: 3_600_000 }),
  from: oneOf(...fromWords),
});

export const tooSlow: TrialRuleKind<Of<typeof shape>> = {
  on: "trials",
  shape,
  called: "Too slow",
  fresh: () => ({ over: 2000, from: "all" }),
  phrase: () => [
    "Slower than ",
    { as: "number", field: "over", label: "Milliseconds", least: 0, most: 3_600_000 },
    " ms, ",
    fromWhat,
  ],
  inMethod: ({ over }, count) => `${count === 1 ? "was" : "were"} slower than ${over} ms`,
  needs: () => [hiddenOfTrials.rt],
  timesOnly: ({ from }) => from === "times",
  marks: ({ over }, data) => markWhere(data.rt, (time) => time > over),
};
