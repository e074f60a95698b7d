import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { played, unfolded } from "~/tests/support/played";
import { csv } from "../core/export/formats/csv";
import type { PersonsChange } from "../core/persons/change";
import type { Norm } from "../core/persons/norm";
import type { TrialScore } from "../core/persons/trial-score";
import { quantile } from "../core/stats/quantile";
import type { Store } from "./database/open";
import { bytesOf } from "./export/written";
import { tableFile } from "./export/study-data";
import { deleteSession } from "./forgetting";
import { changePersons, personsKept } from "./persons";
import { answered, type AnswerOf, type QuestionOf } from "./results/registry";
import type { Study } from "./studies";

const cost: TrialScore = {
  ...{ measure: "median", numbers: null, signal: null, where: [] },
  contrast: { column: "neighbours", of: "against", less: "with" },
};
const change = (store: Store, study: Study, what: PersonsChange) => changePersons(store, study, "me", what);
async function asked(store: Store, study: Study, query: string) {
  const { question, answer } = await answered(store, study, new URLSearchParams(query));
  return { question: question as QuestionOf<"scores">, answer: answer as AnswerOf<"scores"> };
}
async function sessions(store: Store, study: Study): Promise<Record<string, string>[]> {
  let text = "";
  for await (const piece of tableFile(store, study, "sessions", { format: csv, pilots: false }))
    text += Buffer.from(bytesOf(piece)).toString();
  return Papa.parse<Record<string, string>>(text.trimEnd(), { header: true }).data;
}
const median = (values: readonly number[]) => quantile(Float64Array.from(values).sort(), 0.5);

describe("scores over trials", () => {
  it("are columns of sessions, everywhere, with the numbers that unfolding the records gives", async () => {
    const { store, study } = await played(5);
    expect(await change(store, study, { do: "add-score", name: "cost", score: cost })).toMatchObject({ ok: true });
    const trials = await unfolded(store, study);
    const expected = (participant: number) => {
      const times = (level: string) =>
        trials.flatMap((trial) =>
          trial.participant === participant && trial.level === level && trial.right && trial.rt !== null
            ? [trial.rt]
            : [],
        );
      return median(times("against")) - median(times("with"));
    };
    const rows = await sessions(store, study);
    expect(rows).toHaveLength(5);
    for (const row of rows) expect(Number(row["cost"])).toBeCloseTo(expected(Number(row["participant"])), 9);
    const { question, answer } = await asked(store, study, "tab=scores&score=cost&order=score");
    expect(question.scores[0]).toMatchObject({ name: "cost" });
    const raws = answer.rows.map(({ raw }) => raw ?? NaN);
    expect(raws).toEqual(raws.toSorted((a, b) => a - b));
    expect(answer).toMatchObject({ total: 5, described: { n: 5 }, reliability: { n: 5 } });
    // It is a measure of conditions, and a column of records, too.
    const { answer: conditions } = await answered(store, study, new URLSearchParams("tab=conditions&of=column:cost"));
    expect((conditions as AnswerOf<"conditions">).sessions).toBe(5);
    const { answer: records } = await answered(
      store,
      study,
      new URLSearchParams("tab=records&rows=sessions&columns=participant,cost"),
    );
    const page = records as AnswerOf<"records">;
    const persons = async (query: string) =>
      (await answered(store, study, new URLSearchParams(`tab=persons&${query}`))).answer as AnswerOf<"persons">;
    const falling = await persons("order=-score:cost");
    expect(falling.rows.map(({ scores }) => scores[0])).toEqual(raws.toReversed());
    expect((await persons("scores=")).rows[0]?.scores).toEqual([]);
    expect((await persons("scores=strain,cost,none")).rows[0]?.scores).toHaveLength(2);
    expect(page.header).toEqual(["participant", "cost"]);
    expect(page.rows.map(([, value]) => Number(value)).toSorted((a, b) => a - b)[0]).toBeCloseTo(raws[0] ?? NaN, 9);
  });

  it("keep names that are free, are renamed with their norms, and say so where somebody else changed them", async () => {
    const { store, study } = await played(1);
    const made = await change(store, study, { do: "add-score", name: "cost", score: cost });
    if (!made.ok) throw new Error(made.reason);
    const refusals: [PersonsChange, string][] = [
      [{ do: "add-score", name: "Cost", score: cost }, "taken"],
      [{ do: "add-score", name: "participant", score: cost }, "family of built-in names"],
      [{ do: "add-score", name: "browser", score: cost }, "taken"],
      [{ do: "save-score", id: made.id, version: 7, score: cost }, "Somebody else"],
      [{ do: "remove-score", id: "score-none" }, "gone"],
    ];
    for (const [what, says] of refusals) {
      const answer = await change(store, study, what);
      expect([what.do, answer.ok ? "done" : answer.reason]).toEqual([what.do, expect.stringContaining(says)]);
    }
    await change(store, study, {
      do: "add-norm",
      norm: sample([{ n: null, where: [], values: { kind: "moments", mean: 20, sd: 10, isNormal: true } }]),
    });
    expect(await change(store, study, { do: "rename-score", id: made.id, name: "price" })).toMatchObject({ ok: true });
    const kept = await personsKept(store.db, study.id);
    expect(kept.scores.map(({ name }) => name)).toEqual(["price"]);
    expect(kept.norms.map(({ norm }) => norm.score)).toEqual(["price"]);
    expect(Object.keys((await sessions(store, study))[0] ?? {})).toEqual(
      expect.arrayContaining(["price", "price_percentile"]),
    );
    const { answer } = await asked(store, study, "tab=scores");
    expect(answer.levels.map(({ column }) => column)).toContain("neighbours");
  });
});

