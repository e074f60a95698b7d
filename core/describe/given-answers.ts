import type { StudyDocument } from "../design/document";
import type { SessionRecord } from "../records/record";
import { inWords } from "./session-course";

/**
 * One answer of a trial as it was given, in ms from the session's start: what it is called, its reaction time in ms and
 * whether it was right, where it has these; `point` in stage units, where it was pointed at.
 */
export type GivenAt = {
  at: number;
  trial: number;
  name: string;
  value: string;
  rt: number | null;
  right: boolean | null;
  counts: "yes" | "too early" | "too late" | "changed later";
  point: { x: number; y: number } | null;
};

/** Every answer that was given in the trials of a session, those that do not count too, in the order of time. */
export function givenAnswers(document: Pick<StudyDocument, "parts">, records: readonly SessionRecord[]): GivenAt[] {
  const given = records.flatMap((record): GivenAt[] => {
    if (record.kind !== "trial" && record.kind !== "broken-off") return [];
    const part = document.parts[record.part];
    const names = new Map(part?.kind === "block" ? part.answers.map(({ id, name }) => [id, name]) : []);
    return record.answers.flatMap((answer): GivenAt[] => {
      const name = names.get(answer.answer) ?? answer.answer;
      const told =
        (counts: GivenAt["counts"]) =>
        ({ value, at, input, ...more }: (typeof answer.early)[number]): GivenAt => ({
          ...{ at, trial: record.trial, name, value: inWords(value), counts },
          rt: "rt" in more && typeof more.rt === "number" ? more.rt : null,
          right: counts === "yes" ? answer.right : null,
          point: input.x === undefined || input.y === undefined ? null : { x: input.x, y: input.y },
        });
      return [
        ...answer.early.map(told("too early")),
        ...answer.revised.map(told("changed later")),
        ...(answer.given ? [told("yes")(answer.given)] : []),
        ...(answer.tooLate ? [told("too late")(answer.tooLate)] : []),
      ];
    });
  });
  return given.toSorted((a, b) => a.at - b.at);
}
