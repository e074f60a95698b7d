import { describe, expect, it } from "vitest";
import { studyWithOpening } from "~/tests/support/forms";
import type { Stratum } from "../design/allocation";
import type { StudyDocument } from "../design/document";
import type { Outcomes } from "../scores/score";
import { toldOf } from "../run/told";
import { levelsOf, stratumInWords, stratumOf } from "./strata";

const withStrata = (...strata: Stratum[]): StudyDocument => {
  const study = studyWithOpening();
  return { ...study, allocation: { ...study.allocation, strata } };
};
const answered = (value: unknown) => ({ state: "answered" as const, value });
const of = (study: StudyDocument, outcomes: Outcomes, parameters: Record<string, string> = {}) =>
  stratumOf(study, parameters, toldOf(study, outcomes));

describe("strata", () => {
  it("divide numbers where it is said, each beginning at its number", () => {
    const study = withStrata({ from: { question: "q-age" }, cuts: [60, 30] });
    const [stratum] = study.allocation.strata;
    expect(levelsOf(study, stratum!)).toEqual(["below 30", "30 to below 60", "60 or more", "no answer"]);
    const level = (age: number) => of(study, { "q-age": answered(age) });
    expect([18, 29.9, 30, 59, 60, 99].map(level)).toEqual(
      ["below 30", "below 30", "30 to below 60", "30 to below 60", "60 or more", "60 or more"].map((name) => ({
        name,
      })),
    );
  });

  it("are the options of a question; who did not answer is a stratum too", () => {
    const study = withStrata({ from: { question: "q-takes-part" } });
    expect(levelsOf(study, study.allocation.strata[0]!)).toEqual(["yes", "no", "no answer"]);
    expect(of(study, { "q-takes-part": answered({ option: "no" }) })).toEqual({ name: "no" });
    expect(of(study, { "q-takes-part": { state: "skipped", value: null } })).toEqual({ name: "no answer" });
    expect(of(study, {})).toEqual({ name: "no answer" });
  });

  it("by the link and by an answer are told together, and a link that does not tell is found", () => {
    const study = withStrata(
      { parameter: "hand", values: ["left", "right"] },
      { from: { question: "q-age" }, cuts: [30] },
    );
    expect(of(study, { "q-age": answered(44) }, { hand: " Left " })).toEqual({ name: "left · 30 or more" });
    expect(of(study, {}, { hand: "both" })).toEqual({ missing: { parameter: "hand", values: ["left", "right"] } });
    expect(study.allocation.strata.map((each) => stratumInWords(study, each))).toEqual(["hand", "age"]);
  });
});
