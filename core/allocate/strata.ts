import { answerLevels } from "../design/answer-levels";
import { isOfAnswer, type AnswerStratum, type Stratum } from "../design/allocation";
import type { StudyDocument } from "../design/document";
import { questionById } from "../design/questions";
import type { Scalar } from "../values/ref";
import type { Tally } from "../values/tally";
import { refKey } from "../values/uses";

/** The level of participants who have not answered. */
export const noAnswer = "no answer";

/** The name of a number's level, from 0, between cuts in ascending order. */
const between = (cuts: readonly number[], level: number): string =>
  level === 0
    ? `below ${cuts[0]}`
    : level === cuts.length
      ? `${cuts[level - 1]} or more`
      : `${cuts[level - 1]} to below ${cuts[level]}`;

const ascending = ({ cuts = [] }: AnswerStratum) => [...new Set(cuts)].sort((a, b) => a - b);

/** All levels of a stratum by name; of an answer, that of those who did not answer is the last. */
export function levelsOf(document: StudyDocument, stratum: Stratum): string[] {
  if (!isOfAnswer(stratum)) return stratum.values;
  const cuts = ascending(stratum);
  const known = cuts.length === 0 ? answerLevels(document, stratum.from) : null;
  const levels =
    known?.map(({ label }) => label) ?? Array.from({ length: cuts.length + 1 }, (_, at) => between(cuts, at));
  return [...new Set(levels), noAnswer];
}

function levelOf(document: StudyDocument, stratum: AnswerStratum, value: Scalar | null): string {
  if (value === null) return noAnswer;
  const cuts = ascending(stratum);
  if (cuts.length > 0)
    return typeof value === "number" ? between(cuts, cuts.filter((cut) => cut <= value).length) : noAnswer;
  return answerLevels(document, stratum.from)?.find((level) => level.value === value)?.label ?? noAnswer;
}

/** A stratum's key: its levels, in the order of the study's strata. */
export const stratumName = (levels: readonly string[]): string => levels.join(" · ");

/**
 * The stratum of a participant, from what the entry link said (by parameter) and from what is told of their answers so far.
 * `missing`: the first parameter that does not say one of its values, with these.
 */
export function stratumOf(
  document: StudyDocument,
  parameters: Readonly<Record<string, string>>,
  told: Tally["answers"],
): { name: string } | { missing: { parameter: string; values: readonly string[] } } {
  const { strata } = document.allocation;
  const levels: string[] = [];
  for (const stratum of strata) {
    if (isOfAnswer(stratum)) {
      levels.push(levelOf(document, stratum, told[refKey(stratum.from)]?.value ?? null));
      continue;
    }
    const said = (parameters[stratum.parameter] ?? "").trim().toLowerCase();
    const found = stratum.values.find((value) => value.toLowerCase() === said);
    if (found === undefined) return { missing: stratum };
    levels.push(found);
  }
  return { name: stratumName(levels) };
}

/** What a stratum is made of, as people call it: a parameter, a question or a score. */
export function stratumInWords(document: StudyDocument, stratum: Stratum): string {
  if (!isOfAnswer(stratum)) return stratum.parameter;
  const { from } = stratum;
  if ("score" in from) return document.scores.find(({ id }) => id === from.score)?.name ?? "a score that is gone";
  return ("question" in from && questionById(document)(from.question)?.name) || "an answer that is gone";
}
