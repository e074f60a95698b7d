import { describe, expect, it } from "vitest";
import { freshRule, usualRules, type Rule } from "../core/exclusions/registry";
import { csv } from "../core/export/formats/csv";
import { simulateSession, plainModel } from "../core/simulate/participant";
import { released } from "~/tests/support/store";
import { newSecret } from "./chance";
import type { Store } from "./database/open";
import { changeExclusions, exclusionsOf } from "./exclusions";
import { tableFile } from "./export/study-data";
import { cellAt } from "../core/tidy/column";
import { DataReader } from "./export/reader";
import { deleteSession, deleteStudy } from "./forgetting";
import { isJudged, leftOutOf } from "./tidy/left-out";
import { madeNow, withTidy, type TidyData } from "./tidy/tidy-data";
import { appendRecords } from "./records";
import { answered } from "./results/registry";
import type { RecordsPage } from "./results/records";
import { setExcluded, startSession } from "./sessions";
import { deedsIn, noteLook } from "./study-log";
import { setBinned, type Study } from "./studies";

const by = "Ada (ada@quay.example)";

async function played(store: Store, token: string, share = 1): Promise<string> {
  const secret = newSecret();
  const started = await startSession(store, token, secret, "test browser");
  if (!started.ok) throw new Error(started.reason);
  const { document, participant, group, orders, seed, session } = started.session;
  const { records } = simulateSession(document, participant, { group, orders }, seed, plainModel);
  await appendRecords(store, secret, records.slice(0, Math.ceil(records.length * share)));
  return session;
}
const rule = (kind: Rule["kind"], change: object = {}): Rule => ({ ...freshRule(kind, kind), ...change }) as Rule;
const ask = (store: Store, study: Study, query = "by=word&and=") => answered(store, study, new URLSearchParams(query));
const used = async (store: Store, study: Study) => (await exclusionsOf(store.db, study.id)).used;
const deeds = async (store: Store, study: Study) =>
  (await deedsIn(store, study, { kind: "left-out" })).map(({ what }) => what).toReversed();

/** A comma-separated table with a header as objects. */
function linesOf(text: string): Record<string, string>[] {
  const [header = "", ...rows] = text.trim().split(/\r?\n/);
  const names = header.split(",").map((name) => name.replaceAll('"', ""));
  return rows.map((row) =>
    Object.fromEntries(row.split(",").map((cell, at) => [names[at] ?? "", cell.replaceAll('"', "")])),
  );
}
async function exported(store: Store, study: Study, table: "trials" | "sessions", pilots = false) {
  let text = "";
  for await (const piece of tableFile(store, study, table, { format: csv, pilots }))
    text += typeof piece === "string" ? piece : Buffer.from(piece).toString();
  return linesOf(text.replace(/^\uFEFF/, ""));
}

