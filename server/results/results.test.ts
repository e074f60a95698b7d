import { describe, expect, it } from "vitest";
import { simulateSession, plainModel } from "../../core/simulate/participant";
import { released } from "~/tests/support/store";
import { drawing, drawn, own } from "~/tests/support/pools";
import { firstBlock } from "~/tests/support/studies";
import { compile } from "../../core/compile/compile";
import { compilePlanned } from "../../core/compile/planned";
import { setColumn } from "../../core/design/edits/table";
import { applyEdit } from "../../core/design/edits/edit";
import { counts } from "../../core/export/tables/standing";
import { usualRules } from "../../core/exclusions/registry";
import { scoreOf } from "../../core/export/tables/score";
import { trialColumns } from "../../core/export/tables/trials";
import type { BrokenOffRecord, SessionRecord } from "../../core/records/record";
import { centreNames, centreOf } from "../../core/stats/centre";
import { newSecret } from "../chance";
import { changeExclusions } from "../exclusions";
import type { Store } from "../database/open";
import { DataReader } from "../export/reader";
import { appendRecords } from "../records";
import { freezeRelease } from "../releases";
import { setExcluded, startSession } from "../sessions";
import { findStudyByCode, saveEdit, type Study } from "../studies";
import type { ConditionAnswer, ConditionQuestion } from "./conditions";
import { answered } from "./registry";

/** A session played to its end, or left after its first page. */
async function taken(store: Store, token: string, change = (records: SessionRecord[]) => records): Promise<string> {
  const secret = newSecret();
  const started = await startSession(store, token, secret, "test browser");
  if (!started.ok) throw new Error(started.reason);
  const { document, participant, group, orders, seed, session } = started.session;
  const { records } = simulateSession(document, participant, { group, orders }, seed, plainModel);
  await appendRecords(store, secret, change(records));
  return session;
}
const leaves = ([page]: SessionRecord[]): SessionRecord[] => [
  ...(page ? [page] : []),
  { kind: "end", number: 2, at: 60_000, withdrawn: true },
];

const ask = async (store: Store, study: Study, query: string) => {
  const found = await answered(store, study, new URLSearchParams(query));
  return { ...found, question: found.question as ConditionQuestion, answer: found.answer as ConditionAnswer };
};

