import { trialsComeAgain } from "../../core/design/all-rules";
import { blocksInOrder } from "../../core/design/lookup";
import type { StudyDocument } from "../../core/design/document";
import { ruleProblem } from "../../core/exclusions/problem";
import { exclusionsInWords, type ExclusionCounts } from "../../core/exclusions/method";
import { kindOf, type Rule } from "../../core/exclusions/registry";
import { tidyTables } from "../../core/export/tidy-tables";
import type { ExclusionSet } from "../exclusions";
import { comparableNames } from "./comparable";

/** A rule as it stands in the ledger. */
export type LedgerLine = {
  rule: Rule;
  /** What it takes out at its place, or would take out were it on; and what it means in all. */
  out: number;
  means: number;
  /** Why it cannot be applied, or what should be known of it. */
  problem: string | null;
  caution: string | null;
};
/** What is left out of results, and why. */
export type Ledger = {
  set: Omit<ExclusionSet, "rules">;
  sets: { id: string; name: string; isRegistered: boolean }[];
  lines: LedgerLine[];
  counts: Pick<ExclusionCounts, "sessions" | "trials">;
  /** The paragraph of a method section. */
  method: string;
  /** Columns that rules can name: of sessions, and those that tell conditions apart. */
  columns: { sessions: string[]; conditions: string[] };
  /** Whether trials can come again; where they cannot, nothing need be said of it. */
  comesAgain: boolean;
  /** A study that only asks questions has no trials to leave out. */
  hasTrials: boolean;
};

/** The ledger of the exclusions in use, applied to some data. */
export function ledgerOf(
  { used, sets }: { used: ExclusionSet; sets: readonly ExclusionSet[] },
  counts: ExclusionCounts,
  documents: readonly StudyDocument[],
): Ledger {
  const [trials, sessions] = (["trials", "sessions"] as const).map((table) =>
    tidyTables[table].columns(documents).map(({ name }) => name),
  ) as [string[], string[]];
  const there = { trials: new Set(trials), sessions: new Set(sessions) };
  const counted = new Map(counts.counts.map((count) => [count.id, count]));
  const { rules, ...set } = used;
  return {
    set,
    sets: sets.flatMap(({ id, name, registered }) =>
      id === null ? [] : [{ id, name, isRegistered: registered !== null }],
    ),
    lines: rules.map((rule) => ({
      rule,
      out: counted.get(rule.id)?.out ?? 0,
      means: counted.get(rule.id)?.means ?? 0,
      problem: ruleProblem(rule, there),
      caution: kindOf(rule).caution?.(rule) ?? null,
    })),
    counts: { sessions: counts.sessions, trials: counts.trials },
    method: exclusionsInWords(rules, counts, used.registered),
    columns: { sessions, conditions: comparableNames(documents) },
    comesAgain: documents.some(trialsComeAgain),
    hasTrials: documents.some((document) => blocksInOrder(document).length > 0),
  };
}
