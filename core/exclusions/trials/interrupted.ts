import { object } from "../../shape/compound";
import { oneOf, only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { interruptedColumns, wereInterrupted } from "../interrupted";
import { fromWhat, fromWords, type TrialRuleKind } from "../kind";
import { anyRule } from "../rule-fields";

const shape = object({ ...anyRule, kind: only("interrupted"), from: oneOf(...fromWords) });

export const interrupted: TrialRuleKind<Of<typeof shape>> = {
  on: "trials",
  shape,
  called: "Interrupted",
  fresh: () => ({ from: "all" }),
  phrase: () => ["Interrupted, ", fromWhat],
  inMethod: (_, count) => `${count === 1 ? "was" : "were"} interrupted`,
  needs: () => interruptedColumns,
  timesOnly: ({ from }) => from === "times",
  marks: (_, data) => wereInterrupted(data),
};
