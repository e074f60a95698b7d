import type { StudyDocument } from "../design/document";
import type { GivenAnswer, SceneRecord, SessionRecord, TrialRecord } from "./record";
import type { Outcome } from "../values/tally";

type OldAnswer = Omit<GivenAnswer, "input" | "order">;
/** A trial as it was recorded while a block had one answer by key at most. */
type OneAnswerTrial = Omit<TrialRecord, "answers" | "observed" | "placed"> & {
  scenes: SceneRecord[];
  answer: OldAnswer | null;
  tooLate: OldAnswer | null;
  right: boolean | null;
  outcome: Outcome;
};

/**
 * Like `presentRecord`, for what was sent and not looked at yet: null where it says that it is of the first form and is not.
 */
export function presentRecordSent(sent: unknown, document: StudyDocument): SessionRecord | null {
  try {
    return presentRecord(sent, document);
  } catch {
    return null;
  }
}

/**
 * A record in the present form, from one stored or sent in the present or in the first form. The stored bytes stay as
 * they are. `document` is the one it was played on, from which an old record gets the id of its answer.
 */
export function presentRecord(stored: unknown, document: StudyDocument): SessionRecord {
  const record = stored as SessionRecord | OneAnswerTrial;
  if (record.kind !== "trial" || "answers" in record) return record;
  const { answer, tooLate, right, outcome, ...rest } = record;
  const part = document.parts[record.part];
  const spec = part?.kind === "block" ? part.answers[0] : undefined;
  const byKey = (given: OldAnswer | null): GivenAnswer | null =>
    given && {
      ...given,
      order: 1,
      input: { device: "keys", value: given.value, place: given.value.toLowerCase(), act: "press" },
    };
  return {
    ...rest,
    answers: spec
      ? [{ answer: spec.id, given: byKey(answer), right, outcome, early: [], tooLate: byKey(tooLate), revised: [] }]
      : [],
    observed: [],
    placed: {},
  };
}
