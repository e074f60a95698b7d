import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { drawing, drawn, own } from "~/tests/support/pools";
import { anyStudy, countedIds } from "~/tests/support/studies";
import { plannedAssignment } from "../allocate/allocate";
import type { StudyDocument } from "../design/document";
import { newStudy } from "../design/new-study";
import { starters } from "../design/starters/registry";
import { studyFrom } from "../design/starters/starter";
import type { SessionRecord, TrialRecord } from "../records/record";
import { plainModel, simulateSession } from "../simulate/participant";

import { Follower } from "./follower";

const played = (document: StudyDocument, participant = 1, seed = "AB12") => {
  const assignment = plannedAssignment(document, participant);
  const { records } = simulateSession(document, participant, assignment, seed, plainModel);
  return { records, follower: () => new Follower(document, { participant, ...assignment, seed }) };
};
const taken = (follower: Follower, records: readonly SessionRecord[]) => records.map((record) => follower.take(record));
const sent = (records: readonly SessionRecord[]) => JSON.parse(JSON.stringify(records)) as SessionRecord[];

describe("a session that was played", () => {
  it("is followed to its end, whatever the study", () => {
    fc.assert(
      fc.property(anyStudy, fc.integer({ min: 1, max: 40 }), (document, participant) => {
        const { records, follower } = played(document, participant);
        expect(taken(follower(), sent(records)).filter((each) => each !== null)).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });

  it.each(starters.map((starter) => [starter.id, starter] as const))("is followed: %s", (_, starter) => {
    const { records, follower } = played(studyFrom(starter, countedIds(), "Terns", "AB12"), 3);
    const one = follower();
    expect(taken(one, sent(records)).filter((each) => each !== null)).toEqual([]);
    expect(one.position).toBe(records.length);
  });
});

describe("a session that was not", () => {
  const { records, follower } = played(newStudy(countedIds(), "Terns", "AB12"));
  const at = records.findIndex(({ kind }) => kind === "trial");
  const trial = records[at] as TrialRecord;
  const changed = (change: (record: TrialRecord) => void) => {
    const copy = structuredClone(trial);
    change(copy);
    return copy;
  };
  const after = (count: number) => {
    const one = follower();
    taken(one, records.slice(0, count));
    return one;
  };

  it.each<[string, number, SessionRecord, RegExp]>([
    ["an end as its first record", 0, { kind: "end", number: 1, at: 5 }, /not what comes next/],
    ["a trial before the page", 0, { ...trial, number: 1 }, /./],
    ["a record that leaves one out", 0, records[1]!, /record 1 is to come next/],
    ["another row", at, changed((record) => void (record.row = "row-99")), /has row/],
    ["another pass", at, changed((record) => void (record.pass = 2)), /in pass 1/],
    ["a later trial", at, changed((record) => void (record.trial = 2)), /trial 1 is to come next/],
    ["times that run backwards", at, changed((record) => void (record.scenes[1]!.onset = 1)), /times do not increase/],
    [
      "a time before what was recorded",
      at,
      changed((record) => void record.scenes.forEach((s) => ((s.onset = 0), (s.end = 0)))),
      /times do not increase/,
    ],
    ["no scenes", at, changed((record) => void (record.scenes = [])), /./],
    [
      "an answer that is called right and was not",
      at,
      changed(({ answers }) => void (answers[0]!.right = !answers[0]!.right)),
      /answered otherwise/,
    ],
    [
      "more answers than are kept of a trial",
      at,
      changed(({ answers }) => void (answers[0]!.revised = Array.from({ length: 501 }, () => answers[0]!.given!))),
      /more answers than are kept/,
    ],
    ["an answer that no device gives", at, changed(({ answers }) => void (answers[0]!.early = [null as never])), /./],
    ["an end before the last part", at + 1, { kind: "end", number: at + 2, at: 1e6 }, /not what comes next/],
    [
      "anything after the end",
      records.length,
      { kind: "page", number: records.length + 1, part: "page-1", shown: 1e7, done: 1e7 },
      /has ended/,
    ],
  ])("is not followed: %s", (_, count, record, why) => {
    const one = after(count);
    expect(one.take(record)).toMatch(why);
    // What was refused leaves no trace.
    expect(one.position).toBe(count);
    if (count < records.length) expect(one.take(records[count]!)).toBeNull();
  });

  it("is not followed with another row of a pool than was drawn", () => {
    const study = drawing({ each: 3, inPool: 6 }, (block) => block.table.columns.push(drawn("seen", own())));
    const { records: drew, follower: fresh } = played(study);
    const first = drew.findIndex(({ kind }) => kind === "trial");
    const record = sent(drew)[first] as TrialRecord;
    const { fromPools, ...without } = record;
    for (const forged of [{ ...record, fromPools: { ...fromPools, seen: "fish99" } }, without]) {
      const one = fresh();
      taken(one, drew.slice(0, first));
      expect(one.take(forged)).toMatch(/drew something else/);
      expect(one.take(record)).toBeNull();
    }
  });

  it("can be left at any moment, and ends with that", () => {
    const one = after(at + 1);
    const end: SessionRecord = { kind: "end", number: at + 2, at: 1e6, withdrawn: true };
    expect(one.take(end)).toBeNull();
    expect(one.take({ ...end, number: at + 3 })).toMatch(/has ended/);
  });
});
