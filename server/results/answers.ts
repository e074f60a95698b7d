import { questionById, questionsInOrder, pagesInOrder, isSet } from "../../core/design/questions";
import type { StudyDocument } from "../../core/design/document";
import { answerStates, labelOf, type AnswerState } from "../../core/questions/entry";
import { numbersOf } from "../../core/questions/points";
import { questionKind, type Question } from "../../core/questions/registry";
import { outcomesIn } from "../../core/records/outcomes";
import { rawScore, scoredItems, scoresInWords, type Outcomes } from "../../core/scores/score";
import { cronbachAlpha, type Alpha } from "../../core/stats/alpha";
import { described, histogram, type Bin, type Described } from "../../core/stats/describe";
import { wordsIn } from "../../core/values/formatted-text";
import type { Result } from "./result";

export type AnswersQuestion = { byGroup: boolean; search: string };
/** Counts of what was answered, for each group that is told apart. */
export type Counted = { label: string; value: string; counts: number[] };
/** One line of several numbers: a statement, a pair, an option that gets points or a place. */
export type LineSummary = { label: string; counts: Counted[]; numbers: (Described | null)[] };
type Shown =
  | { as: "counts"; counts: Counted[]; numbers: (Described | null)[] | null }
  | { as: "numbers"; bins: (Bin & { counts: number[] })[]; numbers: (Described | null)[] }
  | { as: "lines"; lines: LineSummary[] }
  | { as: "texts"; texts: { participant: number; text: string }[]; all: number };
export type QuestionSummary = {
  id: string;
  name: string;
  page: string;
  text: string;
  kind: string;
  /** How many ended how. */
  states: Record<AnswerState, number>;
  shown: Shown;
};
export type ScoreSummary = {
  name: string;
  says: string;
  numbers: (Described | null)[];
  alpha: Alpha | null;
  /** Why there is no alpha. */
  withoutAlpha: string | null;
};
export type AnswersAnswer = {
  groups: string[];
  questions: QuestionSummary[];
  scores: ScoreSummary[];
  sessions: number;
};

type Person = { participant: number; group: number; document: StudyDocument; outcomes: Outcomes };

const mostTexts = 200;

/** What was answered on pages: each question as suits it, and the scores. */
export const answers: Result<AnswersQuestion, AnswersAnswer> = {
  ask: (query) => ({ byGroup: query.get("by") === "group", search: (query.get("search") ?? "").slice(0, 100) }),
  answer: async ({ reader }, { byGroup, search }) => {
    const [newest] = reader.documents;
    if (!newest) return { groups: [], questions: [], scores: [], sessions: 0 };
    const names = byGroup ? newest.groups.map(({ name }) => name) : ["all"];
    const people: Person[] = [];
    for await (const together of reader.pages())
      for (const { sitting, records } of together) {
        const { document } = sitting.release;
        const name = document.groups.find(({ id }) => id === sitting.facts.group)?.name ?? "";
        const group = byGroup ? names.indexOf(name) : 0;
        if (records.length > 0 && group >= 0)
          people.push({ participant: sitting.facts.participant, group, document, outcomes: outcomesIn(records) });
      }
    const questions = questionsInOrder(newest).map(({ page, question }): QuestionSummary => {
      const asked = people.flatMap((person) => {
        const outcome = person.outcomes[question.id];
        return outcome ? [{ ...person, outcome }] : [];
      });
      const states = Object.fromEntries(
        answerStates.map((state) => [state, asked.filter(({ outcome }) => outcome.state === state).length]),
      ) as Record<AnswerState, number>;
      const given = asked.flatMap(({ participant, group, outcome }) =>
        outcome.state === "answered" ? [{ participant, group, value: outcome.value }] : [],
      );
      return {
        id: question.id,
        name: question.name,
        page: page.name,
        text: wordsIn(question.text).trim() || ("label" in question ? question.label : ""),
        kind: questionKind(question.kind).says,
        states,
        shown: shownOf(question, given, names.length, search),
      };
    });
    return { groups: names, questions, scores: scoresOf(newest, people, names.length), sessions: people.length };
  },
};

type Given = { participant: number; group: number; value: unknown };

const perGroup = (groups: number) => Array.from({ length: groups }, (_, index) => index);
const countsOf = <T>(given: readonly T[], groups: number, of: (one: T) => boolean, group: (one: T) => number) =>
  perGroup(groups).map((index) => given.filter((one) => group(one) === index && of(one)).length);

