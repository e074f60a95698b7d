import { object } from "../../shape/compound";
import { only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { anyRule } from "../rule-fields";
import type { TrialRuleKind } from "../kind";

const shape = object({ ...anyRule, kind: only("practice") });

export const practice: TrialRuleKind<Of<typeof shape>> = {
  on: "trials",
  shape,
  called: "Practice",
  fresh: () => ({}),
  phrase: () => ["Practice"],
  inMethod: (_, count) => `${count === 1 ? "was" : "were"} practice`,
  needs: () => ["practice"],
  timesOnly: () => false,
  marks: (_, data) => data.areWord("practice", (word) => word === "yes"),
};
