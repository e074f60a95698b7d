import { whole } from "../shape/plain";
import { optional } from "../shape/shape";
import type { Flaw, Problem } from "./kind";

/** Bounds of a text that is typed, in characters. */
export const lengths = { least: optional(whole(1, 100_000)), most: optional(whole(1, 20_000)) };
type Lengths = { least?: number | undefined; most?: number | undefined };

/** Characters as people count them: what the eye takes for one is one. */
export const charactersIn = (text: string): number => Array.from(text.normalize("NFC")).length;

export function lengthProblem({ least, most }: Lengths, typed: string): Problem | null {
  const length = charactersIn(typed);
  if (least !== undefined && charactersIn(typed.trim()) < least)
    return { words: "textLeast", values: { least, now: charactersIn(typed.trim()) } };
  return most !== undefined && length > most ? { words: "textMost", values: { most, now: length } } : null;
}

export const lengthFlaws = ({ least, most }: Lengths): Flaw[] =>
  least !== undefined && most !== undefined && least > most
    ? [{ level: "error", message: "The fewest characters it takes are more than the most. Change one of them." }]
    : [];

const sampleWords = "the tide was low and two boats lay on the sand near the harbour wall".split(" ");
/** Words of no meaning, as long as they have to be. */
export function wordsOf({ least = 12, most = 400 }: Lengths): string {
  let text = "";
  for (let at = 0; text.length < least + 8; at++) text += `${at ? " " : ""}${sampleWords[at % sampleWords.length]}`;
  return text.slice(0, most);
}
