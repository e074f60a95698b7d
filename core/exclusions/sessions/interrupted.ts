import { object } from "../../shape/compound";
import { number, only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import { anyRule } from "../rule-fields";
import type { SessionRuleKind } from "../kind";
import { interruptedColumns, wereInterrupted } from "../interrupted";
import { markWhere } from "../measured";

const shape = object({ ...anyRule, kind: only("interrupted-share"), over: number({ least: 0, most: 100 }) });

/** Sessions in which too many trials outside practice were interrupted. */
export const interruptedShare: SessionRuleKind<Of<typeof shape>> = {
  on: "sessions",
  shape,
  called: "Many interrupted trials",
  fresh: () => ({ over: 5 }),
  phrase: () => [
    "Interrupted in more than ",
    { as: "number", field: "over", label: "Share of trials", least: 0, most: 100 },
    " % of trials",
  ],
  inMethod: ({ over }) => `were interrupted in more than ${over} % of trials`,
  needs: () => ({ trials: ["practice", hiddenOfTrials.isFirst, ...interruptedColumns] }),
  marks: ({ over }, data) => markWhere(data.share(wereInterrupted(data)), (share) => share * 100 > over),
};
