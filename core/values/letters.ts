import { object, variant } from "../shape/compound";
import { only, text, whole } from "../shape/plain";
import type { Of } from "../shape/shape";
import { id } from "./ref";

/** Which letters of a text are replaced. Only letters count: digits, blanks and signs stay and are not counted. */
const which = variant("kind", {
  /** Every so many-th letter, the first of them at `from`. */
  every: object({ kind: only("every"), nth: whole(1, 100), from: whole(1, 100) }),
  /** These letters, in either case. */
  listed: object({ kind: only("listed"), letters: text({ most: 200 }) }),
  /** In words of at least so many letters, all but so many at each end. */
  middle: object({ kind: only("middle"), least: whole(1, 100), keep: whole(0, 50) }),
});
export type WhichLetters = Of<typeof which>;

/** A column made of another's texts, some of whose letters become a sign. */
export const letters = object({ from: id, which, sign: text({ most: 20 }) });
export type Letters = Of<typeof letters>;

const isLetter = (sign: string) => /^\p{L}/u.test(sign);
/** A text in pieces as the eye takes them: a letter with its accents is one. */
const signsOf = (plain: string): string[] => plain.normalize("NFC").match(/\P{M}\p{M}*/gu) ?? [];

/** The text with these letters replaced, each by the sign. */
export function replacedLetters(plain: string, { which: wanted, sign }: Pick<Letters, "which" | "sign">): string {
  const signs = signsOf(plain);
  if (wanted.kind === "listed") {
    const listed = new Set(signsOf(wanted.letters.toLowerCase()));
    return signs.map((each) => (isLetter(each) && listed.has(each.toLowerCase()) ? sign : each)).join("");
  }
  if (wanted.kind === "every") {
    let count = 0;
    return signs
      .map((each) => {
        if (!isLetter(each)) return each;
        count++;
        return count >= wanted.from && (count - wanted.from) % wanted.nth === 0 ? sign : each;
      })
      .join("");
  }
  const replaced: string[] = [];
  for (let at = 0; at < signs.length;) {
    let end = at;
    while (end < signs.length && isLetter(signs[end] as string)) end++;
    const length = end - at;
    if (length === 0) {
      replaced.push(signs[at] as string);
      at++;
      continue;
    }
    for (let place = 0; place < length; place++)
      replaced.push(
        length >= wanted.least && place >= wanted.keep && place < length - wanted.keep
          ? sign
          : (signs[at + place] as string),
      );
    at = end;
  }
  return replaced.join("");
}
