import { object } from "../../shape/compound";
import { oneOf, only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { fromWhat, fromWords, type TrialRuleKind } from "../kind";
import { anyRule } from "../rule-fields";
import { markWhere } from "../measured";

const shape = object({ ...anyRule, kind: only("late"), from: oneOf(...fromWords) });

export const late: TrialRuleKind<Of<typeof shape>> = {
  on: "trials",
  shape,
  called: "With late frames",
  fresh: () => ({ from: "times" }),
  phrase: () => ["With late frames, ", fromWhat],
  inMethod: () => "had scenes that were late by a frame or more",
  needs: () => ["late_frames"],
  timesOnly: ({ from }) => from === "times",
  marks: (_, data) => markWhere(data.numbers("late_frames"), (frames) => frames > 0),
};
