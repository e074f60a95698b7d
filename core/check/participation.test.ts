import { expect, it } from "vitest";
import type { Participation } from "../design/participation";
import type { StudyDocument } from "../design/document";
import { plainStudy, withBlock } from "~/tests/support/studies";
import { participationProblems } from "./participation";

const found = (change: Partial<Participation>, document: StudyDocument = plainStudy()) => {
  Object.assign(document.settings.participation, { contact: "harbour@lapwing.example" }, change);
  return participationProblems(document).map(({ level, message }) => `${level}: ${message}`);
};

it("finds nothing in a study with a contact, and misses one that has none", () => {
  expect(found({})).toEqual([]);
  expect(found({ contact: " " })).toEqual([expect.stringMatching(/^note: No contact/)]);
});

it("warns of a language without wording, until the study has its own", () => {
  const finnish = { ...plainStudy(), language: "fi" };
  expect(found({}, finnish)).toEqual([expect.stringMatching(/^warning: .*“fi”.*texts are in English/)]);
});

it("notes breaks that never come", () => {
  const document = withBlock(
    plainStudy(),
    (block) => void (block.breaks = { everyTrials: 500, body: [], leastSeconds: 0 }),
  );
  expect(found({}, document)).toEqual([expect.stringMatching(/^note: It has \d+ trials, so a break after every 500/)]);
});