function shownOf(question: Question, given: Given[], groups: number, search: string): Shown {
  const kind = questionKind(question.kind);
  const groupOf = ({ group }: Given) => group;
  const numbersBy = (read: (value: unknown) => unknown) =>
    perGroup(groups).map((index) =>
      described(
        given.flatMap(({ group, value }) => {
          const number = group === index ? read(value) : null;
          return typeof number === "number" ? [number] : [];
        }),
      ),
    );
  const parts = kind.parts?.(question) ?? [];
  const ticks = parts.filter(({ type }) => type === "yes/no");
  if (ticks.length > 0)
    return {
      as: "counts",
      counts: ticks.map((part) => ({
        value: part.name,
        label: part.label,
        counts: countsOf(given, groups, ({ value }) => part.read(value) === true, groupOf),
      })),
      numbers: null,
    };
  if (parts.length > 0)
    return {
      as: "lines",
      lines: parts.map((part) => ({
        label: part.label,
        counts: (kind.isOfLines ? pointsOf(question) : []).map((point) => ({
          value: String(point),
          label: part.levels?.find(({ value }) => value === point)?.label ?? String(point),
          counts: countsOf(given, groups, ({ value }) => part.read(value) === point, groupOf),
        })),
        numbers: numbersBy((value) => part.read(value)),
      })),
    };
  if (kind.levels) {
    const levels = kind.levels(question);
    return {
      as: "counts",
      counts: levels.map(({ value: level, label }) => ({
        value: String(level),
        label,
        counts: countsOf(given, groups, ({ value }) => kind.read(question, value) === level, groupOf),
      })),
      numbers: kind.type(question) === "number" ? numbersBy((value) => kind.read(question, value)) : null,
    };
  }
  if (kind.type(question) === "number") {
    const all = given.flatMap(({ group, value }) => {
      const number = kind.read(question, value);
      return typeof number === "number" ? [{ group, number }] : [];
    });
    const bins = histogram(all.map(({ number }) => number));
    return {
      as: "numbers",
      bins: bins.map((bin, index) => ({
        ...bin,
        counts: countsOf(
          all,
          groups,
          ({ number }) => number >= bin.from && (number < bin.to || index === bins.length - 1),
          ({ group }) => group,
        ),
      })),
      numbers: numbersBy((value) => kind.read(question, value)),
    };
  }
  const wanted = search.toLowerCase();
  const texts = given
    .map(({ participant, value }) => ({ participant, text: labelOf(question, value) }))
    .filter(({ text }) => text.toLowerCase().includes(wanted));
  return { as: "texts", texts: texts.slice(0, mostTexts), all: texts.length };
}

/** The points that lines are rated on; none where they get other numbers. */
const pointsOf = (question: Question): number[] => ("points" in question ? numbersOf(question) : []);

function scoresOf(newest: StudyDocument, people: readonly Person[], groups: number): ScoreSummary[] {
  return newest.scores.map((score) => {
    const raw = people.flatMap(({ group, document, outcomes }) => {
      const here = document.scores.find(({ id }) => id === score.id);
      const value = here ? rawScore(here, questionById(document), outcomes) : null;
      return value === null ? [] : [{ group, value }];
    });
    const numbers = perGroup(groups).map((index) =>
      described(raw.flatMap(({ group, value }) => (group === index ? [value] : []))),
    );
    const isDrawn = pagesInOrder(newest).some(({ flow }) =>
      flow.some(
        (piece) =>
          isSet(piece) &&
          piece.take !== undefined &&
          piece.take < piece.questions.length &&
          piece.questions.some(({ id }) => score.from.some(({ question }) => question === id)),
      ),
    );
    const isOfRight = score.of === "count-right" || score.of === "share-right";
    const rows = people.map(({ document, outcomes }) =>
      scoredItems(score, questionById(document), outcomes).map(({ brings, isRight }) =>
        isOfRight ? (isRight === null ? null : isRight ? 1 : 0) : brings,
      ),
    );
    const longest = Math.max(0, ...rows.map(({ length }) => length));
    const alpha = isDrawn ? null : cronbachAlpha(rows.filter(({ length }) => length === longest));
    return {
      name: score.name,
      says: scoresInWords[score.of],
      numbers,
      alpha,
      withoutAlpha: alpha
        ? null
        : isDrawn
          ? "its questions are drawn, so that participants have different ones"
          : "it takes two items and three participants who have them all",
    };
  });
}
