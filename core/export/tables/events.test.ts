import { expect, it } from "vitest";
import { plainStudy } from "~/tests/support/studies";
import { blocksInOrder } from "../../design/lookup";
import type { SessionRecord } from "../../records/record";
import { eventColumns, sessionEvents } from "./events";
import { shownTable } from "./table";

it("puts scenes, answers, interruptions and what was logged into one order of time", () => {
  const document = plainStudy();
  const [block] = blocksInOrder(document);
  const [scene, answer] = [block?.scenes[0], block?.answers[0]];
  if (!block || !scene || !answer) throw new Error("no block");
  const input = { device: "keys" as const, value: "f" };
  const broken: SessionRecord = {
    kind: "broken-off",
    number: 1,
    part: block.id,
    trial: 1,
    pass: 1,
    row: "r",
    scenes: [{ scene: scene.id, onset: 10.0004, end: 90, planned: 200 }],
    answers: [
      {
        answer: answer.id,
        given: null,
        right: null,
        outcome: "too early",
        early: [{ value: "f", at: 30, scenesShown: 1, order: 1, input }],
        tooLate: null,
        revised: [],
      },
    ],
    observed: [],
    placed: {},
    at: 90,
    why: "focus",
  };
  const events = sessionEvents(
    { study: "a", session: "s", participant: 3, pilot: false, state: "withdrawn", isExcluded: false },
    document,
    [broken, { kind: "end", number: 2, at: 95, withdrawn: true }],
    [
      {
        opening: "o",
        number: 1,
        entries: [
          { at: 88, what: "focus-lost", trial: 1 },
          { at: 29.9, what: "key-down", trial: 1, value: "f KeyF" },
        ],
      },
    ],
  );
  const { header, rows } = shownTable(eventColumns([document]), events);
  expect(header.slice(-4)).toEqual(["attempt", "pilot", "counts", "session_state"]);
  expect(rows.map((row) => row.slice(2))).toEqual([
    [3, 10, "scene", block.name, 1, scene.name, "", 1, "no", "no", "withdrawn"],
    [3, 29.9, "key-down", "", 1, "", "f KeyF", 1, "no", "no", "withdrawn"],
    [3, 30, "answer-early", block.name, 1, answer.name, "f", 1, "no", "no", "withdrawn"],
    [3, 88, "focus-lost", "", 1, "", "", 1, "no", "no", "withdrawn"],
    [3, 90, "trial-broken-off", block.name, 1, "", "focus", 1, "no", "no", "withdrawn"],
    [3, 95, "withdrawn", "", null, "", "", null, "no", "no", "withdrawn"],
  ]);
});
