import { object } from "../../shape/compound";
import { number, only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import { anyRule } from "../rule-fields";
import type { SessionRuleKind } from "../kind";
import { markWhere } from "../measured";

const shape = object({ ...anyRule, kind: only("right-under"), under: number({ least: 0, most: 100 }) });

/** Sessions with too few right answers outside practice; those without right answers are never meant. */
export const rightUnder: SessionRuleKind<Of<typeof shape>> = {
  on: "sessions",
  shape,
  called: "Few right answers",
  fresh: () => ({ under: 60 }),
  phrase: () => [
    "Fewer than ",
    { as: "number", field: "under", label: "Share of right answers", least: 0, most: 100 },
    " % right outside practice",
  ],
  inMethod: ({ under }) => `had fewer than ${under} % right answers outside practice`,
  needs: () => ({ trials: ["practice", hiddenOfTrials.isFirst, hiddenOfTrials.right] }),
  marks: ({ under }, data) => markWhere(data.rightShares, (share) => share * 100 < under),
};
