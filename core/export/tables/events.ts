import type { StudyDocument } from "../../design/document";
import { placedRules, type PlacedRule } from "../../design/all-rules";
import { placedMarkers, sendsMarkers } from "../../design/all-markers";
import { markedInWords } from "../../describe/markers";
import { doneInWords } from "../../describe/rules";
import { operandInWords } from "../../describe/words";
import { ruleName } from "../../rules/rule";
import type { Act } from "../../records/firing";
import type { LogChunk, LogEntry } from "../../records/log";
import { markerEntryIn, type MarkerEntry } from "../../records/marker-entry";
import { questionById } from "../../design/questions";
import type { PageRecord, SessionRecord } from "../../records/record";
import { partLabel } from "../../design/part-labels";
import { dataColumn, type DataColumn } from "../../values/data-column";
import { countsColumn, participantColumn, pilotColumn, stateColumn, type Standing } from "./standing";

type Facts = Standing & { study: string; session: string; participant: number; pilot: boolean };
type Event = {
  at: number;
  event: string;
  part?: string;
  trial?: number | undefined;
  attempt?: number | undefined;
  name?: string;
  value?: string;
  /** What went out for a marker, and to one device. */
  marker?: string | null;
  device?: MarkerEntry["on"][number];
};
/** One row of the events table. */
export type EventSource = { facts: Facts; event: Event };

/** When a page's questions were last touched, and when the participant was reminded. */
function pageEvents(document: StudyDocument, { answers = [], reminded }: PageRecord, part: string): Event[] {
  const questions = questionById(document);
  return [
    ...answers.flatMap(({ question, last, state }): Event[] =>
      last === null
        ? []
        : [{ at: last, event: "page-answer", part, name: questions(question)?.name ?? question, value: state }],
    ),
    ...(reminded === undefined ? [] : [{ at: reminded, event: "page-reminder", part }]),
  ];
}

const thousandth = (ms: number) => Math.round(ms * 1000) / 1000;

const plainColumns: readonly DataColumn<EventSource>[] = [
  dataColumn("study", "text", "Code of the study", ({ facts }) => facts.study),
  dataColumn("session", "text", "Identifier of the sitting", ({ facts }) => facts.session),
  participantColumn(({ facts }) => facts),
  dataColumn("at_ms", "number", "When it happened, from the session's start", ({ event }) => thousandth(event.at), {
    unit: "milliseconds",
  }),
  dataColumn("event", "text", "What happened", ({ event }) => event.event),
  dataColumn("part", "text", "Name of the page or block it happened in", ({ event }) => event.part ?? ""),
  dataColumn("trial", "whole number", "Number of the trial it fell into", ({ event }) => event.trial ?? null),
  dataColumn("name", "text", "Name of the scene, answer, item or rule", ({ event }) => event.name ?? ""),
  dataColumn(
    "value",
    "text",
    "What was answered, sent or logged, or what the rule did",
    ({ event }) => event.value ?? "",
  ),
  dataColumn(
    "attempt",
    "whole number",
    "Which attempt at the trial it fell into, from 1; with `session` and `trial` it finds the row of the trials table",
    ({ event }) => event.attempt ?? null,
  ),
  pilotColumn(({ facts }) => facts),
  countsColumn(({ facts }) => facts),
  stateColumn("session_state", ({ facts }) => facts),
];

const thousandthOf = (ms: number | null | undefined) => (ms === null || ms === undefined ? null : thousandth(ms));
const unit = { unit: "milliseconds" };

/** What is told of markers, in studies that have any. */
const markerColumns = (documents: readonly StudyDocument[]): DataColumn<EventSource>[] => [
  dataColumn("marker", "text", "The marker’s value as it was sent", ({ event }) => event.marker ?? "", {
    values: markersInWords(documents),
  }),
  dataColumn("device", "text", "The device it was sent to: a row for each", ({ event }) => event.device?.device ?? ""),
  dataColumn(
    "sent_ms",
    "number",
    "When the bridge had handed it to the device, from the session’s start; empty where the device or the bridge was away",
    ({ event }) => thousandthOf(event.device?.sent),
    unit,
  ),
  dataColumn(
    "confirmed_ms",
    "number",
    "When the device had sent it back; empty where it does not",
    ({ event }) => thousandthOf(event.device?.confirmed),
    unit,
  ),
  dataColumn(
    "clock_error_ms",
    "number",
    "At most so far off are the two times before: the clocks of browser and bridge are related by messages",
    ({ event }) => thousandthOf(event.device?.error),
    unit,
  ),
];

