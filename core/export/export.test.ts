import fc from "fast-check";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { plainModel, simulateSession } from "../simulate/participant";
import { codebookCsv, codebookMarkdown } from "./codebook";
import { trialColumns, trialRow, type SessionFacts } from "./columns";
import { csvLine, csvStart } from "./csv";

const plain = { forSpreadsheet: false };
const sheet = { forSpreadsheet: true };

describe("csv", () => {
  it("is read back by another program as it was, whatever the cells hold", () => {
    const cell = fc.oneof(
      fc.string({ unit: "binary" }).filter((text) => text !== ""),
      fc.constantFrom('"', ",", "\r\n", "a\nb", " x ", "−4", "=1+1"),
    );
    fc.assert(
      fc.property(fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 5 }), (rows) => {
        const text = rows.map((row) => csvLine(row, plain)).join("");
        expect(
          Papa.parse(text, { newline: "\r\n", skipEmptyLines: false, quoteChar: '"', delimiter: "," }).data.slice(
            0,
            -1,
          ),
        ).toEqual(rows);
      }),
    );
  });
  it("writes a missing value as an empty cell and numbers as they are", () =>
    expect(csvLine([null, 0, -4.5, ""], plain)).toBe(",0,-4.5,\r\n"));
  it("begins with a byte order mark only for a spreadsheet", () => {
    expect(csvStart(["a"], plain)).toBe("a\r\n");
    expect(csvStart(["a"], sheet)).toBe("\uFEFFa\r\n");
  });
  it("makes what a spreadsheet would run plain text, and leaves numbers alone", () => {
    expect(csvLine(["=1+1", "+cmd", "@x", "-x", "-4.5", "+3e2", -7], sheet)).toBe(
      "'=1+1,'+cmd,'@x,'-x,-4.5,+3e2,-7\r\n",
    );
    expect(csvLine(["=1+1"], plain)).toBe("=1+1\r\n");
  });
});

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

  it("gives each record's values, times to a tenth of a millisecond", () => {
    const { records } = simulateSession(document, 7, { group: facts.group, orders: {} }, "s", {
      ...plainModel,
      lapses: 0,
      errors: 0,
    });
    const record = records.find((each) => each.kind === "trial");
    if (record?.kind !== "trial") throw new Error("no trial");
    const row = Object.fromEntries(
      names.map((name, index) => [name, trialRow(columns, document, facts, record)[index]]),
    );
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
    const row = trialRow(columns, document, facts, record);
    expect(["answer", "right", "rt_ms", "outcome"].map((name) => row[names.indexOf(name)])).toEqual([
      null,
      null,
      null,
      "none",
    ]);
  });

  it("is described by a codebook with one line a column", () => {
    const lines = Papa.parse<Record<string, string>>(codebookCsv(columns, plain).trimEnd(), { header: true }).data;
    expect(lines.map(({ name }) => name)).toEqual(names);
    expect(lines.every(({ meaning, type }) => meaning && type)).toBe(true);
    expect(lines.find(({ name }) => name === "word")?.values).toBe("gull, ferry");
    for (const name of names)
      expect(codebookMarkdown(columns, "Harbour lights", "amber-quay")).toContain(`\`${name}\``);
  });
});
