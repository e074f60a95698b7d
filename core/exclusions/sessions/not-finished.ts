import { object } from "../../shape/compound";
import { only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { anyRule } from "../rule-fields";
import type { SessionRuleKind } from "../kind";

const shape = object({ ...anyRule, kind: only("not-finished") });

export const notFinished: SessionRuleKind<Of<typeof shape>> = {
  on: "sessions",
  shape,
  called: "Not finished",
  fresh: () => ({}),
  phrase: () => ["Not finished"],
  inMethod: (_, count) => `${count === 1 ? "was" : "were"} not finished`,
  noneInMethod: "all were finished",
  needs: () => ({}),
  marks: (_, { sessions }) => Uint8Array.from(sessions, ({ isFinished }) => Number(!isFinished)),
};
