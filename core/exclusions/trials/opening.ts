import { object } from "../../shape/compound";
import { only, whole } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { anyRule } from "../rule-fields";
import type { TrialRuleKind } from "../kind";
import { markWhere } from "../measured";

const shape = object({ ...anyRule, kind: only("opening"), first: whole(1, 10_000) });

/** The first trials of each block, and of each attempt at one. */
export const opening: TrialRuleKind<Of<typeof shape>> = {
  on: "trials",
  shape,
  called: "First of each block",
  fresh: () => ({ first: 1 }),
  phrase: () => [
    "First ",
    { as: "number", field: "first", label: "How many trials", least: 1, most: 10_000, whole: true },
    " of each block",
  ],
  inMethod: ({ first }, count) =>
    `${count === 1 ? "was" : "were"} among the first ${first === 1 ? "of its block" : `${first} of a block`}`,
  needs: () => ["trial_in_block"],
  timesOnly: () => false,
  marks: ({ first }, data) => markWhere(data.numbers("trial_in_block"), (place) => place <= first),
};
