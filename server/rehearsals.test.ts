import { expect, it } from "vitest";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { rehearsalAsked, rehearsalBody } from "./rehearsals";

const study = () => {
  const document = plainStudy();
  document.variables = [
    { id: "level", name: "level", type: "number", start: 1 },
    { id: "up", name: "flag_up", type: "yes-no", start: false },
    { id: "words", name: "words_left", type: "list", start: [] },
  ];
  return document;
};
const asked = (more: object) => rehearsalAsked(study(), { participant: 1, values: [], ...more });

it("takes the values as their variables hold them; what is emptied is empty", () => {
  const values = [
    ["level", "2,5"],
    ["up", "yes"],
    ["words", "gull; tern"],
    ["session.points", "4"],
  ];
  expect(asked({ values })).toMatchObject({
    given: { level: 2.5, up: true, words: ["gull", "tern"], "session.points": 4 },
    how: {},
  });
  expect(asked({ values: [["level", " "]] })).toMatchObject({ given: { level: null } });
});

it.each([
  [{ values: [["level", "many"]] }, "level: “many” is no number."],
  [{ values: [["up", "perhaps"]] }, "flag_up: “perhaps” is neither yes nor no."],
  [{ values: [["gone", "1"]] }, "A variable to be set is not there any more. Load the page again."],
  [
    { from: { part: "gone", trial: 1 } },
    "Participant 1 does not come to this part. Choose another, or another participant.",
  ],
])("says what is wrong with %j", (more, reason) => {
  expect(asked(more)).toEqual({ reason });
});

it("keeps from where and how it is played", () => {
  const from = { part: firstBlock(study()).id, trial: 2 };
  expect(asked({ from, speed: 4, stepwise: true })).toMatchObject({ how: { from, speed: 4, stepwise: true } });
});

it.each([
  [{ participant: 0 }, false],
  [{ participant: 1, speed: 3 }, false],
  [{ participant: 1, from: { part: "p" } }, false],
  [{ participant: 1, values: [["a", "b", "c"]] }, false],
  [{ participant: 1, secret: "x" }, false],
  [{ participant: 1 }, true],
  [{ participant: 1, from: { part: "p", trial: 3 }, values: [["a", ""]] }, true],
])("is asked for in one form: %j", (sent, isRight) => {
  expect(rehearsalBody.isValidSync(sent, { strict: true })).toBe(isRight);
});
