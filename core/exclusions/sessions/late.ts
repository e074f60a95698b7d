import { object } from "../../shape/compound";
import { number, only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import { anyRule } from "../rule-fields";
import type { SessionRuleKind } from "../kind";
import { markWhere } from "../measured";

const shape = object({ ...anyRule, kind: only("late-share"), over: number({ least: 0, most: 100 }) });

/** Sessions in which scenes were late in too many trials outside practice. */
export const lateShare: SessionRuleKind<Of<typeof shape>> = {
  on: "sessions",
  shape,
  called: "Many trials with late scenes",
  fresh: () => ({ over: 5 }),
  phrase: () => [
    "Late scenes in more than ",
    { as: "number", field: "over", label: "Share of trials", least: 0, most: 100 },
    " % of trials",
  ],
  inMethod: ({ over }) => `had late scenes in more than ${over} % of trials`,
  needs: () => ({ trials: ["practice", hiddenOfTrials.isFirst, "late_frames"] }),
  marks: ({ over }, data) => {
    const late = markWhere(data.numbers("late_frames"), (frames) => frames > 0);
    return markWhere(data.share(late), (share) => share * 100 > over);
  },
};
