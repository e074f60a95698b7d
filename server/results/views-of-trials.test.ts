import { describe, expect, it } from "vitest";
import { freshRule, usualRules, type Rule } from "../../core/exclusions/registry";
import normalQuantile from "@stdlib/stats-base-dists-normal-quantile";
import { quantile } from "../../core/stats/quantile";
import { scoreOf } from "../../core/export/tables/score";
import { judge } from "../../core/design/starters/judge";
import { studyFrom } from "../../core/design/starters/starter";
import { countedIds } from "~/tests/support/studies";
import { played, unfolded } from "~/tests/support/played";
import type { Store } from "../database/open";
import { changeExclusions } from "../exclusions";
import { DataReader } from "../export/reader";
import { setExcluded } from "../sessions";
import type { Study } from "../studies";
import type { ConditionAnswer } from "./conditions";
import type { CourseAnswer } from "./course";
import type { DistributionAnswer } from "./distributions";
import type { PersonsAnswer } from "./persons";
import { answered } from "./registry";

const ask = async <Answer>(store: Store, study: Study, query: string) =>
  (await answered(store, study, new URLSearchParams(query))).answer as Answer;

describe("results made of trials", () => {
  it("are what the records say: quantiles, the course, and each person", async () => {
    const { store, study } = await played(3);
    const trials = await unfolded(store, study);
    const times = (of: (trial: (typeof trials)[number]) => boolean) =>
      [1, 2, 3].map((participant) =>
        trials
          .flatMap((trial) =>
            trial.participant === participant && trial.right === true && trial.rt !== null && of(trial)
              ? [trial.rt]
              : [],
          )
          .sort((a, b) => a - b),
      );
    const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

    const { curves } = await ask<DistributionAnswer>(store, study, "tab=distributions&by=");
    expect(curves[0]?.points.map(({ y }) => y)).toEqual(
      [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9].map(
        (share) => expect.closeTo(mean(times(() => true).map((own) => quantile(own, share))), 6) as number,
      ),
    );
    const byLevel = await ask<DistributionAnswer>(store, study, "tab=distributions&by=neighbours&shape=histogram");
    expect(byLevel.curves.reduce((sum, curve) => sum + curve.trials, 0)).toBe(times(() => true).flat().length);

    const course = await ask<CourseAnswer>(store, study, "tab=course&along=trial");
    const all = trials.map(({ trial }) => trial);
    const [low, high] = [Math.min(...all), Math.max(...all)];
    const width = Math.ceil((high - low + 1) / 12);
    expect(course.steps[0]).toBe(`${low}–${low + width - 1}`);
    for (const [at, { mean: shown, trials: count }] of course.cells.entries()) {
      const isIn = ({ trial }: { trial: number }) => Math.floor((trial - low) / width) === at;
      expect(count).toBe(trials.filter(isIn).length);
      expect(shown).toBeCloseTo(
        mean(
          times(isIn)
            .filter((own) => own.length > 0)
            .map(mean),
        ),
        6,
      );
    }

    const { rows } = await ask<PersonsAnswer>(store, study, "tab=persons");
    expect(rows.map(({ participant }) => participant)).toEqual([1, 2, 3]);
    for (const [at, row] of rows.entries()) {
      const own = trials.filter(({ participant }) => participant === at + 1);
      const scored = own.filter(({ right }) => right !== null);
      expect(row).toMatchObject({ trials: own.length, leftOutBy: null });
      expect(row.right).toBeCloseTo(scored.filter(({ right }) => right === true).length / scored.length, 9);
      expect(row.median).toBeCloseTo(quantile(times(() => true)[at]!, 0.5), 6);
    }
    await store.close();
  });

  it("tell what followed what, within a block", async () => {
    const { store, study } = await played(2);
    const same = await ask<CourseAnswer>(store, study, "tab=course&along=same&by=neighbours");
    expect(same.steps).toEqual(["the same", "another"]);
    const before = await ask<CourseAnswer>(store, study, "tab=course&along=before");
    const reader = await DataReader.open(store, study, { pilots: false });
    const counts = { after: [0, 0], same: [0, 0] };
    let last: { session: string; part: string; right: boolean | null; level: unknown } | null = null;
    for await (const batch of reader.trials())
      for (const source of batch) {
        const column = source.block.table.columns.find(({ name }) => name === "neighbours");
        const level = source.block.table.rows.find(({ id }) => id === source.record.row)?.cells[column?.id ?? ""];
        const now = { session: source.facts.session, part: source.block.id, right: scoreOf(source).right, level };
        if (last?.session === now.session && last.part === now.part && !source.block.practice) {
          counts.after[last.right === true ? 0 : 1]!++;
          counts.same[last.level === now.level ? 0 : 1]!++;
        }
        last = now;
      }
    const sums = (answer: CourseAnswer) =>
      answer.steps.map((step) =>
        answer.cells.filter((cell) => cell.step === step).reduce((sum, cell) => sum + cell.trials, 0),
      );
    expect(sums(before)).toEqual(counts.after);
    expect(sums(same)).toEqual(counts.same);
    await store.close();
  });

  it("show persons who are left out with the rule that does, and sort them", async () => {
    const { store, study, sessions } = await played(3);
    await setExcluded(store, study.id, sessions[1]!, true);
    const { rows } = await ask<PersonsAnswer>(store, study, "tab=persons");
    expect(rows.map(({ leftOutBy }) => leftOutBy)).toEqual([null, "Marked “does not count”", null]);
    // It is told what it would be.
    expect(rows[1]!.trials).toBe(rows[0]!.trials);
    expect(rows[1]!.median).toBeGreaterThan(0);
    const falling = await ask<PersonsAnswer>(store, study, "tab=persons&order=-median");
    const medians = falling.rows.map(({ median }) => median!);
    expect(medians).toEqual(medians.toSorted((a, b) => b - a));
    const byRule = await ask<PersonsAnswer>(store, study, "tab=persons&order=leftOutBy");
    expect(byRule.rows[0]!.participant).toBe(2);
    const rules = [...usualRules(), { ...freshRule("too-slow", "slow"), over: 1 } as Rule];
    await changeExclusions(store, study, "Ada", { do: "rules", set: null, version: 0, rules });
    const none = await ask<PersonsAnswer>(store, study, "tab=persons&order=nothing&sheet=-3");
    expect(none.rows.map(({ median, trials }) => [median, trials > 0 && trials < 20])).toEqual([
      [null, true],
      [expect.any(Number), false],
      [null, true],
    ]);
    await store.close();
  });

  it("compare by what the address asks for: differences within sessions and between groups, detection, too many levels", async () => {
    const { store, study, sessions } = await played(6);
    const trials = await unfolded(store, study);
    const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
    const middle = (participant: number, level: string) =>
      mean(
        trials.flatMap((trial) =>
          trial.participant === participant && trial.level === level && trial.right ? trial.rt! : [],
        ),
      );

    const less = "across=neighbours&from=against&less=with";
    const found = await ask<ConditionAnswer>(store, study, `by=neighbours&and=&${less}`);
    const gained = [1, 2, 3, 4, 5, 6].map((person) => middle(person, "against") - middle(person, "with"));
    expect(found.differences).toHaveLength(1);
    expect(found.differences[0]).toMatchObject({
      at: [],
      persons: [6],
      difference: expect.closeTo(mean(gained), 6) as number,
    });
    expect([found.within, found.between, found.factorial]).toEqual([["neighbours"], [], null]);

    const three = await ask<ConditionAnswer>(store, study, `by=neighbours&and=direction&then=group&tests=yes&${less}`);
    expect(three.levels.map(({ length }) => length)).toEqual([3, 2, 2]);
    expect([three.within, three.between]).toEqual([["neighbours", "direction"], ["group"]]);
    expect(three.factorial?.effects).toHaveLength(7);
    expect(three.differences.at(-1)?.at).toEqual([null, null]);
    const groups = await ask<ConditionAnswer>(store, study, "by=group&and=&across=group&from=Sunset&less=Sunrise");
    expect(groups.differences[0]?.effects.map(({ name }) => name)).toEqual(["d_s"]);
    // What is not there, or not compared, is not subtracted.
    for (const query of ["across=neighbours&from=nothing&less=with", "across=neighbours&from=with", "from=a&less=b"])
      expect((await ask<ConditionAnswer>(store, study, `by=neighbours&and=&${query}`)).differences).toEqual([]);

    const detected = await ask<ConditionAnswer>(store, study, "of=sensitivity&by=group&and=&signal=direction&is=left");
    const own = (level: "left" | "right") => {
      const reader = trials.filter(({ participant, direction }) => participant === 1 && direction === level);
      return {
        right: reader.filter(({ right }) => right).length,
        answered: reader.filter(({ rt }) => rt !== null).length,
        all: reader.length,
      };
    };
    const [left, right] = [own("left"), own("right")];
    const z = (share: number) => normalQuantile(share, 0, 1);
    const shown = detected.cells.flatMap(({ points }) => points).find(({ person }) => person === sessions[0]);
    expect(shown?.value).toBeCloseTo(
      z((left.right + 0.5) / (left.all + 1)) - z((right.answered - right.right + 0.5) / (right.all + 1)),
      9,
    );
    expect(detected.beside).toBeNull();
    await store.close();
  });

  it("compare by numbers that were given as answers", async () => {
    const { store, study } = await played(3, studyFrom(judge, countedIds(), "Sounds of the quay", "0A0A"));
    const reader = await DataReader.open(store, study, { pilots: false });
    const given: { participant: number; kind: unknown; value: number }[] = [];
    for await (const batch of reader.trials())
      for (const { facts, block, record } of batch) {
        const row = block.table.rows.find(({ id }) => id === record.row);
        const kind = row?.cells[block.table.columns.find(({ name }) => name === "kind")?.id ?? ""];
        const value = Number(record.answers[0]?.given?.value ?? NaN);
        if (!Number.isNaN(value)) given.push({ participant: facts.participant, kind, value });
      }
    const found = await ask<ConditionAnswer>(store, study, "of=column:answer&by=kind&and=");
    const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
    expect(found.cells.length).toBeGreaterThan(1);
    for (const { levels, mean: shown } of found.cells) {
      const own = [1, 2, 3].map((person) =>
        mean(
          given
            .filter(({ participant, kind }) => participant === person && kind === levels[0])
            .map(({ value }) => value),
        ),
      );
      expect(shown).toBeCloseTo(mean(own), 9);
    }
    // What is no column of numbers is no measure.
    expect((await ask<ConditionAnswer>(store, study, "of=column:kind&by=kind&and=")).beside).toBe("accuracy");
    await store.close();
  });
});