describe("sets of exclusions", () => {
  it("are taken along from another study, and are in use then", async () => {
    const { store, study } = await released();
    const rules = [rule("too-fast"), rule("not-finished")];
    const take = (name: string, of: Rule[]) => changeExclusions(store, study, by, { do: "take", name, rules: of });
    expect(await take("From the harbour", rules)).toEqual({ ok: true });
    expect(await used(store, study)).toMatchObject({ name: "From the harbour", version: 1, rules, registered: null });
    expect(await take("From the harbour", rules)).toMatchObject({ ok: false });
    expect(await take("Twice", [rule("too-fast"), rule("too-fast")])).toMatchObject({ ok: false });
    expect(await deeds(store, study)).toEqual(["The exclusions “From the harbour” were made and are in use."]);
    await store.close();
  });
  it("begin with the usual rules, are changed by their version, and what was changed is written down", async () => {
    const { store, study } = await released();
    expect(await used(store, study)).toMatchObject({ id: null, name: "Usual", version: 0, rules: usualRules() });
    const rules = [...usualRules(), rule("too-fast")];
    expect(await changeExclusions(store, study, by, { do: "rules", set: null, version: 0, rules })).toEqual({
      ok: true,
    });
    const first = await used(store, study);
    expect(first).toMatchObject({ name: "Usual", version: 1, rules });
    const off = rules.map((each) => (each.kind === "too-fast" ? { ...each, isOn: false, under: 200 } : each)) as Rule[];
    const late = await changeExclusions(store, study, by, { do: "rules", set: first.id, version: 0, rules: off });
    expect(late).toMatchObject({
      ok: false,
      reason: expect.stringContaining("Somebody else changed this set") as string,
    });
    await changeExclusions(store, study, by, { do: "rules", set: first.id, version: 1, rules: off });
    await changeExclusions(store, study, by, {
      do: "rules",
      set: first.id,
      version: 2,
      rules: off.toReversed().slice(0, -1),
    });
    expect((await deeds(store, study)).toSorted()).toEqual([
      "Exclusions “Usual”: “Faster than 150 ms” became “Faster than 200 ms”.",
      "Exclusions “Usual”: “Marked “does not count”” was removed; the order of the rules was changed.",
      "Exclusions: “Faster than 150 ms” was added.",
    ]);
    const twice = { do: "rules", set: first.id, version: 3, rules: [rule("late"), rule("late")] } as const;
    expect(await changeExclusions(store, study, by, { ...twice, rules: [...twice.rules] })).toMatchObject({
      ok: false,
    });
  });

  it("stand beside each other: one is in use, by its name", async () => {
    const { store, study } = await released();
    await changeExclusions(store, study, by, { do: "rules", set: null, version: 0, rules: [rule("late")] });
    const first = await used(store, study);
    await changeExclusions(store, study, by, { do: "add", name: "Strict", from: first.id });
    const second = await used(store, study);
    expect(second).toMatchObject({ name: "Strict", rules: [rule("late")] });
    expect(await changeExclusions(store, study, by, { do: "add", name: "Strict", from: null })).toMatchObject({
      ok: false,
    });
    await changeExclusions(store, study, by, { do: "use", set: first.id! });
    expect((await used(store, study)).name).toBe("Usual");
    expect(await changeExclusions(store, study, by, { do: "rename", set: first.id!, name: "Strict" })).toMatchObject({
      ok: false,
    });
    await changeExclusions(store, study, by, { do: "rename", set: first.id!, name: "Mild" });
    await changeExclusions(store, study, by, { do: "remove", set: first.id! });
    expect((await exclusionsOf(store.db, study.id)).sets.map(({ name }) => name)).toEqual(["Strict"]);
    expect((await used(store, study)).name).toBe("Strict");
    const gone = await changeExclusions(store, study, by, { do: "use", set: first.id! });
    expect(gone).toMatchObject({ ok: false, reason: expect.stringContaining("gone") as string });
  });

  it("of another study are out of reach", async () => {
    const { store, study } = await released();
    const other = await released();
    await changeExclusions(store, study, by, { do: "rules", set: null, version: 0, rules: [rule("late")] });
    const { id } = await used(store, study);
    for (const change of [
      { do: "use", set: id! },
      { do: "remove", set: id! },
      { do: "register", set: id!, version: 1 },
    ] as const)
      expect(await changeExclusions(other.store, other.study, by, change)).toMatchObject({ ok: false });
  });

  it("recorded as preregistered say what was known then, and are never changed again", async () => {
    const { store, study, link } = await released();
    expect(await changeExclusions(store, study, by, { do: "register", set: null, version: 0 })).toEqual({ ok: true });
    const before = await used(store, study);
    expect(before.registered).toMatchObject({ sessions: 0, looked: false, by });
    expect(before.registered?.hash).toMatch(/^[0-9a-f]{64}$/);
    for (const change of [
      { do: "rules", set: before.id, version: before.version, rules: [] },
      { do: "rename", set: before.id!, name: "Other" },
      { do: "remove", set: before.id! },
      { do: "register", set: before.id, version: before.version },
    ] as const)
      expect(await changeExclusions(store, study, by, { ...change } as never)).toMatchObject({ ok: false });
    expect(await used(store, study)).toEqual(before);
    await played(store, link.token);
    const record = async (name: string) => {
      await changeExclusions(store, study, by, { do: "add", name, from: (await used(store, study)).id });
      const { id, version } = await used(store, study);
      await changeExclusions(store, study, by, { do: "register", set: id, version });
      return (await used(store, study)).registered;
    };
    expect(await record("Unseen")).toMatchObject({ sessions: 1, looked: false });
    await noteLook(store.db, { code: study.code, by, what: "Results were looked at." });
    expect(await record("Seen")).toMatchObject({ sessions: 1, looked: true });
    expect((await deeds(store, study)).filter((what) => what.includes("preregistered"))).toHaveLength(3);
    expect((await ask(store, study)).ledger.method).toContain("when one session was in and results had been looked at");
  });

  it("go with their study", async () => {
    const { store, study } = await released();
    await changeExclusions(store, study, by, { do: "register", set: null, version: 0 });
    await setBinned(store, study.id, true);
    expect(await deleteStudy(store, study, { by })).toEqual({ ok: true });
    expect(await store.db.selectFrom("exclusion_set").selectAll().execute()).toEqual([]);
  });
});

