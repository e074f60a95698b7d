import { compile } from "../../compile/compile";
import type { StudyDocument } from "../../design/document";
import { partLabel } from "../../design/part-labels";
import { questionById, questionsInOrder } from "../../design/questions";
import { answerStates, labelOf, scalarOf } from "../../questions/entry";
import type { AnswerPart } from "../../questions/kind";
import { questionKind, questionKinds, type Question } from "../../questions/registry";
import type { PageAnswer } from "../../records/page-answer";
import type { PageRecord, SessionRecord } from "../../records/record";
import { sessionMachine } from "../../run/session-machine";
import { eventsOf } from "../../run/replay";
import type { Context } from "../../values/context";
import { dataColumn, tenth, type DataColumn } from "../../values/data-column";
import { fixedIn, wordsIn } from "../../values/formatted-text";
import { valueAsText } from "../../values/resolve";
import { usesIn } from "../../values/uses";
import { asCell } from "./asked";
import { countsColumn, participantColumn, pilotColumn, stateColumn, sittingColumn } from "./standing";
import type { SessionFacts } from "./trial-source";

/** One row of the answers table: a question as it stood when its page was left the last time, or one line of it. */
export type AnswerSource = {
  facts: SessionFacts;
  document: StudyDocument;
  page: string;
  question: Question;
  part: AnswerPart<unknown> | null;
  answer: PageAnswer;
  /** The question as it was read, names replaced by their values. */
  text: string;
  /** What had been answered when the page was left before. */
  earlier: readonly PageAnswer[];
};

const ms = { unit: "milliseconds" };
const isAnswered = ({ answer }: AnswerSource) => answer.state === "answered" || answer.state === "not-shown";

/** The value in the data: also of a question that was hidden again, whose state says that it does not count. */
const valueOf = (source: AnswerSource) =>
  !isAnswered(source) || source.answer.value === null
    ? null
    : source.part
      ? source.part.read(source.answer.value)
      : scalarOf(source.question, source.answer.value);

function labelIn({ question, part, answer }: AnswerSource): string | null {
  if (answer.value === null) return null;
  if (!part) return labelOf(question, answer.value);
  const value = part.read(answer.value);
  return part.levels?.find((level) => level.value === value)?.label ?? (value === null ? null : String(asCell(value)));
}

/** What the shown order's ids are called in the data. */
function orderInWords({ question, answer }: AnswerSource): string | null {
  if (!answer.order) return null;
  const entries = questionKind(question.kind).order?.(question).entries ?? [];
  const names = new Map(entries.map(({ id, name }) => [id, name]));
  return answer.order.map((id) => names.get(id) ?? id).join(" > ");
}