/** Which value stands for what. */
function markersInWords(documents: readonly StudyDocument[]): string {
  const lines = documents.flatMap((document) =>
    placedMarkers(document).map(
      ({ marker, block }) =>
        `${operandInWords(marker.value, document, block)} = ${marker.name} (${block ? `${block.name}: ` : ""}${markedInWords(marker, block)})`,
    ),
  );
  return [...new Set(lines)].join("; ");
}

/** The columns of the table of events, for all documents that were played. */
export const eventColumns = (documents: readonly StudyDocument[]): readonly DataColumn<EventSource>[] =>
  documents.some(sendsMarkers) ? [...plainColumns, ...markerColumns(documents)] : plainColumns;

/** A marker out of the log: a row for each device, and one where there was none. */
function markerEvents({ at, what, trial, value }: LogEntry): Event[] {
  const entry = markerEntryIn(value);
  const plain: Event = { at, event: what, trial };
  if (!entry) return [plain];
  const told: Event = { ...plain, name: entry.name, marker: entry.value };
  if (entry.value === null) return [{ ...told, value: "no value" }];
  if (entry.on.length === 0) return [{ ...told, value: "no bridge" }];
  return entry.on.map((device) => ({ ...told, device, value: device.sent === null ? "not sent" : "sent" }));
}

/**
 * What happened in one session, in the order in which it did: scenes, answers and items out of the records, and what was
 * logged beside them. Times in milliseconds from the session's start.
 */
export function sessionEvents(
  facts: Facts,
  document: StudyDocument,
  records: readonly SessionRecord[],
  log: readonly LogChunk[],
): EventSource[] {
  const events = [
    ...records.flatMap((record) => eventsOf(document, record)),
    ...log.flatMap(({ entries }) =>
      entries.flatMap((entry): Event[] => {
        const { at, what, trial, value } = entry;
        if (what === "marker") return markerEvents(entry);
        return [{ at, event: what, trial, ...(value === undefined ? {} : { value }) }];
      }),
    ),
  ];
  const attemptAt = attemptsIn(records);
  return events
    .sort((a, b) => a.at - b.at)
    .map((event) => ({
      facts,
      event: event.trial === undefined ? event : { ...event, attempt: attemptAt(event.trial, event.at) },
    }));
}

/** Which attempt at a trial was on at a time: the first, or one more for each that had been broken off before. */
function attemptsIn(records: readonly SessionRecord[]): (trial: number, at: number) => number {
  const brokenOff = new Map<number, number[]>();
  for (const record of records)
    if (record.kind === "broken-off") brokenOff.set(record.trial, [...(brokenOff.get(record.trial) ?? []), record.at]);
  return (trial, at) => 1 + (brokenOff.get(trial) ?? []).filter((end) => end < at).length;
}

/** What rules did, each action by the name of its rule. */
function firedIn(document: StudyDocument, record: SessionRecord): Event[] {
  const { fired } = record;
  if (!fired) return [];
  const rules = rulesById(document);
  return fired.map(({ rule: id, action, at, gave }): Event => {
    // Copies of a block have rules of one id each.
    const all = rules.get(id) ?? [];
    const placed = ("part" in record ? all.find(({ place }) => place.part === record.part) : undefined) ?? all[0];
    const found = placed?.place.part == null ? undefined : document.parts[placed.place.part];
    return {
      at,
      event: "rule",
      ...("part" in record ? { part: partLabel(document, record.part) } : {}),
      ...("trial" in record ? { trial: record.trial } : {}),
      name: placed ? ruleName(placed.all, id) : id,
      value: doneInWords(placed?.rule.do[action], gave, { document, block: found?.kind === "block" ? found : null }),
    };
  });
}

const known = new WeakMap<StudyDocument, Map<string, PlacedRule[]>>();
function rulesById(document: StudyDocument): Map<string, PlacedRule[]> {
  const found = known.get(document);
  if (found) return found;
  const made = new Map<string, PlacedRule[]>();
  for (const placed of placedRules(document)) made.set(placed.rule.id, [...(made.get(placed.rule.id) ?? []), placed]);
  known.set(document, made);
  return made;
}

