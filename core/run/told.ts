import { questionById } from "../design/questions";
import type { StudyDocument } from "../design/document";
import { labelOf, scalarOf } from "../questions/entry";
import { questionKind, type Question } from "../questions/registry";
import { rawScore, reportedScore, type Outcomes } from "../scores/score";
import type { Id, Scalar } from "../values/ref";
import type { Told } from "../values/tally";
import { refKey } from "../values/uses";

const plain = (value: Scalar | null): string =>
  value === null ? "" : typeof value === "boolean" ? (value ? "yes" : "no") : String(value);

/** What bindings see of one answer and its parts. */
function tellAnswer(told: Record<string, Told>, question: Question, value: unknown): void {
  const { parts, beside } = questionKind(question.kind);
  told[refKey({ question: question.id })] = { value: scalarOf(question, value), text: labelOf(question, value) };
  for (const part of [...(parts?.(question) ?? []), ...(beside?.(question) ?? [])]) {
    const read = part.read(value);
    const label = part.levels?.find((level) => level.value === read)?.label;
    told[refKey({ question: question.id, part: part.id })] = { value: read, text: label ?? plain(read) };
  }
}

function tellScores(told: Record<string, Told>, document: StudyDocument, outcomes: Outcomes): void {
  const questions = questionById(document);
  for (const score of document.scores) {
    const value = reportedScore(score, rawScore(score, questions, outcomes));
    const isShare = score.of === "share-right" && !score.reported && typeof value === "number";
    told[refKey({ score: score.id })] = { value, text: isShare ? `${Math.round(value * 100)} %` : plain(value) };
  }
}

/** What bindings see of answers and scores: those that count, by the key of their reference. */
export function toldOf(document: StudyDocument, outcomes: Outcomes): Record<string, Told> {
  const telling = new Telling(document, outcomes);
  return telling.all();
}

/** The same while answers are added one after the other: scores are worked out only when they are asked for. */
export class Telling {
  readonly #outcomes: Record<Id, Outcomes[string]>;
  readonly #answers: Record<string, Told> = {};

  constructor(
    private readonly document: StudyDocument,
    outcomes: Outcomes,
  ) {
    this.#outcomes = { ...outcomes };
    const questions = questionById(document);
    for (const [id, outcome] of Object.entries(outcomes)) {
      const question = questions(id);
      if (question && outcome?.state === "answered") tellAnswer(this.#answers, question, outcome.value);
    }
  }

  add(question: Question, outcome: NonNullable<Outcomes[string]>): void {
    this.#outcomes[question.id] = outcome;
    if (outcome.state === "answered") tellAnswer(this.#answers, question, outcome.value);
  }

  /** Answers alone, as they are added. */
  get answers(): Readonly<Record<string, Told>> {
    return this.#answers;
  }

  all(): Record<string, Told> {
    const told = { ...this.#answers };
    tellScores(told, this.document, this.#outcomes);
    return told;
  }
}