export const answerTableColumns: readonly DataColumn<AnswerSource>[] = [
  dataColumn("study", "text", "Code of the study", ({ facts }) => facts.study),
  dataColumn("release", "whole number", "Number of the frozen version that was played", ({ facts }) => facts.release),
  dataColumn("wave", "text", "Label of the period of data collection", ({ facts }) => facts.wave),
  dataColumn("session", "text", "Identifier of the sitting", ({ facts }) => facts.session),
  participantColumn(({ facts }) => facts),
  sittingColumn(({ facts }) => facts),
  dataColumn(
    "group_name",
    "text",
    "Group the participant was in",
    ({ facts, document }) => document.groups.find(({ id }) => id === facts.group)?.name ?? facts.group,
  ),
  dataColumn("page", "text", "Name of the page", ({ page }) => page),
  dataColumn("question", "text", "Name of the question", ({ question }) => question.name),
  dataColumn(
    "line",
    "text",
    "Name of the statement, pair or option, where a question asks for several numbers: it has a row for each",
    ({ part }) => part?.name ?? null,
  ),
  dataColumn("kind", "text", "Kind of the question", ({ question }) => question.kind, {
    values: questionKinds.join(", "),
  }),
  dataColumn("question_text", "text", "The question as it was read", ({ text }) => text),
  dataColumn(
    "state",
    "text",
    "How the question ended. An answer whose question was hidden again (not-shown) stands here and counts nowhere",
    ({ answer }) => answer.state,
    { values: answerStates.join(", ") },
  ),
  dataColumn("value", "text", "The answer, as the study calls it in the data", (source) => asCell(valueOf(source))),
  dataColumn("label", "text", "The answer as the participant read it", (source) =>
    isAnswered(source) ? labelIn(source) : null,
  ),
  dataColumn(
    "is_right",
    "yes/no",
    "Whether the answer was the right one; empty where none is right, or without an answer",
    ({ question, answer }) => {
      const right = answer.state === "answered" ? questionKind(question.kind).isRight?.(question, answer.value) : null;
      return right == null ? null : right ? "yes" : "no";
    },
    { values: "yes, no" },
  ),
  dataColumn(
    "points",
    "number",
    "What the answer brings to a score, reversed where it counts so",
    ({ question, part, answer }) => {
      if (answer.state !== "answered") return null;
      return (part ? part.score?.(answer.value) : questionKind(question.kind).score?.(question, answer.value)) ?? null;
    },
  ),
  dataColumn("order_shown", "text", "The order in which options or lines were shown, where it was drawn", orderInWords),
  dataColumn(
    "first_ms",
    "number",
    "When the question was touched first, from the session's start; empty if it was not",
    ({ answer }) => answer.first && tenth(answer.first),
    ms,
  ),
  dataColumn(
    "last_ms",
    "number",
    "When it was touched last, from the session's start",
    ({ answer }) => answer.last && tenth(answer.last),
    ms,
  ),
  dataColumn(
    "changes",
    "whole number",
    "How often an answer that was there was changed",
    ({ answer }) => answer.changes,
  ),
  dataColumn(
    "earlier_values",
    "text",
    "What had been answered when the page was left before and come back to",
    ({ question, earlier }) =>
      earlier.map(({ value }) => (value === null ? "" : labelOf(question, value))).join(" > ") || null,
  ),
  dataColumn(
    "typed",
    "text",
    "What was typed and is no answer, where the page's time was up",
    ({ answer }) => answer.typed ?? null,
  ),
  pilotColumn(({ facts }) => facts),
  countsColumn(({ facts }) => facts),
  stateColumn("session_state", ({ facts }) => facts),
];

/** Whether a study's questions show values that only a replay of the session tells. */
export const needsReplay = (document: StudyDocument): boolean =>
  questionsInOrder(document).some(({ question }) => usesIn(question.text).length > 0);

/** The answers table of one session, out of its records in order. */
export function answerSources(
  document: StudyDocument,
  facts: SessionFacts,
  seed: string,
  records: readonly SessionRecord[],
): AnswerSource[] {
  const pages = records.filter(
    (record): record is PageRecord => record.kind === "page" && record.answers !== undefined,
  );
  if (pages.length === 0) return [];
  const seen = needsReplay(document) ? contextsOf(document, facts, seed, records) : null;
  const questions = questionById(document);
  const last = new Map<string, PageRecord>();
  for (const page of pages) last.set(page.part, page);
  return [...last.values()].flatMap((record) => {
    const before = pages.filter((page) => page.part === record.part && page !== record);
    const context = seen?.get(record.number) ?? null;
    return (record.answers ?? []).flatMap((answer): AnswerSource[] => {
      const question = questions(answer.question);
      if (!question) return [];
      const text = context ? fixedIn(question.text, (ref) => valueAsText(ref, context)) : question.text;
      const source = {
        facts,
        document,
        page: partLabel(document, record.part),
        question,
        answer,
        text: wordsIn(text),
        earlier: before.flatMap((page) => page.answers?.filter((each) => each.question === answer.question) ?? []),
      };
      const kind = questionKind(question.kind);
      const lines = kind.isOfLines ? (kind.parts?.(question) ?? []) : [];
      return lines.length > 0 ? lines.map((part) => ({ ...source, part })) : [{ ...source, part: null }];
    });
  });
}

/** What bindings saw as each page was left, by the number of its record. */
function contextsOf(
  document: StudyDocument,
  { participant, entered, group, orders, begins }: SessionFacts,
  seed: string,
  records: readonly SessionRecord[],
): Map<number, Context> {
  const plan = compile(document, participant, seed, group, orders, entered);
  const machine = sessionMachine(document, plan, begins);
  let { state } = machine.begin();
  const seen = new Map<number, Context>();
  for (const record of records) {
    if (record.kind === "page") seen.set(record.number, machine.context(state));
    for (const event of eventsOf(record)) state = machine.next(state, event).state;
  }
  return seen;
}
