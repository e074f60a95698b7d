import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { plainModel, simulateSession } from "../../simulate/participant";
import { recordColumns } from "../../values/names";
import { codebookColumns, codebookMarkdown } from "../codebook";
import { csv } from "../formats/csv";
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
    group: document.groups[0]!.id,
    pilot: false,
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
      "group",
      "part",
      "pass",
      "trial",
      "row",
      "word",
      "key",
      "answer",
      "right",
      "rt_ms",
      "fixation_onset_ms",
      "fixation_lasted_ms",
      "fixation_planned_ms",
      "target_word_onset_ms",
      "target_word_lasted_ms",
      "target_word_planned_ms",
      "late_frames",
      "pilot",
      "outcome",
      "early_answers",
      "fixation_frames",
      "fixation_planned_frames",
      "target_word_frames",
      "target_word_planned_frames",
      "trial_interrupted",
    ]);
  });

  it("has every column whose name a study may not use", () =>
    expect(names).toEqual(expect.arrayContaining([...recordColumns])));

  it("gives each record's values, times to a tenth of a millisecond", () => {
    const { records } = simulateSession(document, 7, { group: facts.group, orders: {} }, "s", {
      ...plainModel,
      lapses: 0,
      errors: 0,
    });
    const record = records.find((each) => each.kind === "trial");
    if (record?.kind !== "trial") throw new Error("no trial");
    const cellsOfRow = rowOf(columns, trialSource(document, facts, record));
    const row = Object.fromEntries(names.map((name, index) => [name, cellsOfRow[index]]));
    const cells = firstBlock(document).table.rows.find(({ id }) => id === record.row)!.cells;
    expect(row).toMatchObject({
      study: "amber-quay",
      release: 2,
      participant: 7,
      group: "Everyone",
      part: "Block 1",
      pass: 1,
      trial: 1,
      word: cells["column-2"],
      key: cells["column-3"],
      answer: cells["column-3"],
      right: "yes",
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
    const row = rowOf(columns, trialSource(document, facts, record));
    expect(["answer", "right", "rt_ms", "outcome"].map((name) => row[names.indexOf(name)])).toEqual([
      null,
      null,
      null,
      "none",
    ]);
  });

  it("is described by a codebook with one line a column", () => {
    const { header, rows } = shownTable(codebookColumns, columns);
    expect(header).toEqual(["name", "meaning", "unit", "type", "values"]);
    expect(rows.map(([name]) => name)).toEqual(names);
    expect(rows.every(([, meaning, , type]) => meaning && type)).toBe(true);
    expect(rows.find(([name]) => name === "word")?.[4]).toBe("gull, ferry");
    for (const name of names)
      expect(codebookMarkdown(columns, "Harbour lights", "amber-quay", csv)).toContain(`\`${name}\``);
  });
});
