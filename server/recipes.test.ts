import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { freshRule, usualRules } from "../core/exclusions/registry";
import { formatNames } from "../core/export/formats/registry";
import type { MeasureColumn, Recipe } from "../core/export/recipes/recipe";
import { freshRecipe } from "../core/export/recipes/templates";
import { played, playedBy, unfolded } from "~/tests/support/played";
import { freshOwner, released } from "~/tests/support/store";
import { plainStudy } from "~/tests/support/studies";
import type { Store } from "./database/open";
import { changeExclusions } from "./exclusions";
import { availableIn, openRecipe } from "./export/recipe-table";
import { recipeFile } from "./export/recipe-file";
import { DataReader } from "./export/reader";
import { bytesOf } from "./export/written";
import { changeRecipe, noteRead, recipeCalled, recipesOf } from "./recipes";
import { setExcluded } from "./sessions";
import { addStudy, type Study } from "./studies";

async function begun(store: Store, study: Study, rows: Recipe["rows"]): Promise<Recipe> {
  const { columns, levels } = await availableIn(store, await DataReader.open(store, study, { pilots: false }), rows);
  return freshRecipe(rows, { columns, levels: [...levels].map(([column, own]) => ({ column, levels: [...own] })) });
}
async function bytes(store: Store, study: Study, recipe: Recipe): Promise<Buffer> {
  const pieces: Uint8Array[] = [];
  for await (const piece of recipeFile(store, study, recipe)) pieces.push(bytesOf(piece));
  return Buffer.concat(pieces);
}
const rowsOf = async (store: Store, study: Study, recipe: Recipe) =>
  Papa.parse<Record<string, string>>((await bytes(store, study, recipe)).toString().trimEnd(), { header: true }).data;
const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

