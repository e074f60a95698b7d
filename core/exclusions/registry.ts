import { list, shapesOf, variant } from "../shape/compound";
import type { Of } from "../shape/shape";
import type { AnyRule, Phrase, SessionRuleKind, Slot, TrialRuleKind } from "./kind";
import { attempts } from "./sessions/attempts";
import { interruptedShare } from "./sessions/interrupted";
import { lateShare } from "./sessions/late";
import { marked } from "./sessions/marked";
import { medianOutside } from "./sessions/median-outside";
import { minutes } from "./sessions/minutes";
import { notFinished } from "./sessions/not-finished";
import { rightUnder } from "./sessions/right-under";
import { unlikeOthers } from "./sessions/unlike-others";
import { value } from "./sessions/value";
import { afterWrong } from "./trials/after-wrong";
import { again } from "./trials/again";
import { beyond } from "./trials/beyond";
import { interrupted } from "./trials/interrupted";
import { late } from "./trials/late";
import { opening } from "./trials/opening";
import { practice } from "./trials/practice";
import { recursive } from "./trials/recursive";
import { tooFast } from "./trials/too-fast";
import { tooSlow } from "./trials/too-slow";
import { wrong } from "./trials/wrong";

const kinds = {
  marked,
  "not-finished": notFinished,
  "right-under": rightUnder,
  "median-outside": medianOutside,
  "unlike-others": unlikeOthers,
  "late-share": lateShare,
  "interrupted-share": interruptedShare,
  value,
  minutes,
  attempts,
  practice,
  again,
  opening,
  "too-fast": tooFast,
  "too-slow": tooSlow,
  beyond,
  recursive,
  interrupted,
  late,
  "after-wrong": afterWrong,
  wrong,
};
type Kinds = typeof kinds;
export type RuleKind = keyof Kinds;
/** A rule by which sessions or trials are left out. */
export type Rule = Of<Kinds[RuleKind]["shape"]>;
export const rule = variant("kind", shapesOf(kinds));
/** So many rules a set has at most. */
export const mostRules = 40;
export const rules = list(rule, 0, mostRules);

/** What is known of the kind of a rule. */
export const kindOf = ({ kind }: Pick<Rule, "kind">): SessionRuleKind<AnyRule> | TrialRuleKind<AnyRule> =>
  kinds[kind] as unknown as SessionRuleKind<AnyRule> | TrialRuleKind<AnyRule>;

/** The kinds that can be added, of rules for sessions or for trials, with what they are called. */
export const kindsOn = (on: "sessions" | "trials"): { kind: RuleKind; called: string }[] =>
  (Object.keys(kinds) as RuleKind[])
    .filter((kind) => kinds[kind].on === on)
    .map((kind) => ({ kind, called: kinds[kind].called }));

/** A rule as it is added. */
export const freshRule = (kind: RuleKind, id: string): Rule =>
  ({ ...kinds[kind].fresh(), id, isOn: true, kind }) as unknown as Rule;

/** A rule's sentence with its choices. */
export const phraseOf = (of: Rule): Phrase => kindOf(of).phrase(of);

/** What a slot of a rule's sentence says. */
export function slotSays(of: Rule, slot: Slot): string {
  const held = (of as unknown as Record<string, unknown>)[slot.field];
  if (slot.as === "choice") return slot.options.find(([word]) => word === held)?.[1] ?? String(held);
  if (slot.as === "conditions") {
    const names = held as string[];
    return names.length === 0 ? "all together" : names.join(" × ");
  }
  if (slot.as === "number") return String(held);
  return held === "" ? "…" : String(held);
}

/** A rule as one sentence without an end: “Faster than 150 ms”. What is left out altogether need not be said. */
export const ruleInWords = (of: Rule): string =>
  phraseOf(of)
    .map((word) => (typeof word === "string" ? word : slotSays(of, word)))
    .join("")
    .replace(/, left out altogether$/, "")
    .replace(/, left out of times$/, ", for times only");

/**
 * The rules where nothing was decided: what somebody marked, practice, what had been shown before, and wrong answers for times.
 * Nothing is trimmed.
 */
export const usualRules = (): Rule[] =>
  (["marked", "practice", "again", "wrong"] as const).map((kind) => freshRule(kind, kind));
