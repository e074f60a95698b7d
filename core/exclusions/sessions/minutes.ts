import { object } from "../../shape/compound";
import { number, oneOf, only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { numbersOf } from "../../tidy/column";
import { hiddenOfSessions } from "../../tidy/hidden-columns";
import { anyRule } from "../rule-fields";
import type { SessionRuleKind } from "../kind";
import { markWhere } from "../measured";

const shape = object({
  ...anyRule,
  kind: only("minutes"),
  which: oneOf("more", "less"),
  minutes: number({ least: 0, most: 100_000 }),
});

/** Finished sessions that took too long, or too short a time. */
export const minutes: SessionRuleKind<Of<typeof shape>> = {
  on: "sessions",
  shape,
  called: "Minutes it took",
  fresh: () => ({ which: "more", minutes: 60 }),
  phrase: () => [
    "Took ",
    {
      as: "choice",
      field: "which",
      label: "More or less",
      options: [
        ["more", "more"],
        ["less", "less"],
      ],
    },
    " than ",
    { as: "number", field: "minutes", label: "Minutes", least: 0, most: 100_000 },
    " minutes",
  ],
  inMethod: ({ which, minutes }) => `took ${which} than ${minutes} minutes`,
  needs: () => ({ sessions: [hiddenOfSessions.minutes] }),
  marks: ({ which, minutes }, data) =>
    markWhere(numbersOf(data.column("sessions", hiddenOfSessions.minutes)), (took) =>
      which === "more" ? took > minutes : took < minutes,
    ),
};