describe("the file of a recipe", () => {
  it("leaves out by the set of exclusions it names, or else by the one in use", async () => {
    const { store, study } = await played(3);
    const fresh = { ...(await begun(store, study, "trial")), trials: "kept" as const };
    const take = { do: "take" as const, name: "With practice", rules: [] };
    expect(await changeExclusions(store, study, "me", { do: "add", from: null, name: "Usual ones" })).toEqual({
      ok: true,
    });
    expect(await changeExclusions(store, study, "me", take)).toEqual({ ok: true });
    const practices = async (recipe: Recipe) =>
      (await rowsOf(store, study, recipe)).filter(({ practice }) => practice === "yes").length;
    // What was taken last is in use.
    expect(await practices(fresh)).toBeGreaterThan(0);
    expect(await practices({ ...fresh, exclusions: "Usual ones" })).toBe(0);
    expect(await practices({ ...fresh, exclusions: "With practice" })).toBe(await practices(fresh));
    const { misfits, done } = await openRecipe(store, study, { ...fresh, exclusions: "Gone" });
    await done();
    expect(misfits).toEqual(["There are no exclusions “Gone” here: those in use are taken."]);
  });

  it("has persons with the numbers that unfolding their records gives, and differences of these", async () => {
    const { store, study } = await played(4);
    const trials = await unfolded(store, study);
    const fresh = await begun(store, study, "person");
    const recipe: Recipe = {
      ...fresh,
      columns: [...fresh.columns, { is: "difference", of: "rt_against", less: "rt_with", name: "cost" }],
    };
    const rows = await rowsOf(store, study, recipe);
    expect(rows.map(({ participant }) => participant)).toEqual(["1", "2", "3", "4"]);
    for (const row of rows) {
      const own = (level: string) =>
        trials.filter((trial) => trial.participant === Number(row["participant"]) && trial.level === level);
      const time = (level: string) => mean(own(level).flatMap(({ right, rt }) => (right && rt !== null ? [rt] : [])));
      expect(Number(row["rt_with"])).toBeCloseTo(time("with"), 9);
      expect(Number(row["accuracy_none"])).toBeCloseTo(mean(own("none").map(({ right }) => Number(right))), 9);
      expect(Number(row["cost"])).toBeCloseTo(time("against") - time("with"), 9);
    }
    // Long: the same numbers, a row a condition, in the order of the design.
    const long = await rowsOf(store, study, await begun(store, study, "person-condition"));
    expect(long.map(({ participant, neighbours }) => `${participant} ${neighbours}`)).toEqual(
      rows.flatMap(({ participant }) => ["with", "against", "none"].map((level) => `${participant} ${level}`)),
    );
    for (const { participant, neighbours, rt } of long)
      expect(rt).toBe(rows.find((row) => row["participant"] === participant)?.[`rt_${neighbours}`]);
  });

  it("leaves out what the exclusions leave out, unless all is asked for", async () => {
    const { store, study, sessions } = await played(3);
    await setExcluded(store, study.id, sessions[1]!, true);
    const kept = await begun(store, study, "trial");
    const trials = await unfolded(store, study);
    const rows = await rowsOf(store, study, kept);
    expect(rows).toHaveLength(trials.filter(({ participant }) => participant !== 2).length);
    expect(new Set(rows.map(({ practice }) => practice))).toEqual(new Set(["no"]));
    const all = await rowsOf(store, study, { ...kept, trials: "all" });
    expect(new Set(all.map(({ practice }) => practice))).toEqual(new Set(["no", "yes"]));
    const begunAll = await rowsOf(store, study, { ...kept, sessions: "all" });
    expect(new Set(begunAll.map(({ participant }) => participant))).toEqual(new Set(["1", "3"]));
    const everybody = await rowsOf(store, study, { ...kept, sessions: "all", trials: "all" });
    expect(new Set(everybody.map(({ participant }) => participant))).toEqual(new Set(["1", "2", "3"]));
    const persons = { ...(await begun(store, study, "person")), sessions: "all" as const };
    expect((await rowsOf(store, study, persons)).map(({ rt_with }) => rt_with !== "")).toEqual([true, false, true]);
    const { rows: told, done } = await openRecipe(store, study, kept);
    await done();
    expect(told).toBe(rows.length);
    // Times that a rule takes are not in the means.
    const rules = [...usualRules(), { ...freshRule("too-slow", "slow"), over: 1 } as never];
    await changeExclusions(store, study, "Ada", { do: "rules", set: null, version: 0, rules });
    expect((await rowsOf(store, study, persons)).map(({ rt_with }) => rt_with)).toEqual(["", "", ""]);
  });

  it("is the same bytes for the same data in every format, and has new rows after new data", async () => {
    const { store, study, link } = await played(2);
    const recipe = await begun(store, study, "person");
    for (const format of formatNames) {
      const made = await bytes(store, study, { ...recipe, format });
      expect(made.length).toBeGreaterThan(100);
      expect(made.equals(await bytes(store, study, { ...recipe, format }))).toBe(true);
    }
    expect(await rowsOf(store, study, recipe)).toHaveLength(2);
    await playedBy(store, link.token);
    expect(await rowsOf(store, study, recipe)).toHaveLength(3);
  });

  it("has columns of the session in rows of trials, renamed and in the order asked for; measures of detection", async () => {
    const { store, study } = await played(2);
    const recipe: Recipe = {
      ...(await begun(store, study, "trial")),
      columns: [
        { is: "column", of: "row", column: "trial", name: "number" },
        { is: "column", of: "session", column: "state", name: "how" },
        { is: "column", of: "row", column: "nothing", name: "gone" },
      ],
    };
    const rows = await rowsOf(store, study, recipe);
    expect(Object.keys(rows[0]!)).toEqual(["number", "how"]);
    expect(new Set(rows.map(({ how }) => how))).toEqual(new Set(["finished"]));
    const { misfits, done } = await openRecipe(store, study, recipe);
    await done();
    expect(misfits).toEqual(["“gone” is not in the file: this study has no column “nothing”."]);
    const detected = (measure: "sensitivity" | "trials"): MeasureColumn => ({
      ...{ is: "measure", measure, numbers: null, where: [], name: measure },
      signal: measure === "trials" ? null : { column: "direction", level: "left" },
    });
    const persons = await rowsOf(store, study, {
      ...(await begun(store, study, "session")),
      columns: [detected("sensitivity"), detected("trials")],
    });
    const trials = await unfolded(store, study);
    expect(persons.map((row) => Number(row["trials"]))).toEqual(
      [1, 2].map((own) => trials.filter(({ participant }) => participant === own).length),
    );
    for (const { sensitivity } of persons) expect(Number(sensitivity)).toBeGreaterThan(0.5);
  });

  it("has the rows that fulfil what is asked of them, and of persons those whose sessions do", async () => {
    const { store, study } = await played(3);
    const recipe = await begun(store, study, "trial");
    const where = [
      { column: "neighbours", is: "is" as const, value: "against" },
      { column: "rt_ms", is: "at-least" as const, value: "400" },
    ];
    const trials = await unfolded(store, study);
    const rows = await rowsOf(store, study, { ...recipe, where });
    expect(rows).toHaveLength(
      trials.filter(({ level, rt }) => level === "against" && rt !== null && Math.round(rt * 10) / 10 >= 400).length,
    );
    expect(rows.length).toBeGreaterThan(0);
    const containing = await rowsOf(store, study, { ...recipe, containing: "agains" });
    expect(containing).toHaveLength(trials.filter(({ level }) => level === "against").length);
    const persons = await begun(store, study, "person");
    const second = [{ column: "participant", is: "is" as const, value: "2" }];
    expect((await rowsOf(store, study, { ...persons, where: second })).map(({ participant }) => participant)).toEqual([
      "2",
    ]);
    // What is not there chooses nothing.
    const other = [{ column: "mood", is: "is" as const, value: "good" }];
    expect(await rowsOf(store, study, { ...persons, where: other })).toHaveLength(3);
  });

  it("has no rows of a wave that is not there, and those of one that is", async () => {
    const { store, study } = await played(2);
    const recipe = await begun(store, study, "session");
    const [{ wave = "" } = {}] = await rowsOf(store, study, recipe);
    expect(await rowsOf(store, study, { ...recipe, wave })).toHaveLength(2);
    expect((await bytes(store, study, { ...recipe, wave: "Never" })).toString().trimEnd().split("\r\n")).toHaveLength(
      1,
    );
  });
});