describe("what is left out", () => {
  it("is the same in results, in the records and in what is exported", async () => {
    const { store, study, link } = await released();
    const sessions = [
      await played(store, link.token),
      await played(store, link.token),
      await played(store, link.token, 0.5),
    ];
    await setExcluded(store, study.id, sessions[0]!, true);
    const rules = [rule("marked"), rule("not-finished"), ...usualRules().slice(1), rule("too-slow", { over: 1 })];
    const before = await ask(store, study);
    expect(before.ledger.counts.sessions).toEqual({ in: 3, kept: 2 });
    await changeExclusions(store, study, by, { do: "rules", set: null, version: 0, rules });
    const after = await ask(store, study);
    const counts = after.ledger.counts;
    expect(counts.sessions).toEqual({ in: 3, kept: 1 });
    expect(after.ledger.lines.map(({ rule: { kind }, out }) => [kind, out]).slice(0, 2)).toEqual([
      ["marked", 1],
      ["not-finished", 1],
    ]);
    expect((after.answer as { trials: number }).trials).toBe(counts.trials.kept);

    const rows = await exported(store, study, "sessions");
    expect(rows.map(({ session, left_out, left_out_by }) => [session, left_out, left_out_by])).toEqual([
      [sessions[0], "yes", "Marked “does not count”"],
      [sessions[1], "no", ""],
      [sessions[2], "yes", "Not finished"],
    ]);
    const trials = await exported(store, study, "trials");
    const out = (of: string) => trials.filter(({ left_out }) => left_out === of).length;
    expect(out("no")).toBe(counts.trials.kept);
    const slow = after.ledger.lines.find(({ rule: { kind } }) => kind === "too-slow");
    expect(slow?.out).toBeGreaterThan(0);
    expect(trials.filter(({ left_out_by }) => left_out_by === "Slower than 1 ms")).toHaveLength(slow?.out ?? 0);

    const looked = await ask(store, study, "tab=records&rows=trials&where=left_out_by~is~Slower than 1 ms");
    expect((looked.answer as RecordsPage).total).toBe(slow?.out);
    expect((looked.answer as RecordsPage).outOf).toBe(trials.length);
    const found = await ask(store, study, "tab=records&rows=sessions&find=does not count");
    expect((found.answer as RecordsPage).total).toBe(1);
    await store.close();
  });

  it("is told beside rehearsals, too, which no rule looks at", async () => {
    const { store, study, link } = await released();
    await played(store, link.token, 0.5);
    const rehearsal = await played(store, link.token);
    await store.db.updateTable("session").set({ pilot: 1, participant: -1 }).where("id", "=", rehearsal).execute();
    await changeExclusions(store, study, by, { do: "rules", set: null, version: 0, rules: [rule("not-finished")] });
    const alone = await exported(store, study, "trials");
    const both = await exported(store, study, "trials", true);
    expect(new Set(alone.map(({ left_out }) => left_out))).toEqual(new Set(alone.length > 0 ? ["yes"] : []));
    expect(both.slice(0, alone.length).map(({ left_out }) => left_out)).toEqual(alone.map(({ left_out }) => left_out));
    expect(new Set(both.slice(alone.length).map(({ left_out }) => left_out))).toEqual(new Set([""]));
    expect((await exported(store, study, "sessions", true)).map(({ left_out }) => left_out)).toEqual(["yes", ""]);
    await store.close();
  });

  it("follows what comes and what is decided, and a rule about a column that is gone says so", async () => {
    const { store, study, link } = await released();
    const session = await played(store, link.token);
    await changeExclusions(store, study, by, {
      do: "rules",
      set: null,
      version: 0,
      rules: [rule("marked"), rule("value", { column: "height", is: "empty" })],
    });
    const kept = async () => (await ask(store, study)).ledger;
    expect((await kept()).counts.sessions).toEqual({ in: 1, kept: 1 });
    expect((await kept()).lines[1]?.problem).toContain("no column “height”");
    await setExcluded(store, study.id, session, true);
    expect((await kept()).counts.sessions).toEqual({ in: 1, kept: 0 });
    await played(store, link.token);
    expect((await kept()).counts.sessions).toEqual({ in: 2, kept: 1 });
    await setExcluded(store, study.id, session, false);
    expect((await kept()).counts.sessions).toEqual({ in: 2, kept: 2 });
    await store.close();
  });
});

