import { list, object } from "../../shape/compound";
import { oneOf, text, title, whole, yesNo } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { asked, freshlyAsked } from "../base";
import { oneFrom, type QuestionKindOf } from "../kind";

const piece = object({
  /** So many letters or digits, taken from what the hint says. */
  of: oneOf("letters", "digits"),
  count: whole(1, 20),
  /** What to take them from, as participants read it. */
  hint: title(300),
});
export interface CodePiece extends Of<typeof piece> {}

const shape = object({
  ...asked("own-code"),
  /** The rule by which the code is made, piece by piece. */
  pieces: list(piece, 1, 10),
  /** It is typed a second time. */
  twice: yesNo,
});
export interface OwnCodeQuestion extends Of<typeof shape> {}

/** How a code is stored, however it was typed. */
export const codeAsStored = (typed: string): string => typed.normalize("NFC").replace(/[\s-]/g, "").toUpperCase();

/** An expression for codes that follow a rule. */
export const codeForm = (pieces: readonly CodePiece[]): RegExp =>
  new RegExp(`^${pieces.map(({ of, count }) => `${of === "letters" ? "\\p{L}" : "\\d"}{${count}}`).join("")}$`, "u");

/** A made-up code by this rule: what participants see as an example. */
export const codeExample = (pieces: readonly CodePiece[]): string =>
  pieces
    .map(({ of, count }) => (of === "letters" ? "MARSHWADERSANDBANKS" : "4071926358").repeat(2).slice(0, count))
    .join("");

const letters = "ABCDEFGHKLMNPRSTUVW";

export const ownCode: QuestionKindOf<OwnCodeQuestion, string> = {
  says: "code of one's own",
  stem: "code",
  shape,
  value: text({ most: 200 }),
  make: (newId, name) => ({
    ...freshlyAsked(
      "own-code",
      newId,
      name,
      "Please make up a code with which your answers can be put together later.",
    ),
    pieces: [
      { of: "letters", count: 3, hint: "the first three letters of a place you like" },
      { of: "digits", count: 2, hint: "any two digits" },
    ],
    twice: true,
  }),
  problem: ({ pieces }, given) =>
    codeForm(pieces).test(given) ? null : { words: "codePlease", values: { example: codeExample(pieces) } },
  whileTyping: { words: "codeDiffers" },
  type: () => "text",
  read: (_, given) => given,
  guess: ({ pieces }, stream) =>
    pieces
      .map(({ of, count }) =>
        Array.from({ length: count }, () =>
          of === "letters" ? oneFrom([...letters], stream) : String(stream.whole(0, 9)),
        ).join(""),
      )
      .join(""),
  seconds: () => 20,
};
