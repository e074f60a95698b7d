import { object } from "../../shape/compound";
import { number, oneOf, only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import { anyRule } from "../rule-fields";
import { fromWhat, fromWords, type TrialRuleKind } from "../kind";
import { markWhere } from "../measured";

const shape = object({
  ...anyRule,
  kind: only("too-fast"),
  under: number({ least: 0, most: 3_600_000 }),
  from: oneOf(...fromWords),
});

export const tooFast: TrialRuleKind<Of<typeof shape>> = {
  on: "trials",
  shape,
  called: "Too fast",
  fresh: () => ({ under: 150, from: "all" }),
  phrase: () => [
    "Faster than ",
    { as: "number", field: "under", label: "Milliseconds", least: 0, most: 3_600_000 },
    " ms, ",
    fromWhat,
  ],
  inMethod: ({ under }, count) => `${count === 1 ? "was" : "were"} faster than ${under} ms`,
  needs: () => [hiddenOfTrials.rt],
  timesOnly: ({ from }) => from === "times",
  marks: ({ under }, data) => markWhere(data.rt, (time) => time < under),
};
