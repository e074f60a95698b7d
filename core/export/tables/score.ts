import { trialScore, type TrialScore } from "../../run/scoring";
import { atStart, contextFor } from "../../values/context";
import { valuesOf, type TrialSource } from "./trial-source";

/** A recorded trial's score, by the rule by which participants were told theirs. */
export function scoreOf(source: TrialSource): TrialScore {
  const { document, block, facts, record } = source;
  const { group, participant } = facts;
  const context = contextFor(
    { study: document, group, participant },
    {
      ...{ values: { ...valuesOf(source), ...record.settled }, placed: record.placed, isPractice: block.practice },
      session: { ...atStart, sitting: facts.sitting },
    },
  );
  return trialScore(block.answers, record.answers, context);
}
