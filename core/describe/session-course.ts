import type { StudyDocument } from "../design/document";
import { questionById } from "../design/questions";
import type { LogEntry } from "../records/log";
import type { SessionRecord } from "../records/record";
import type { Id } from "../values/ref";

/** A stretch of a session in one part; times in ms from the session's start. */
export type CourseSpan = { part: Id; name: string; from: number; to: number; trials: number };
/** Something that happened beside the records; `lasted` in ms, where it ended again. */
export type CourseMark = { at: number; says: string; lasted: number | null };
export type SessionCourse = { lengthMs: number; spans: CourseSpan[]; marks: CourseMark[] };

/** When a record begins and ends, in ms from the session's start; null where it has no time of its own. */
function timeOf(record: SessionRecord): [number, number] | null {
  switch (record.kind) {
    case "page":
    case "break":
      return [record.shown, record.done];
    case "trial":
    case "broken-off": {
      const [first, last] = [record.scenes[0], record.scenes.at(-1)];
      return first && last ? [first.onset, last.end] : null;
    }
    case "end":
      return [record.at, record.at];
  }
}

/** What tells that somebody was away, with what tells that they are back. */
const away = {
  "focus-lost": ["focus-back", "another window was in front"],
  hidden: ["visible", "the page was not to be seen"],
  "full-screen-left": ["full-screen-back", "full screen was left"],
  "network-away": ["network-back", "the network was away"],
  paused: ["went-on", "paused"],
} as const;
const alone: Partial<Record<LogEntry["what"], string>> = {
  resized: "the window changed its size",
  turned: "the device was turned",
  placed: "got its number, group and order",
  "clock-back": "the computer’s clock was set back",
};

/** The course of a session in time: in which part it was when, and what happened beside it. */
export function sessionCourse(
  document: Pick<StudyDocument, "parts">,
  records: readonly SessionRecord[],
  log: readonly LogEntry[],
): SessionCourse {
  const spans: CourseSpan[] = [];
  let length = 0;
  for (const record of records) {
    const time = timeOf(record);
    if (!time) continue;
    const [from, to] = time;
    length = Math.max(length, to);
    if (record.kind === "end") continue;
    const last = spans.at(-1);
    const isTrial = record.kind === "trial" ? 1 : 0;
    if (last?.part === record.part) Object.assign(last, { to, trials: last.trials + isTrial });
    else {
      const name = document.parts[record.part]?.name ?? "a part that is gone";
      spans.push({ part: record.part, name, from, to, trials: isTrial });
    }
  }
  const marks: CourseMark[] = [];
  const isOpen = new Map<string, CourseMark>();
  let openings = 0;
  for (const { at, what, value } of log.toSorted((a, b) => a.at - b.at)) {
    length = Math.max(length, at);
    if (what === "opened" && value !== undefined && /times as fast$/.test(value)) continue;
    if (what === "opened" && ++openings > 1) marks.push({ at, says: "opened again", lasted: null });
    const says = alone[what];
    if (says !== undefined) marks.push({ at, says, lasted: null });
    if (Object.hasOwn(away, what)) {
      const [back, says] = away[what as keyof typeof away];
      const mark: CourseMark = { at, says, lasted: null };
      marks.push(mark);
      isOpen.set(back, mark);
    }
    const open = isOpen.get(what);
    if (open) open.lasted = at - open.at;
    isOpen.delete(what);
  }
  return { lengthMs: length, spans, marks };
}

/** What was answered in one record: each answer or question by name; rt in ms, where it was timed. */
export type AnsweredLine = {
  number: number;
  at: number;
  part: string;
  what: string;
  answers: { name: string; value: string; rt: number | null; right: boolean | null }[];
};

export const inWords = (value: unknown): string =>
  value === null || value === undefined
    ? "–"
    : typeof value === "string" || typeof value === "number" || typeof value === "boolean"
      ? String(value)
      : Array.isArray(value)
        ? value.map(inWords).join(", ")
        : JSON.stringify(value);

/** What was answered in a session, record by record. */
export function answeredIn(document: Pick<StudyDocument, "parts">, records: readonly SessionRecord[]): AnsweredLine[] {
  const questionOf = questionById(document);
  return records.flatMap((record): AnsweredLine[] => {
    if (record.kind === "end" || record.kind === "break") return [];
    const part = document.parts[record.part];
    const line = { number: record.number, at: timeOf(record)?.[0] ?? 0, part: part?.name ?? "" };
    if (record.kind === "page") {
      const answers = (record.answers ?? []).map(({ question, state, value }) => ({
        name: questionOf(question)?.name ?? question,
        value: state === "answered" ? inWords(value) : state,
        ...{ rt: null, right: null },
      }));
      return answers.length === 0 ? [] : [{ ...line, what: "page", answers }];
    }
    const names = new Map(part?.kind === "block" ? part.answers.map(({ id, name }) => [id, name]) : []);
    const answers = record.answers.map(({ answer, given, right, outcome }) => ({
      name: names.get(answer) ?? answer,
      value: given ? inWords(given.value) : outcome,
      rt: given ? given.rt : null,
      right,
    }));
    const what = `trial ${record.trial}${record.kind === "broken-off" ? ", broken off" : ""}`;
    return [{ ...line, what, answers }];
  });
}