const serviceName = ({ services }: StudyDocument, id: string | undefined): string =>
  id === undefined ? "" : `${services.find((each) => each.id === id)?.name ?? id}: `;

/** What scripts and services gave, or why they gave nothing, and what was set by hand. */
const givenOutside = (document: StudyDocument, record: SessionRecord): Event[] =>
  (("acts" in record && record.acts) || []).flatMap(({ at, happened }): Event[] => {
    const told = givenIn(document, happened);
    const part = "part" in record ? { part: partLabel(document, record.part) } : {};
    const trial = "trial" in record ? { trial: record.trial } : {};
    return told ? [{ at, ...told, ...part, ...trial }] : [];
  });

function givenIn(document: StudyDocument, happened: Act["happened"]): Pick<Event, "event" | "name" | "value"> | null {
  if (happened.on === "outside") {
    const gave = Object.entries(happened.gave).map(([name, value]) => `${name} = ${String(value ?? "empty")}`);
    return {
      event: happened.service === undefined ? "script-gave" : "service-gave",
      value: `${serviceName(document, happened.service)}${happened.problem ?? gave.join("; ")}`,
    };
  }
  if (happened.on !== "by-hand") return null;
  const { variable, value } = happened;
  const name = document.variables.find(({ id }) => id === variable)?.name ?? variable;
  return { event: "set-by-hand", name, value: Array.isArray(value) ? value.join("; ") : String(value ?? "empty") };
}

const eventsOf = (document: StudyDocument, record: SessionRecord): Event[] => [
  ...recordEvents(document, record),
  ...givenOutside(document, record),
  ...firedIn(document, record),
];

function recordEvents(document: StudyDocument, record: SessionRecord): Event[] {
  if (record.kind === "end")
    return [{ at: record.at, event: record.withdrawn ? "withdrawn" : (record.ended?.as ?? "end") }];
  const found = document.parts[record.part];
  const part = partLabel(document, record.part);
  if (record.kind === "page" || record.kind === "break") {
    const what = record.kind;
    return [
      { at: record.shown, event: `${what}-shown`, part },
      ...(record.kind === "page" ? pageEvents(document, record, part) : []),
      {
        at: record.done,
        event: `${what}-done`,
        part,
        ...(record.kind === "page" && record.left ? { value: record.left } : {}),
      },
    ];
  }
  const block = found?.kind === "block" ? found : null;
  const { trial } = record;
  const items = new Map(block?.scenes.flatMap(({ items }) => items.map(({ id, name }) => [id, name] as const)));
  const named = (id: string) => block?.scenes.find((scene) => scene.id === id)?.name ?? id;
  const answers = record.answers.flatMap(({ answer, early, given, revised, tooLate }) => {
    const name = block?.answers.find(({ id }) => id === answer)?.name ?? answer;
    const of = (event: string, taken: { at: number; value: string }): Event => ({
      at: taken.at,
      event,
      part,
      trial,
      name,
      value: taken.value,
    });
    return [
      ...early.map((each) => of("answer-early", each)),
      ...revised.map((each) => of("answer-revised", each)),
      ...(given ? [of("answer", given)] : []),
      ...(tooLate ? [of("answer-late", tooLate)] : []),
    ];
  });
  return [
    ...record.scenes.flatMap(({ scene, onset, ended }): Event[] => {
      const late = ended && ended.by === "time" && ended.planned !== null ? ended.frames - ended.planned : 0;
      return [
        {
          at: onset,
          event: "scene",
          part,
          trial,
          name: named(scene),
          ...(late === 0 ? {} : { value: `${late > 0 ? "+" : ""}${late} frames` }),
        },
      ];
    }),
    ...record.observed.map(({ item, what, at, value }): Event => ({
      at,
      event: `item-${what}`,
      part,
      trial,
      name: items.get(item) ?? item,
      ...(value === undefined ? {} : { value }),
    })),
    ...answers,
    ...(record.kind === "broken-off"
      ? [{ at: record.at, event: "trial-broken-off", part, trial, value: record.why }]
      : []),
  ];
}
