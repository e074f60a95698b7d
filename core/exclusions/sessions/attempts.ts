import { object } from "../../shape/compound";
import { only, whole } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { anyRule } from "../rule-fields";
import type { SessionRuleKind } from "../kind";
import { markWhere } from "../measured";

const shape = object({ ...anyRule, kind: only("attempts"), over: whole(1, 1000) });

/** Sessions in which some block was begun more often than so many times. */
export const attempts: SessionRuleKind<Of<typeof shape>> = {
  on: "sessions",
  shape,
  called: "Many attempts at a block",
  fresh: () => ({ over: 3 }),
  phrase: () => [
    "More than ",
    { as: "number", field: "over", label: "Attempts", least: 1, most: 1000, whole: true },
    " attempts at a block",
  ],
  inMethod: ({ over }) => `needed more than ${over} ${over === 1 ? "attempt" : "attempts"} at a block`,
  needs: () => ({ trials: ["block_attempt"] }),
  marks: ({ over }, data) => markWhere(data.greatest("block_attempt"), (most) => most > over),
};
