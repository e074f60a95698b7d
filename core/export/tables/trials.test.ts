import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { plainModel, simulateSession } from "../../simulate/participant";
import { recordColumns } from "../../values/names";
import { codebookColumns, codebookLines, codebookMarkdown } from "../codebook";
import { csv } from "../formats/csv";
import { sessionColumns } from "./sessions";
import { rowOf, shownTable } from "./table";
import type { SessionFacts } from "./trial-source";
import { trialColumns, trialSource } from "./trials";

describe("the trials table", () => {
  const document = withBlock(plainStudy(), (block) => void (block.scenes[1]!.name = "Target word"));
  const facts: SessionFacts = {
    study: "amber-quay",
    release: 2,
    wave: "",
    session: "s-1",
    participant: 7,
    sitting: 1,
    group: document.groups[0]!.id,
    orders: {},
    pilot: false,
    state: "finished",
    isExcluded: false,
  };
  const columns = trialColumns([document]);
  const names = columns.map(({ name }) => name);

  it("has the format's columns in the format's order", () => {
    expect(names).toEqual([
      "study",
      "release",
      "wave",
      "session",
      "participant",
      "sitting",
      "group_name",
      "part",
      "pass",
      "trial",
      "row",
      "word",
      "key",
      "answer",
      "is_right",
      "rt_ms",
      "fixation_onset_ms",
      "fixation_lasted_ms",
      "fixation_planned_ms",
      "target_word_onset_ms",
      "target_word_lasted_ms",
      "target_word_planned_ms",
      "late_frames",
      "pilot",
      "counts",
      "session_state",
      "practice",
      "part_place",
      "sub_block",
      "trial_in_block",
      "attempt",
      "outcome",
      "early_answers",
      "fixation_frames",
      "fixation_planned_frames",
      "target_word_frames",
      "target_word_planned_frames",
      "trial_interrupted",
      "left_out",
      "left_out_by",
    ]);
  });

  it("has every column whose name a study may not use, but for two that were called otherwise before", () =>
    expect(names).toEqual(
      expect.arrayContaining(recordColumns.filter((name) => name !== "group" && name !== "right")),
    ));

  it("gives each record's values, times to a tenth of a millisecond", () => {
    const { records } = simulateSession(document, 7, { group: facts.group, orders: {} }, "s", {
      ...plainModel,
      lapses: 0,
      errors: 0,
    });
    const record = records.find((each) => each.kind === "trial");
    if (record?.kind !== "trial") throw new Error("no trial");
    const cellsOfRow = rowOf(columns, trialSource(document, facts, record, 1));
    const row = Object.fromEntries(names.map((name, index) => [name, cellsOfRow[index]]));
    const cells = firstBlock(document).table.rows.find(({ id }) => id === record.row)!.cells;
    expect(row).toMatchObject({
      study: "amber-quay",
      release: 2,
      participant: 7,
      sitting: 1,
      group_name: "Everyone",
      part: "Block 1",
      pass: 1,
      trial: 1,
      word: cells["column-2"],
      key: cells["column-3"],
      answer: cells["column-3"],
      is_right: "yes",
      fixation_planned_ms: 500,
      fixation_lasted_ms: 500,
      target_word_planned_ms: 2000,
      late_frames: 0,
      pilot: "no",
      outcome: "right",
    });
    expect(row["rt_ms"]).toBe(Math.round(record.answers[0]!.given!.rt * 10) / 10);
  });

  it("leaves a missing answer empty", () => {
    const { records } = simulateSession(document, 1, { group: facts.group, orders: {} }, "s", {
      ...plainModel,
      lapses: 1,
    });
    const record = records.find((each) => each.kind === "trial");
    if (record?.kind !== "trial") throw new Error("no trial");
    const row = rowOf(columns, trialSource(document, facts, record, 1));
    expect(["answer", "is_right", "rt_ms", "outcome"].map((name) => row[names.indexOf(name)])).toEqual([
      null,
      null,
      null,
      "none",
    ]);
  });

  it("is described by a codebook with one line a column", () => {
    const tables = [
      { name: "trials", one: "a trial", columns },
      { name: "sessions", one: "a session", columns: sessionColumns([]) },
    ];
    const { header, rows } = shownTable(codebookColumns, codebookLines(tables));
    expect(header).toEqual(["table", "name", "meaning", "unit", "type", "values"]);
    const ofTrials = rows.filter(([table]) => table === "trials");
    expect(ofTrials.map(([, name]) => name)).toEqual(names);
    expect(rows.filter(([table]) => table === "sessions")).toHaveLength(sessionColumns([]).length);
    expect(rows.every(([, , meaning, , type]) => meaning && type)).toBe(true);
    expect(ofTrials.find(([, name]) => name === "word")?.[5]).toBe("gull, ferry");
    const told = codebookMarkdown(tables, "Harbour lights", "amber-quay", csv);
    for (const { columns: each } of tables) for (const { name } of each) expect(told).toContain(`\`${name}\``);
  });

  it("says how many values there are where it does not list them all", () => {
    const many = withBlock(plainStudy(), ({ table }) => {
      const [first] = table.rows;
      table.rows = Array.from({ length: 40 }, (_, index) => ({
        ...first!,
        id: `r-${index}`,
        cells: { ...first!.cells, "column-2": `word ${index}` },
      }));
    });
    expect(trialColumns([many]).find(({ name }) => name === "word")?.values).toMatch(/word 29, … \(40 in all\)$/);
  });
});
