import { recordedId, sessionTime } from "../items/observation";
import { answerStates } from "../questions/entry";
import { questionKinds, valueShapes } from "../questions/registry";
import { list, object, variant } from "../shape/compound";
import { oneOf, only, text, whole } from "../shape/plain";
import { nullable, optional, type Of, type Shape } from "../shape/shape";

const fieldsOf = <K extends string>(kind: K, value: Shape<unknown>) =>
  object({
    question: recordedId,
    kind: only(kind),
    state: oneOf(...answerStates),
    /** The answer; also where the question was hidden again, and then it does not count. */
    value: nullable(value),
    /** What was typed and is no answer yet, where the page's time was up. */
    typed: optional(text({ most: 20_000 })),
    /** In which order its options or lines were shown, where that is drawn. */
    order: optional(list(recordedId, 0, 300)),
    /** When it was touched first and last; null where it was not. */
    first: nullable(sessionTime),
    last: nullable(sessionTime),
    changes: whole(0, 1e6),
  });

/** What became of one question of a page. */
const shape = variant(
  "kind",
  Object.fromEntries(questionKinds.map((kind) => [kind, fieldsOf(kind, valueShapes[kind])])) as {
    [K in (typeof questionKinds)[number]]: ReturnType<typeof fieldsOf<K>>;
  },
);
export type PageAnswer = Of<typeof shape>;
export const pageAnswer: Shape<PageAnswer> = shape;
