import { object, variant } from "../shape/compound";
import { oneOf, only, text, whole } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { ends, endsProblem } from "./ends";
import { suited } from "./suited";
import { dayIn, moment, outsideOf, spanProblem } from "./moment";

const who = variant("kind", {
  anyone: object({ kind: only("anyone") }),
  /** Who knows a word, which is asked for at the entry. */
  /** Whoever may see the study in Lapwing and is signed in: their sessions are marked as pilots. */
  team: object({ kind: only("team") }),
  word: object({ kind: only("word"), word: text({ missing: "is missing: type the word", most: 60 }) }),
});
const goOn = variant("kind", {
  whenever: object({ kind: only("whenever") }),
  never: object({ kind: only("never") }),
  "same-day": object({ kind: only("same-day"), zone: text({ missing: "is missing", most: 60 }) }),
  /** So long after it was begun. */
  hours: object({ kind: only("hours"), hours: whole(1, 8760) }),
});
const said = optional(text({ most: 1000 }));

/** Of a link of one's own: there is no end to how often one can come by it. */
export const asOftenAsTheyLike = 1000;

const termsFields = object({
  who,
  /** How often one can begin in one browser, as far as it remembers; as often as one likes where it is not said. */
  perBrowser: optional(whole(1, 1000)),
  /** How often one can take part with the same code; a code is asked for then. */
  perCode: optional(whole(1, 1000)),
  /** How often whose own link it is can take part by it: once where it is not said. */
  perLink: optional(whole(2, asOftenAsTheyLike)),
  /** On what one can take part: on anything where it is not said. */
  on: optional(suited),
  /** So many minutes after it began a session counts as broken off, gives its place back and cannot be gone on with. */
  longest: optional(whole(1, 525_600)),
  from: optional(moment),
  until: optional(moment),
  /** Nobody begins any more once so many have finished by the link. */
  mostFinished: optional(whole(1, 1_000_000)),
  /** Nobody more is taken into a group, or a stratum, in which so many have finished by the link. */
  mostEach: optional(object({ of: oneOf("group", "stratum"), count: whole(1, 1_000_000) })),
  goOn,
  /** What is said, in the study's own words, to those who come too early, too late, when it is full, or while it is closed. */
  says: object({ early: said, over: said, full: said, closed: said, unsuited: said }),
  /** What people are shown at their end, where that is not as the study says. */
  ends: optional(ends),
});
/** What a link asks of those who come by it. */
export interface Terms extends Of<typeof termsFields> {}
export const terms: Shape<Terms> = termsFields;

/** Anyone, at any time. */
export const openTerms: Terms = { who: { kind: "anyone" }, goOn: { kind: "whenever" }, says: {} };

/** What is wrong with terms that have their form; null where nothing is. */
export const termsProblem = ({ from, until, goOn: going, ends: all }: Terms): string | null =>
  spanProblem({ from, until }, going.kind === "same-day" ? [going.zone] : []) ?? endsProblem(all);

/** Why nobody can begin by a link: what is said of it can be put in the study's own words. */
export type WhyNot = "closed" | "early" | "over" | "full";

/** How a link stands: whether it is open, how many have finished by it, and what time it is, in ms since 1970. */
export type LinkStanding = { isOpen: boolean; finished: number; now: number };

/** Why nobody can begin by a link just now; null where one can. */
export function whyNotBegin(terms: Terms, { isOpen, finished, now }: LinkStanding): WhyNot | null {
  if (!isOpen) return "closed";
  const { mostFinished } = terms;
  return outsideOf(terms, now) ?? (mostFinished !== undefined && finished >= mostFinished ? "full" : null);
}

/** Whether a session that was begun at a moment may still be gone on with, both in ms since 1970. What was recorded of it is taken in either way. */
export function mayGoOn({ goOn: going }: Terms, begun: number, now: number): boolean {
  switch (going.kind) {
    case "whenever":
      return true;
    case "never":
      return false;
    case "same-day":
      return dayIn(going.zone, begun) === dayIn(going.zone, now);
    case "hours":
      return now - begun < going.hours * 3_600_000;
  }
}

/** Whether what somebody typed is the word that is asked for; capitals and blanks around it do not count. */
export const isWord = ({ who: asked }: Terms, typed: string): boolean =>
  asked.kind !== "word" || plain(typed) === plain(asked.word);
const plain = (word: string): string => word.normalize("NFKC").trim().toLocaleLowerCase("en");
