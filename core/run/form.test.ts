import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { anyForms, pageOf, question, studyOfPages } from "~/tests/support/forms";
import { compile } from "../compile/compile";
import type { StudyDocument } from "../design/document";
import { questionById } from "../design/questions";
import type { Entry } from "../questions/entry";
import { hasShape } from "../shape/shape";
import { outcomesIn } from "../records/outcomes";
import { recordShape, type SessionRecord } from "../records/record";
import { rawScore } from "../scores/score";
import { plainModel, simulateSession } from "../simulate/participant";
import { refKey } from "../values/uses";
import { Follower } from "./follower";
import { formIn } from "./form";
import { sessionMachine } from "./session-machine";
import { rebuild } from "./replay";
import type { InPage, SessionEvent, Step } from "./state";

/** A session driven by hand. */
function playing(document: StudyDocument) {
  const group = document.groups[0]!.id;
  const machine = sessionMachine(document, compile(document, 1, "s", group));
  let step: Step = machine.begin();
  const records: SessionRecord[] = [];
  const tell = (event: SessionEvent) => {
    step = machine.next(step.state, event);
    for (const command of step.commands) if (command.kind === "record") records.push(command.record);
    return step.commands;
  };
  const answer = (id: string, value: unknown, more: Partial<Entry> = {}) =>
    tell({
      kind: "page-answer",
      entry: { question: id, value, ratherNot: false, first: 5, last: 6, changes: 0, ...more },
    });
  const shown = () =>
    formIn(machine.course, step.state, step.state.phase as InPage).lines.flatMap((line) =>
      line.isShown ? [line.question.name] : [],
    );
  const asked = () => step.commands.flatMap((command) => (command.kind === "ask-again" ? command.problems : []));
  return { machine, tell, answer, shown, asked, records, state: () => step.state };
}

const yes = { option: "y" };
const options = [
  { id: "y", label: "yes" },
  { id: "n", label: "no" },
];

describe("a page that asks", () => {
  const study = studyOfPages([
    pageOf("one", [
      question("one-of", "noticed", { options }),
      question("long-text", "what", {
        need: "must",
        when: { left: { from: { question: "q-noticed" } }, is: "=", right: "yes" },
      }),
    ]),
    pageOf("two", [question("scale", "effort", { need: "may" })], { back: true }),
  ]);

  it("shows what hangs on an answer, keeps what was hidden again, and does not count it", () => {
    const { tell, answer, shown, asked, records } = playing(study);
    tell({ kind: "page-shown", at: 0 });
    expect(shown()).toEqual(["noticed"]);
    answer("q-noticed", yes);
    expect(shown()).toEqual(["noticed", "what"]);
    tell({ kind: "continue", at: 10 });
    expect(asked().map(({ question: id, problem }) => [id, problem.words])).toEqual([["q-what", "answerPlease"]]);
    answer("q-what", "They walked away.");
    answer("q-noticed", { option: "n" });
    tell({ kind: "continue", at: 20 });
    expect(records).toMatchObject([
      {
        kind: "page",
        part: "one",
        reminded: 10,
        answers: [
          { question: "q-noticed", state: "answered", value: { option: "n" } },
          { question: "q-what", state: "not-shown", value: "They walked away." },
        ],
      },
    ]);
    expect(Object.keys(outcomesIn(records))).toEqual(["q-noticed", "q-what"]);
  });

  it("goes on unanswered after one reminder", () => {
    const { tell, asked, records } = playing(study);
    tell({ kind: "page-shown", at: 0 });
    tell({ kind: "continue", at: 10 });
    expect(asked()).toHaveLength(1);
    tell({ kind: "continue", at: 12 });
    expect(records[0]).toMatchObject({ answers: [{ state: "skipped", value: null }, { state: "not-shown" }] });
  });

  it("goes back with everything that was answered, and records each visit", () => {
    const { tell, answer, records, state } = playing(study);
    tell({ kind: "page-shown", at: 0 });
    answer("q-noticed", { option: "n" });
    tell({ kind: "continue", at: 10 });
    tell({ kind: "page-shown", at: 11 });
    answer("q-effort", { point: 3 });
    tell({ kind: "back", at: 12 });
    expect(state().phase).toMatchObject({
      kind: "page",
      part: 0,
      entries: { "q-noticed": { value: { option: "n" } } },
    });
    tell({ kind: "page-shown", at: 13 });
    tell({ kind: "continue", at: 14 });
    expect(state().phase).toMatchObject({ entries: { "q-effort": { value: { point: 3 } } } });
    tell({ kind: "page-shown", at: 15 });
    tell({ kind: "continue", at: 16 });
    expect(records.map((record) => [record.kind, "left" in record ? record.left : null])).toEqual([
      ["page", null],
      ["page", "back"],
      ["page", null],
      ["page", null],
      ["end", null],
    ]);
  });

  it("keeps what was answered when the participant leaves for good in the middle", () => {
    const { tell, answer, records } = playing(study);
    tell({ kind: "page-shown", at: 0 });
    answer("q-noticed", yes);
    tell({ kind: "withdraw", at: 9 });
    expect(records).toMatchObject([
      { kind: "page", left: "withdrawn", answers: [{ value: yes }, { value: null }] },
      { kind: "end", withdrawn: true },
    ]);
  });

  it("takes no answer to a question of another page, and none of another form", () => {
    const { tell, answer, state } = playing(study);
    tell({ kind: "page-shown", at: 0 });
    answer("q-effort", { point: 3 });
    answer("q-noticed", "yes");
    expect((state().phase as InPage).entries).toEqual({});
  });

  it("goes on by itself when its time is up, and not sooner", () => {
    const timed = studyOfPages([
      pageOf("t", [question("number", "age", { need: "must", least: 18 })], { time: { most: 5, countdown: false } }),
    ]);
    const { tell, answer, records } = playing(timed);
    tell({ kind: "page-shown", at: 100 });
    answer("q-age", 12);
    tell({ kind: "time-up", at: 3000 });
    expect(records).toEqual([]);
    tell({ kind: "time-up", at: 5100 });
    expect(records).toMatchObject([{ left: "time", answers: [{ state: "timed-out", value: 12 }] }, { kind: "end" }]);
  });

  it("ends the session for who cannot take part, and tells how", () => {
    const screened = studyOfPages([
      pageOf("age", [question("number", "age")], {
        endings: [
          {
            id: "young",
            when: { left: { from: { question: "q-age" } }, is: "<", right: 18 },
            as: "screened-out",
            text: [],
          },
        ],
      }),
      pageOf("next", []),
    ]);
    const young = playing(screened);
    young.tell({ kind: "page-shown", at: 0 });
    young.answer("q-age", 17);
    young.tell({ kind: "continue", at: 5 });
    expect(young.records.at(-1)).toMatchObject({
      kind: "end",
      ended: { as: "screened-out", part: "age", ending: "young" },
    });
    const old = playing(screened);
    old.tell({ kind: "page-shown", at: 0 });
    old.answer("q-age", 18);
    old.tell({ kind: "continue", at: 5 });
    expect(old.state().phase).toMatchObject({ kind: "page", part: 1 });
  });
});

