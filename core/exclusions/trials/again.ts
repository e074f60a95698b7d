import { object } from "../../shape/compound";
import { only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import { anyRule } from "../rule-fields";
import type { TrialRuleKind } from "../kind";
import { markWhere } from "../measured";

const shape = object({ ...anyRule, kind: only("again") });

/** Trials that came again: of each the first showing stays. */
export const again: TrialRuleKind<Of<typeof shape>> = {
  on: "trials",
  shape,
  called: "Shown before",
  fresh: () => ({}),
  phrase: () => ["Shown before"],
  inMethod: () => "had been shown before",
  needs: () => [hiddenOfTrials.isFirst],
  timesOnly: () => false,
  marks: (_, data) => markWhere(data.numbers(hiddenOfTrials.isFirst), (first) => first === 0),
};
