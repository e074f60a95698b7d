import { describe, expect, it } from "vitest";
import { plainModel, simulateSession } from "~/core/simulate/participant";
import { everyKind } from "~/tests/support/forms";
import { plainStudy } from "~/tests/support/studies";
import type { LogEntry } from "../records/log";
import { answeredIn, sessionCourse } from "./session-course";

const document = plainStudy();
const records = simulateSession(
  document,
  1,
  { group: document.groups[0]?.id ?? "", orders: {} },
  "AB12",
  plainModel,
).records;
const at = (minutes: number, what: LogEntry["what"], value?: string): LogEntry => ({
  ...{ at: minutes * 60_000, what },
  ...(value === undefined ? {} : { value }),
});

describe("the course of a session", () => {
  it("has a span for each part it came to, one after the other, with its trials", () => {
    const { spans, lengthMs } = sessionCourse(document, records, []);
    const parts = [...new Set(records.flatMap((record) => (record.kind === "end" ? [] : [record.part])))];
    expect(spans.map(({ part }) => part)).toEqual(parts);
    const trials = records.filter(({ kind }) => kind === "trial").length;
    expect(spans.reduce((sum, span) => sum + span.trials, 0)).toBe(trials);
    spans.forEach(({ from, to }, index) => {
      expect(to).toBeGreaterThan(from);
      if (index > 0) expect(from).toBeGreaterThanOrEqual(spans[index - 1]?.to ?? 0);
    });
    expect(lengthMs).toBeGreaterThanOrEqual(spans.at(-1)?.to ?? Infinity);
  });

  it("tells what happened beside it, and how long that lasted where it ended again", () => {
    const log = [
      at(0, "opened", "first"),
      at(3, "focus-back"),
      at(2, "focus-lost"),
      at(4, "full-screen-left"),
      at(5, "opened", "again, after record 3"),
      at(5, "opened", "4 times as fast"),
      at(6, "key-down", "f"),
      at(30, "network-away"),
    ];
    const { marks, lengthMs } = sessionCourse(document, records, log);
    expect(marks).toEqual([
      { at: 120_000, says: "another window was in front", lasted: 60_000 },
      { at: 240_000, says: "full screen was left", lasted: null },
      { at: 300_000, says: "opened again", lasted: null },
      { at: 1_800_000, says: "the network was away", lasted: null },
    ]);
    expect(lengthMs).toBe(1_800_000);
  });

  it("is empty before anything came", () => {
    expect(sessionCourse(document, [], [])).toEqual({ lengthMs: 0, spans: [], marks: [] });
  });
});

describe("what was answered", () => {
  it("is told by trial, with times and whether it was right", () => {
    const lines = answeredIn(document, records);
    const trials = records.filter((record) => record.kind === "trial");
    const told = lines.filter(({ what }) => what.startsWith("trial "));
    expect(told.map(({ number }) => number)).toEqual(trials.map(({ number }) => number));
    told.forEach(({ answers }, index) => {
      const [given] = trials[index]?.answers ?? [];
      const shown = given?.given ? String(given.given.value) : given?.outcome;
      expect(answers[0]).toMatchObject({ value: shown, rt: given?.given?.rt ?? null, right: given?.right ?? null });
    });
  });

  it("is told by question, whatever kind it has", () => {
    const forms = everyKind();
    const made = simulateSession(
      forms,
      1,
      { group: forms.groups[0]?.id ?? "", orders: {} },
      "AB12",
      plainModel,
    ).records;
    const asked = made.flatMap((record) => (record.kind === "page" ? (record.answers ?? []) : []));
    const told = answeredIn(forms, made).flatMap(({ answers }) => answers);
    expect(told).toHaveLength(asked.length);
    for (const { name, value } of told) {
      expect(name).not.toMatch(/^q-/);
      expect(value).not.toBe("");
      expect(value).not.toContain("[object");
    }
  });
});
