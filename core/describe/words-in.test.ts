import { expect, it } from "vitest";
import { plainStudy } from "~/tests/support/studies";
import { wordsIn } from "./words-in";

it("finds what people wrote in a design, whatever the case, and none of its bookkeeping", () => {
  const study = {
    ...plainStudy(),
    description: "Which way does the dunlin look when the tide has gone out in the morning?",
  };
  expect(wordsIn(study, "DUNLIN look")).toBe("Which way does the dunlin look when the tide has gone out in…");
  expect(wordsIn(study, "in the morning")).toBe("…ok when the tide has gone out in the morning?");
  for (const own of ["shuffled", "lapwing-study", "permuted", "", "  "])
    expect([own, wordsIn(study, own)]).toEqual([own, null]);
});