describe("recipes of a study", () => {
  it("are added, changed, renamed and removed, with an address that stays", async () => {
    const { store, study } = await released();
    const recipe = await begun(store, study, "trial");
    const add = (name: string) => changeRecipe(store, study, "Ada", { do: "add", name, recipe });
    const added = await add("Für das Modell!");
    expect(added.ok).toBe(true);
    expect(await add("Für das Modell!")).toMatchObject({ ok: false });
    const like = await changeRecipe(store, study, "Ada", { do: "add-like", name: "Für das Modell!", recipe });
    if (like.ok) await changeRecipe(store, study, "Ada", { do: "remove", id: like.id });
    expect(like.ok).toBe(true);
    await add("Fur  das – Modell");
    await add("日本");
    expect((await recipesOf(store.db, study.id)).map(({ address }) => address)).toEqual([
      ...["fur-das-modell", "fur-das-modell-2", "recipe"],
    ]);
    const id = added.ok ? added.id : "";
    const save = (version: number) =>
      changeRecipe(store, study, "Ada", { do: "save", id, version, recipe: { ...recipe, missing: "NA" } });
    expect(await save(1)).toMatchObject({ ok: true });
    expect(await save(1)).toMatchObject({ ok: false, reason: expect.stringContaining("Somebody else") as string });
    await changeRecipe(store, study, "Ada", { do: "rename", id, name: "Main" });
    await noteRead(store, id);
    const found = await recipeCalled(store.db, study.id, "fur-das-modell");
    expect(found).toMatchObject({ name: "Main", version: 2, reads: 1, recipe: { missing: "NA" } });
    expect(await recipeCalled(store.db, study.id, "Main")).toMatchObject({ id });
    await changeRecipe(store, study, "Ada", { do: "remove", id });
    expect(await recipeCalled(store.db, study.id, "Main")).toBeNull();
    expect(await changeRecipe(store, study, "Ada", { do: "remove", id })).toMatchObject({ ok: false });
  });
  it("are of their study alone", async () => {
    const { store, study } = await released();
    const other = await addStudy(store, await freshOwner(store, "other@lapwing.example"), plainStudy());
    const recipe = await begun(store, study, "trial");
    const added = await changeRecipe(store, study, "Ada", { do: "add", name: "Mine", recipe });
    const id = added.ok ? added.id : "";
    expect(await changeRecipe(store, other, "Eve", { do: "remove", id })).toMatchObject({ ok: false });
    expect(await recipeCalled(store.db, other.id, "mine")).toBeNull();
  });
});
