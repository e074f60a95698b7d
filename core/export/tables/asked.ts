import type { StudyDocument } from "../../design/document";
import { questionById, questionsInOrder } from "../../design/questions";
import type { AnswerPart, Level, ValueType } from "../../questions/kind";
import { scalarOf } from "../../questions/entry";
import { questionKind, type Question } from "../../questions/registry";
import { rawScore, reportedScore, scoresInWords, type Outcomes, type Score } from "../../scores/score";
import { dataColumn, type Cell, type DataColumn } from "../../values/data-column";
import { wordsIn } from "../../values/formatted-text";
import { distinctHeaders } from "../../values/header-names";
import type { Scalar } from "../../values/ref";
import { joined } from "./trial-source";
import { sameAcross } from "./table-columns";

/** What the columns of questions and scores are read from. */
export type AskedSource = { document: StudyDocument | null; outcomes: Outcomes };
type Part = AnswerPart<unknown>;
type Asked = { id: string; name: string; owner: StudyDocument; question: Question; part: Part | null };

export const asCell = (value: Scalar | null): Cell => (typeof value === "boolean" ? (value ? "yes" : "no") : value);

/** Values with what participants read for them, where that is more: `1 = not at all, 2, 3 = very`. */
export const levelsInWords = (levels: readonly Level[]): string =>
  joined(
    levels.map(({ value, label }) => (String(value) === label || label === "" ? String(value) : `${value} = ${label}`)),
  );

const askedIn = (document: StudyDocument): Asked[] =>
  questionsInOrder(document).flatMap(({ question }): Asked[] => {
    const { parts, beside } = questionKind(question.kind);
    const own = parts?.(question);
    const entry = (part: Part | null): Asked => ({
      id: `${question.id} ${part?.id ?? ""}`,
      name: part ? `${question.name}_${part.name}` : question.name,
      owner: document,
      question,
      part,
    });
    return [...(own ? own.map(entry) : [entry(null)]), ...(beside?.(question) ?? []).map(entry)];
  });

/**
 * A column for each question, or for each of its statements or options, and for each score: one for each id over all
 * releases, called as in the newest. `taken` are the names of the table's other columns.
 */
export function askedColumns(documents: readonly StudyDocument[], taken: readonly string[]): DataColumn<AskedSource>[] {
  const asked = sameAcross(documents.map(askedIn));
  const scores = sameAcross(
    documents.map((document) =>
      document.scores.map((score) => ({ id: score.id, name: score.name, owner: document, score })),
    ),
  );
  const withRaw = scores.flatMap((each) => [
    { ...each, isRaw: false },
    ...(each.of.some(({ score }) => score.reported) ? [{ ...each, name: `${each.name}_raw`, isRaw: true }] : []),
  ]);
  const names = distinctHeaders(
    [...asked, ...withRaw].map(({ name }) => name),
    taken,
  );
  return [
    ...asked.map(({ name, of }, index) => answerColumn(names[index] ?? name, of)),
    ...withRaw.map(({ name, of, isRaw }, index) => scoreColumn(names[asked.length + index] ?? name, of, isRaw)),
  ];
}

function answerColumn(name: string, of: readonly Asked[]): DataColumn<AskedSource> {
  const byDocument = new Map(of.map(({ owner, question, part }) => [owner, { question, part }]));
  const [first] = of;
  const { question, part } = first as Asked;
  const kind = questionKind(question.kind);
  const type: ValueType = part ? part.type : kind.type(question);
  const asks = wordsIn(question.text).replace(/\s+/g, " ").trim();
  const levels = (part ? part.levels : kind.levels?.(question)) ?? [];
  return dataColumn(
    name,
    type,
    `Answer to “${asks}” (${kind.says})${part ? `: ${part.says}` : ""}; empty where it was not answered`,
    ({ document, outcomes }) => {
      const here = document && byDocument.get(document);
      const outcome = here ? outcomes[here.question.id] : undefined;
      if (!here || outcome?.state !== "answered") return null;
      return asCell(here.part ? here.part.read(outcome.value) : scalarOf(here.question, outcome.value));
    },
    {
      values: type === "yes/no" ? "yes, no" : levelsInWords(levels),
      isOwnWords: type === "text" && levels.length === 0,
    },
  );
}

function scoreColumn(
  name: string,
  of: readonly { owner: StudyDocument; score: Score }[],
  isRaw: boolean,
): DataColumn<AskedSource> {
  const byDocument = new Map(of.map(({ owner, score }) => [owner, score]));
  const { score, owner } = of[0] as { owner: StudyDocument; score: Score };
  const questions = questionById(owner);
  const items = joined(score.from.map(({ question }) => questions(question)?.name ?? question));
  const isText = !isRaw && score.reported?.some(({ value }) => typeof value === "string");
  return dataColumn(
    name,
    isText ? "text" : "number",
    `Score, ${isRaw ? "before its table: " : ""}${scoresInWords[score.of]} of ${items}; empty with fewer than ${score.atLeast} answers`,
    ({ document, outcomes }) => {
      const here = document && byDocument.get(document);
      if (!document || !here) return null;
      const raw = rawScore(here, questionById(document), outcomes);
      return asCell(isRaw ? raw : reportedScore(here, raw));
    },
    { values: !isRaw && score.reported ? joined(score.reported.map(({ value }) => String(value))) : "" },
  );
}
