import { expect, it } from "vitest";
import { replacedLetters } from "./letters";

it.each([
  ["every second letter, from the second", { kind: "every", nth: 2, from: 2 }, "The tide, 4 m.", "T_e _i_e, 4 _."],
  ["every third from the first", { kind: "every", nth: 3, from: 1 }, "gull", "_ul_"],
  ["letters of a list, in either case", { kind: "listed", letters: "aeü" }, "Über Ebbe, aber", "_b_r _bb_, _b_r"],
  ["the middle of long words", { kind: "middle", least: 5, keep: 1 }, "the harbour at dusk", "the h_____r at dusk"],
  ["accents written apart go with their letter", { kind: "every", nth: 2, from: 1 }, "e\u0301te\u0301", "_t_"],
  ["other scripts", { kind: "every", nth: 2, from: 1 }, "чайка", "_а_к_"],
] as const)("replaces %s", (_, which, text, expected) =>
  expect(replacedLetters(text, { which, sign: "_" })).toBe(expected),
);

it("leaves what is no letter, and a text without letters, as they are", () => {
  expect(replacedLetters("12:30 – 😀", { which: { kind: "every", nth: 1, from: 1 }, sign: "#" })).toBe("12:30 – 😀");
  expect(replacedLetters("", { which: { kind: "middle", least: 1, keep: 0 }, sign: "#" })).toBe("");
});