describe("any forms", () => {
  it("come out of their records as they were played, are believed by the server, and score the same there", () => {
    fc.assert(
      fc.property(anyForms, fc.integer({ min: 1, max: 40 }), (document, participant) => {
        const group = document.groups[0]!.id;
        const { records } = simulateSession(document, participant, { group, orders: {} }, "s", {
          ...plainModel,
          forms: { skips: 0.3, knows: { "": 0.5 } },
        });
        const sent = JSON.parse(JSON.stringify(records)) as SessionRecord[];
        for (const record of sent) expect(hasShape(recordShape, record)).toBe(true);
        const follower = new Follower(document, { participant, group, orders: {}, seed: "s" });
        for (const record of sent) expect(follower.take(record)).toBeNull();
        const machine = sessionMachine(document, compile(document, participant, "s", group));
        const { state } = rebuild(machine, sent);
        const [score] = document.scores;
        const raw = rawScore(score!, questionById(document), outcomesIn(sent));
        expect(machine.context(state).tally.answers[refKey({ score: "total" })]?.value ?? null).toBe(raw);
      }),
      { numRuns: 150 },
    );
  });

  it("are not believed where an answer was changed on the way", () => {
    const document = studyOfPages([pageOf("p", [question("scale", "effort", { need: "must" })])]);
    const group = document.groups[0]!.id;
    const { records } = simulateSession(document, 1, { group, orders: {} }, "s", plainModel);
    const [page] = JSON.parse(JSON.stringify(records)) as Extract<SessionRecord, { kind: "page" }>[];
    const follower = () => new Follower(document, { participant: 1, group, orders: {}, seed: "s" });
    const answer = page!.answers![0]!;
    expect(follower().take({ ...page!, answers: [{ ...answer, value: { point: 99 } }] } as SessionRecord)).toMatch(
      /comes next/,
    );
    expect(
      follower().take({ ...page!, answers: [{ ...answer, state: "rather-not" }] } as SessionRecord),
    ).not.toBeNull();
    expect(follower().take({ ...page!, answers: [{ ...answer, last: page!.done + 1 }] } as SessionRecord)).toMatch(
      /times/,
    );
    expect(follower().take({ ...page!, left: "time" } as SessionRecord)).not.toBeNull();
    expect(follower().take(page as SessionRecord)).toBeNull();
  });
});
