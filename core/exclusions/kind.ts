import type { Shape } from "../shape/shape";
import type { Measured, Standing } from "./measured";

/** What every rule has: who it is, whether it is switched on, and its kind. */
export type AnyRule = { id: string; isOn: boolean; kind: string };

/** A word of a rule's sentence that can be chosen: one of its fields. */
export type Slot =
  | { as: "number"; field: string; label: string; least: number; most: number; whole?: boolean }
  | { as: "choice"; field: string; label: string; options: readonly (readonly [string, string])[] }
  /** A column of the sessions table. */
  | { as: "column"; field: string; label: string }
  /** Up to three columns that tell conditions apart. */
  | { as: "conditions"; field: string; label: string }
  | { as: "text"; field: string; label: string };
/** A rule as a sentence: words, and what can be chosen between them. */
export type Phrase = readonly (string | Slot)[];

/** What all kinds of rules have in common. */
type Kind<Rule extends AnyRule> = {
  shape: Shape<Rule>;
  /** The rule as it is added. */
  fresh: () => Omit<Rule, keyof AnyRule>;
  /** As a choice in a list: “Too fast”. */
  called: string;
  phrase: (rule: Rule) => Phrase;
  /** What the rule leaves out, in the words of a method section after how many there are: “were faster than 150 ms”. */
  inMethod: (rule: Rule, count: number) => string;
  /** The same where it leaves nothing out, if that is not “no session …”. */
  noneInMethod?: string;
  /**
   * What else decides about a session or its trials: nothing but the session, other sessions of the same person, or all of them.
   * “session” where nothing is said.
   */
  looksAt?: (rule: Rule) => "session" | "person" | "all";
  /** What should be known of a rule before it is relied upon; null where nothing is. */
  caution?: (rule: Rule) => string | null;
};

/** A kind of rule by which whole sessions are left out. */
export type SessionRuleKind<Rule extends AnyRule> = Kind<Rule> & {
  on: "sessions";
  /** Columns of the tables of trials and of sessions that it looks at. */
  needs: (rule: Rule) => { trials?: readonly string[]; sessions?: readonly string[] };
  /** Which sessions it means, of those that are `kept` so far: a mark for each. */
  marks: (rule: Rule, data: Measured, kept: Uint8Array) => Uint8Array;
};

/** A kind of rule by which trials, or only their times, are left out. */
export type TrialRuleKind<Rule extends AnyRule> = Kind<Rule> & {
  on: "trials";
  needs: (rule: Rule) => readonly string[];
  /** Whether only the time is left out, and the trial stays for accuracy. */
  timesOnly: (rule: Rule) => boolean;
  /** Which trials it means: a mark for each. What was left out before is passed over, whatever it says. */
  marks: (rule: Rule, data: Measured, standing: Standing) => Uint8Array;
};

/** What all rules of trials by their times let choose: whether the trial is left out, or its time alone. */
export const fromWhat = {
  as: "choice",
  field: "from",
  label: "What is left out",
  options: [
    ["times", "left out of times"],
    ["all", "left out altogether"],
  ],
} as const satisfies Slot;
export const fromWords = ["times", "all"] as const;