const sample = (bands: Norm["bands"]): Norm => ({
  ...{ score: "cost", name: "Harbour sample", source: "made up", year: 2024, better: "lower" },
  ...{ reliability: 0.8, interval: "obtained", bands },
});

describe("norm samples", () => {
  it("tell how each score stands, in the results and in every file; the person is left out of an own one", async () => {
    const { store, study } = await played(6);
    await change(store, study, { do: "add-score", name: "cost", score: cost });
    const { answer: before } = await asked(store, study, "tab=scores&score=cost&own=yes");
    await change(store, study, {
      do: "add-norm",
      norm: sample([{ n: before.own.length, where: [], values: { kind: "own", scores: before.own } }]),
    });
    const { answer } = await asked(store, study, "tab=scores&score=cost");
    expect(answer.norms).toMatchObject([{ isUsed: true, missing: [], reads: 6 }]);
    // What is shown does not carry the scores of everybody.
    expect(JSON.stringify(answer.norms)).not.toContain(before.own[0]?.session);
    for (const { session, raw, percentile } of answer.rows) {
      const others = before.own.filter((each) => each.session !== session).map(({ value }) => value);
      // A lower cost ranks higher.
      const below = others.filter((value) => value > (raw ?? NaN)).length;
      expect(percentile).toBeCloseTo((100 * below) / others.length, 9);
    }
    const rows = await sessions(store, study);
    for (const row of rows) {
      const own = answer.rows.find(({ session }) => session === row["session"]);
      expect(Number(row["cost_percentile"])).toBeCloseTo(own?.percentile ?? NaN, 6);
      expect(Number(row["cost_t"])).toBeCloseTo(own?.t ?? NaN, 6);
      expect(row["cost_norm"]).toBe("everybody");
    }
  });

  it("of the study’s own sessions forget whoever is deleted", async () => {
    const { store, study, sessions: ids } = await played(3);
    await change(store, study, { do: "add-score", name: "cost", score: cost });
    const { answer } = await asked(store, study, "tab=scores&score=cost&own=yes");
    const { own } = answer;
    await change(store, study, {
      do: "add-norm",
      norm: sample([{ n: own.length, where: [], values: { kind: "own", scores: own } }]),
    });
    const stored = async () =>
      (await store.db.selectFrom("norm_sample").select("norm").execute()).map(({ norm }) => norm);
    await deleteSession(store, study, ids[0] ?? "", { by: "me" });
    expect((await stored()).join()).not.toContain(ids[0]);
    expect((await stored()).join()).toContain(ids[1]);
    expect((await personsKept(store.db, study.id)).norms[0]?.norm.bands[0]?.n).toBe(2);
    // Of one alone there is no sample.
    await deleteSession(store, study, ids[1] ?? "", { by: "me" });
    expect(await stored()).toEqual([]);
  });

  it("are several, of which one is used; those that ask for what is not known say so, and raw times have no percentiles by means", async () => {
    const { store, study } = await played(2);
    await change(store, study, { do: "add-score", name: "cost", score: cost });
    await change(store, study, { do: "add-score", name: "pace", score: { ...cost, contrast: null } });
    const banded = sample([
      {
        n: 40,
        where: [{ column: "age", from: 20, to: 29 }],
        values: { kind: "moments", mean: 20, sd: 10, isNormal: true },
      },
    ]);
    const first = await change(store, study, { do: "add-norm", norm: banded });
    const again = await change(store, study, { do: "add-norm", norm: banded });
    expect(again.ok ? "added" : again.reason).toContain("already");
    await change(store, study, { do: "add-norm", norm: { ...banded, name: "Another" } });
    const told = await asked(store, study, "tab=scores&score=cost");
    expect(told.answer.norms.map(({ norm, isUsed }) => [norm.name, isUsed])).toEqual([
      ["Harbour sample", false],
      ["Another", true],
    ]);
    expect(told.answer.norms[0]).toMatchObject({ missing: ["age"], reads: 0 });
    expect(told.answer.rows[0]).toMatchObject({ percentile: null, band: "not known: age" });
    if (!first.ok) throw new Error(first.reason);
    await change(store, study, { do: "use-norm", id: first.id });
    await change(store, study, { do: "leave-norm", id: first.id });
    expect((await personsKept(store.db, study.id)).norms.map(({ isUsed }) => isUsed)).toEqual([false, false]);
    expect(Object.keys((await sessions(store, study))[0] ?? {})).not.toContain("cost_percentile");
    const raw = await change(store, study, {
      do: "add-norm",
      norm: {
        ...banded,
        score: "pace",
        bands: [{ n: 9, where: [], values: { kind: "moments", mean: 500, sd: 90, isNormal: true } }],
      },
    });
    expect(raw.ok ? "added" : raw.reason).toContain("Raw times are not normally distributed");
  });
});
