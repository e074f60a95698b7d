import { plannedQuestions, planForm } from "../compile/forms";
import type { PlannedPart } from "../compile/compile";
import type { Page } from "../design/page";
import type { Problem } from "../questions/kind";
import { problemWith, stateOf, untouched, type Entries, type Entry } from "../questions/entry";
import { questionKind, type Question } from "../questions/registry";
import type { PageAnswer } from "../records/page-answer";
import type { Condition } from "../values/condition";
import type { Context } from "../values/context";
import type { Id } from "../values/ref";
import { holds } from "../values/resolve";
import { usesIn } from "../values/uses";
import { Telling } from "./told";
import { contextIn, type Course, type InPage, type SessionState } from "./state";

/** The page a session is on. */
export const pageIn = ({ document }: Course, plan: PlannedPart): Page => document.parts[plan.part] as Page;
type PlannedPage = Extract<PlannedPart, { kind: "page" }>;
export function plannedPage(course: Course, { part, aside }: InPage): PlannedPage {
  return aside ? plannedAside(course, aside.page) : (course.plan.parts[part] as PlannedPage);
}

/** Pages that rules show are drawn once: a plan is never changed in place. */
const asides = new WeakMap<Course["plan"], Map<Id, PlannedPage>>();
function plannedAside({ document, plan }: Course, id: Id): PlannedPage {
  const known = asides.get(plan) ?? new Map<Id, PlannedPage>();
  asides.set(plan, known);
  const page = document.parts[id] as Page;
  const found = known.get(id) ?? {
    kind: "page",
    part: id,
    brackets: [],
    form: planForm(page, plan.seed, plan.participant),
  };
  known.set(id, found);
  return found;
}

/** The questions a participant can be asked on the page of a phase. */
export function askedOn(course: Course, phase: InPage): Question[] {
  const planned = plannedPage(course, phase);
  return plannedQuestions(pageIn(course, planned), planned.form);
}

/** One question of a page as it stands. */
export type FormLine = { question: Question; isShown: boolean; entry: Entry };

/**
 * The questions a participant can be asked on the page, which of them are shown now, and what bindings see of all
 * answers that count: a question hangs only on what stands before it, and what is hidden counts nowhere.
 */
export function formIn(course: Course, state: SessionState, phase: InPage): { lines: FormLine[]; context: Context } {
  const questions = askedOn(course, phase);
  const own = new Set(questions.map(({ id }) => id));
  const telling = new Telling(
    course.document,
    Object.fromEntries(Object.entries(state.answers).filter(([id]) => !own.has(id))),
  );
  const seenWith = (answers: Context["tally"]["answers"]): Context =>
    contextIn(course, { ...state, tally: { ...state.tally, answers } });
  const isMet = (when: Condition): boolean =>
    holds(when, seenWith(usesIn(when).some(({ ref }) => "score" in ref) ? telling.all() : telling.answers));
  const lines = questions.map((question): FormLine => {
    const entry = phase.entries[question.id] ?? untouched(question.id);
    const isShown = !question.when || isMet(question.when);
    const isProper = entry.value !== null && questionKind(question.kind).problem(question, entry.value) === null;
    if (isShown) {
      const answerState = entry.ratherNot ? ("rather-not" as const) : isProper ? ("answered" as const) : null;
      // What is not answered yet counts for scores only once the page is left.
      if (answerState) telling.add(question, { state: answerState, value: entry.value });
    }
    return { question, isShown, entry };
  });
  return { lines, context: seenWith(telling.all()) };
}

/** What keeps the participant from going on, by question, in their order. */
export const problemsIn = (lines: readonly FormLine[], isReminded: boolean): { question: Id; problem: Problem }[] =>
  lines.flatMap(({ question, isShown, entry }) => {
    const problem = isShown ? problemWith(question, entry, isReminded) : null;
    return problem ? [{ question: question.id, problem }] : [];
  });

/** What is recorded of the questions as the page is left. */
export function answersOf(course: Course, phase: InPage, lines: readonly FormLine[], isTimeUp: boolean): PageAnswer[] {
  const { orders } = plannedPage(course, phase).form;
  return lines.map(({ question, isShown, entry }): PageAnswer => {
    const order = orders[question.id];
    return {
      question: question.id,
      kind: question.kind,
      state: isShown ? stateOf(question, entry, isTimeUp) : "not-shown",
      value: entry.value,
      ...(entry.typed === undefined ? {} : { typed: entry.typed }),
      ...(order === undefined ? {} : { order }),
      first: entry.first,
      last: entry.last,
      changes: entry.changes,
    } as PageAnswer;
  });
}

/** What a participant had done on a page, out of what was recorded of it. */
export const entriesOf = (answers: readonly PageAnswer[]): Entries =>
  Object.fromEntries(
    answers.map(({ question, state, value, first, last, changes, typed }) => [
      question,
      {
        question,
        value,
        ratherNot: state === "rather-not",
        first,
        last,
        changes,
        ...(typed === undefined ? {} : { typed }),
      },
    ]),
  );