describe("what is known of sessions", () => {
  it("is what asking about all of them anew gives, whatever came, went or was decided since", async () => {
    const { store, study, link } = await released();
    const sets: Rule[][] = [
      [rule("marked"), rule("practice"), rule("too-slow", { over: 420 }), rule("wrong")],
      [rule("not-finished"), rule("beyond", { times: 1 }), rule("too-slow", { over: 700, from: "all" })],
      [rule("unlike-others", { times: 1 }), rule("beyond", { times: 1, of: "condition", conditions: ["word"] })],
    ];
    const compared = async () => {
      for (const rules of sets)
        for (const judged of [() => true, isJudged]) {
          const reader = await DataReader.open(store, study, { pilots: false });
          const ask = async (data: TidyData) => {
            const found = await leftOutOf(data, reader.documents, rules, judged);
            const told = data.with(found.columns);
            const columns = await Promise.all(
              ["left_out", "left_out_by"].flatMap((name) => [
                told.column("trials", name),
                told.column("sessions", name),
              ]),
            );
            const counts = ["trials", "trials", "sessions", "sessions"].map((_, at) =>
              data.count(at % 2 === 0 ? "trials" : "sessions"),
            );
            return {
              counts: found.counts,
              keeps: data.sittings.map(found.keeps),
              cells: columns.map((column, at) =>
                Array.from({ length: counts[at] ?? 0 }, (_, row) => cellAt(column, row)),
              ),
            };
          };
          expect(await withTidy(store, reader, ask)).toEqual(await ask(await madeNow(reader)));
        }
    };
    const sessions = [await played(store, link.token), await played(store, link.token)];
    await compared();
    sessions.push(await played(store, link.token, 0.6));
    await compared();
    // Somebody comes a second time.
    await store.db.updateTable("session").set({ participant: 1, sitting: 2 }).where("id", "=", sessions[2]!).execute();
    await compared();
    await setExcluded(store, study.id, sessions[1]!, true);
    await compared();
    await store.db.updateTable("session").set({ state: "withdrawn" }).where("id", "=", sessions[0]!).execute();
    await compared();
    await deleteSession(store, study, sessions[0]!, { by });
    sessions.push(await played(store, link.token));
    await compared();
    await store.close();
  });
});
