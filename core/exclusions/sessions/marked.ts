import { object } from "../../shape/compound";
import { only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { anyRule } from "../rule-fields";
import type { SessionRuleKind } from "../kind";

const shape = object({ ...anyRule, kind: only("marked") });

/** Sessions that somebody chose, with a reason. */
export const marked: SessionRuleKind<Of<typeof shape>> = {
  on: "sessions",
  shape,
  called: "Marked “does not count”",
  fresh: () => ({}),
  phrase: () => ["Marked “does not count”"],
  inMethod: (_, count) => `${count === 1 ? "was" : "were"} left out by decision of the team`,
  needs: () => ({}),
  marks: (_, { sessions }) => Uint8Array.from(sessions, ({ isMarked }) => Number(isMarked)),
};