describe("results", () => {
  it("leave out what does not count and who has left, say how many, and take them in when asked", async () => {
    const { store, study, link } = await released();
    const [first] = [
      await taken(store, link.token),
      await taken(store, link.token),
      await taken(store, link.token, leaves),
    ];
    await setExcluded(store, study.id, first, true);
    const usual = await ask(store, study, "by=word&and=");
    expect(usual).toMatchObject({ started: 3, finished: 2, apart: { withdrawn: 1, notTaken: 0 }, all: false });
    expect(usual.answer).toMatchObject({ sessions: 1, trials: 2 });
    const all = await ask(store, study, "by=word&and=&all=yes");
    // Whoever left is asked about, and did nothing; what was marked stays out for as long as the rule says so.
    expect([all.all, all.answer.sessions, all.answer.trials]).toEqual([true, 1, 2]);
    expect([usual, all].map(({ ledger }) => ledger.counts.sessions)).toEqual([
      { in: 2, kept: 1 },
      { in: 3, kept: 2 },
    ]);
    const [marked, ...others] = usualRules();
    const rules = [{ ...marked!, isOn: false }, ...others];
    await changeExclusions(store, study, "Ada", { do: "rules", set: null, version: 0, rules });
    expect((await ask(store, study, "by=word&and=")).answer).toMatchObject({ sessions: 2, trials: 4 });
    // Nothing is left out of the data; they say it.
    const reader = await DataReader.open(store, study, { pilots: false });
    expect(reader.sittings.map(({ facts }) => [facts.participant, counts(facts)])).toEqual([
      [1, false],
      [2, true],
      [3, false],
    ]);
  });

  it("compare by the middle of each person's times that is asked for", async () => {
    const { store, study, link } = await released();
    for (let count = 0; count < 3; count++) await taken(store, link.token);
    const reader = await DataReader.open(store, study, { pilots: false });
    const times: number[][] = [];
    for await (const batch of reader.trials())
      for (const source of batch) {
        const { right, rt } = scoreOf(source);
        if (right === true && rt !== null) (times[source.facts.participant] ??= []).push(rt);
      }
    for (const centre of centreNames) {
      const { answer } = await ask(store, study, `by=part&and=&of=${centre}`);
      const own = times.flatMap((each) => centreOf(each, centre) ?? []);
      expect(answer.cells[0]?.mean).toBeCloseTo(own.reduce((sum, each) => sum + each, 0) / own.length, 9);
    }
  });

  it("compare by what was drawn from a pool, trial by trial", async () => {
    const study = drawing({ each: 6, inPool: 8 }, (block) =>
      block.table.columns.push({
        ...drawn("sort", own({ takes: { is: "value", column: "kind" }, where: [] })),
        factor: true,
      }),
    );
    const { store, study: kept, link } = await released(study);
    await taken(store, link.token);
    const { participant, group, orders, seed } = compilePlanned(study, 1);
    const planned = compile(study, participant, seed, group, orders).parts.flatMap((part) =>
      part.kind === "block" ? part.trials : [],
    );
    const often = (sort: string) => planned.filter(({ values }) => values["sort"] === sort).length;
    const { answer } = await ask(store, kept, "by=sort&and=");
    expect(answer.levels[0]).toEqual(["fish", "bird"]);
    expect(answer.trials).toBe(12);
    expect(answer.cells.map(({ trials }) => trials)).toEqual([often("fish"), often("bird")]);
    await store.close();
  });

  it("know a column by its id over releases, whatever it is called in each and in the draft", async () => {
    const { store, study, link } = await released();
    await taken(store, link.token);
    const column = firstBlock(study.document).table.columns.find(({ name }) => name === "word")!;
    const renamed = async (name: string): Promise<Study> => {
      const edit = setColumn(firstBlock(study.document).id, column.id, { name });
      const { patches, inverse } = applyEdit(study.document, edit);
      await saveEdit(store, study.id, study.revision, patches, inverse);
      return (await findStudyByCode(store, study.code))!;
    };
    const draft = await renamed("noun");
    const before = await ask(store, draft, "by=noun&and=");
    expect(before.question).toMatchObject({ by: ["word"], columns: expect.arrayContaining(["word"]) as string[] });
    expect(before.answer.levels[0]).toEqual(["gull", "ferry"]);
    const second = await freezeRelease(store, draft, "Renamed.", { waves: [link.waveId] });
    if (!second.ok) throw new Error("not frozen");
    await taken(store, link.token);
    const after = await ask(store, draft, "by=noun&and=");
    expect(after.question.columns).toContain("noun");
    expect(after.question.columns).not.toContain("word");
    expect(after.answer).toMatchObject({ levels: [["gull", "ferry"]], trials: 4, sessions: 2 });
    expect(after.answer.cells.map(({ persons }) => persons)).toEqual([2, 2]);
  });

  it("read a session again only when it has gone on", async () => {
    const { store, study, link } = await released();
    await taken(store, link.token);
    const whole = await ask(store, study, "by=word&and=");
    await store.db.updateTable("record").set({ body: "{}" }).where("kind", "=", "trial").execute();
    expect((await ask(store, study, "by=key&and=")).answer.trials).toBe(whole.answer.trials);
  });
});

it("a trial that was broken off and played again is the second attempt, in the trials and among the events", async () => {
  const { store, study, link } = await released();
  await taken(store, link.token, (records) => {
    const at = records.findIndex(({ kind }) => kind === "trial");
    const trial = records[at];
    if (trial?.kind !== "trial") throw new Error("no trial");
    const { lateFrames, ...played } = trial;
    expect(lateFrames).toBe(0);
    const broken: BrokenOffRecord = { ...played, kind: "broken-off", at: trial.scenes.at(-1)!.end, why: "focus" };
    return [...records.slice(0, at), broken, ...records.slice(at)].map((record, index) => ({
      ...record,
      number: index + 1,
    }));
  });
  const reader = await DataReader.open(store, study, { pilots: false });
  const attempts: unknown[] = [];
  const column = trialColumns(reader.documents).find(({ name }) => name === "attempt");
  for await (const batch of reader.trials()) attempts.push(...batch.map((source) => column?.read(source)));
  expect(attempts).toEqual([2, 1]);
});
