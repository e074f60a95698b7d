import { describe, expect, it } from "vitest";
import { countedIds, firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { compile } from "../../compile/compile";
import type { StudyDocument } from "../../design/document";
import { plainModel, simulateSession } from "../../simulate/participant";
import { seedOf } from "../../order/seed";
import type { SessionFacts, TrialColumn } from "./trial-source";
import { ownColumnNames, trialColumns, trialSource } from "./trials";

const factsOf = (document: StudyDocument, change: Partial<SessionFacts> = {}): SessionFacts => ({
  ...{ study: "a-b", release: 1, wave: "", session: "s", participant: 1, sitting: 1, group: document.groups[0]!.id },
  ...{ orders: {}, pilot: false, state: "finished", isExcluded: false, ...change },
});
/** The simulated trials of a session, as sources of the table. */
function sourcesOf(document: StudyDocument, facts = factsOf(document)) {
  const { participant, group, orders } = facts;
  const { records } = simulateSession(document, participant, { group, orders }, seedOf(document, 1), plainModel);
  return records.flatMap((record) => (record.kind === "trial" ? [trialSource(document, facts, record, 1)] : []));
}
const cells = (columns: readonly TrialColumn[], name: string, document: StudyDocument, facts?: SessionFacts) =>
  sourcesOf(document, facts).map((source) => columns.find((column) => column.name === name)?.read(source));
const names = (columns: readonly TrialColumn[]) => columns.map(({ name }) => name);

describe("columns that are the same", () => {
  const first = plainStudy();
  const renamed = withBlock(
    first,
    ({ table }) => void (table.columns.find(({ name }) => name === "word")!.name = "noun"),
  );

  it("are known by their ids where a release has renamed them", () => {
    const columns = trialColumns([renamed, first]);
    expect(names(columns)).toContain("noun");
    expect(names(columns)).not.toContain("word");
    for (const release of [renamed, first])
      expect([...cells(columns, "noun", release)].toSorted()).toEqual(["ferry", "gull"]);
    expect(columns.find(({ name }) => name === "noun")?.meaning).toBe("Factor of the trial table; before: “word”");
  });

  it("keep their own data where two have swapped their names", () => {
    const swapped = withBlock(first, ({ table }) => {
      const [word, key] = ["word", "key"].map((name) => table.columns.find((column) => column.name === name)!);
      [word!.name, key!.name] = ["key", "word"];
    });
    const columns = trialColumns([swapped, first]);
    expect([...cells(columns, "key", first)].toSorted()).toEqual(["ferry", "gull"]);
    expect([...cells(columns, "word", swapped)].toSorted()).toEqual(["f", "j"]);
  });

  it("are two where a release has given a name to one that another had before", () => {
    const before = withBlock(first, ({ table }) => {
      table.columns.push({ id: "other", name: "noun", type: "text", factor: false });
      for (const row of table.rows) row.cells["other"] = "buoy";
    });
    // The newer release has called “word” “noun”, and has no column of that name beside it any more.
    const columns = trialColumns([renamed, before]);
    expect(names(columns)).toEqual(expect.arrayContaining(["noun", "noun_2"]));
    expect([...cells(columns, "noun", before)].toSorted()).toEqual(["ferry", "gull"]);
    expect(cells(columns, "noun_2", before)).toEqual(["buoy", "buoy"]);
    expect([...cells(columns, "noun", renamed)].toSorted()).toEqual(["ferry", "gull"]);
  });

  it("stand in one column where two blocks have one of that name", () => {
    const two = withBlock(first, (block, document) => {
      document.parts["second"] = { ...structuredClone(block), id: "second", name: "Second" };
      document.runningOrder.push({ kind: "part", part: "second" });
    });
    const columns = trialColumns([two]);
    expect(names(columns).filter((name) => name.startsWith("word"))).toEqual(["word"]);
    expect(cells(columns, "word", two)).toHaveLength(4);
  });
});

describe("names that are taken", () => {
  const called = (name: string) =>
    withBlock(plainStudy(), ({ table }) => void (table.columns.find((column) => column.name === "word")!.name = name));

  it.each(["early_answers", "is_right", "attempt", "counts"])(
    "a column “%s” gets a number and keeps its data",
    (name) => {
      const document = called(name);
      const columns = trialColumns([document]);
      expect(names(columns).filter((each) => each === name)).toHaveLength(1);
      expect([...cells(columns, `${name}_2`, document)].toSorted()).toEqual(["ferry", "gull"]);
      expect(ownColumnNames(document)).toContain(name);
    },
  );

  it("every name is there once and valid, whatever scenes and answers are called", () => {
    const document = withBlock(plainStudy(), (block) => {
      block.scenes[0]!.name = "2nd";
      block.answers.push({ ...structuredClone(block.answers[0]!), id: "again", name: "rt" });
    });
    const all = names(trialColumns([document]));
    expect(new Set(all.map((name) => name.toLowerCase())).size).toBe(all.length);
    for (const name of all) expect(name).toMatch(/^[a-z][a-z0-9_]{0,63}$/);
    expect(all).toContain("x_2nd_onset_ms");
  });

  it("two blocks of one name are numbered", () => {
    const document = withBlock(plainStudy(), (block, whole) => {
      whole.parts["second"] = { ...structuredClone(block), id: "second" };
      whole.runningOrder.push({ kind: "part", part: "second" });
    });
    expect(new Set(cells(trialColumns([document]), "part", document))).toEqual(new Set(["Block 1", "Block 1 (2)"]));
  });
});

describe("where a trial was", () => {
  const document = withBlock(plainStudy(), (block, whole) => {
    const again = { ...structuredClone(block), id: "second", name: "Second", practice: true };
    again.order.passes = 3;
    again.order.within = again.table.columns[0]!.id;
    whole.parts["second"] = again;
    whole.runningOrder.unshift({ kind: "part", part: "second" });
    const value = countedIds()("value");
    whole.groupValues.push({ id: value, name: "side", type: "text", perGroup: { [whole.groups[0]!.id]: "left" } });
  });
  const columns = trialColumns([document]);
  const facts = factsOf(document);
  const plan = compile(document, 1, document.settings.seed, facts.group, {});

  it("says practice, the part's place, the sub-block and the trial within the block as they were planned", () => {
    const planned = plan.parts.flatMap((part, index) =>
      part.kind === "block"
        ? part.trials.map((trial, at) => [
            ...[document.parts[part.part]?.id === "second" ? "yes" : "no", index + 1],
            ...[trial.subBlock, at + 1, trial.trial, 1, "left"],
          ])
        : [],
    );
    const wanted = ["practice", "part_place", "sub_block", "trial_in_block", "trial", "attempt", "side"];
    const read = sourcesOf(document).map((source) =>
      wanted.map((name) => columns.find((column) => column.name === name)?.read(source)),
    );
    expect(read).toEqual(planned);
    expect(read).toHaveLength(8);
  });

  it("tells rehearsals from participants, and whether the session counts", () => {
    const [source] = sourcesOf(document);
    const told = (change: Partial<SessionFacts>) =>
      ["participant", "pilot", "counts", "session_state"].map((name) =>
        columns.find((column) => column.name === name)?.read({ ...source!, facts: { ...facts, ...change } }),
      );
    expect(told({})).toEqual([1, "no", "yes", "finished"]);
    expect(told({ pilot: true })).toEqual([-1, "yes", "yes", "finished"]);
    expect(told({ isExcluded: true })).toEqual([1, "no", "no", "finished"]);
    expect(told({ state: "withdrawn" })).toEqual([1, "no", "no", "withdrawn"]);
    expect(firstBlock(document).name).toBe("Second");
  });
});
