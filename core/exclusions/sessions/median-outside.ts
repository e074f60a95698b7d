import { object } from "../../shape/compound";
import { number, only } from "../../shape/plain";
import { refined, type Of } from "../../shape/shape";
import { hiddenOfTrials } from "../../tidy/hidden-columns";
import { anyRule } from "../rule-fields";
import type { SessionRuleKind } from "../kind";
import { markWhere } from "../measured";

const ms = number({ least: 0, most: 3_600_000 });
const shape = refined(object({ ...anyRule, kind: only("median-outside"), from: ms, to: ms }), ({ from, to }) =>
  from < to ? null : { field: "to", message: "must be more than where the range begins" },
);

/** Sessions whose median time lies outside a range. */
export const medianOutside: SessionRuleKind<Of<typeof shape>> = {
  on: "sessions",
  shape,
  called: "Median time outside a range",
  fresh: () => ({ from: 200, to: 2000 }),
  phrase: () => [
    "Median time not from ",
    { as: "number", field: "from", label: "From", least: 0, most: 3_600_000 },
    " to ",
    { as: "number", field: "to", label: "To", least: 0, most: 3_600_000 },
    " ms",
  ],
  inMethod: ({ from, to }) => `had a median time outside ${from} to ${to} ms`,
  needs: () => ({ trials: ["practice", hiddenOfTrials.isFirst, hiddenOfTrials.right, hiddenOfTrials.rt] }),
  marks: ({ from, to }, data) => markWhere(data.medians, (median) => median < from || median > to),
};
