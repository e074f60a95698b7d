import { list, object } from "../shape/compound";
import { oneOf, text, title, whole } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { id } from "../values/ref";

const sittingFields = object({
  id,
  name: title(60),
  /** Between which days after the sitting before it is due; as soon as that is over where it is not said. The first has none. */
  due: optional(
    object({
      from: whole(0, 3650),
      until: whole(0, 3650),
      /** Whether it can still be begun after that. */
      late: oneOf("may", "may-not"),
    }),
  ),
  /** What is written to those it is due for, with {{who}}, {{link}}, {{from}} and {{until}} in it. */
  reminder: text({ most: 2000 }),
});
/** One of several sittings of a participant. */
export interface Sitting extends Of<typeof sittingFields> {}
const sitting: Shape<Sitting> = sittingFields;

/** The sittings of a study in their order; none where every participant may come as often as they like, and does the same. */
export const sittings: Shape<Sitting[]> = list(sitting, 0, 60);

/** Whether a study says which sittings it has; else everybody comes as often as they like. */
export const hasSittings = ({ sittings: all }: { sittings: readonly Sitting[] }): boolean => all.length > 0;

/** The sitting with this number, from 1; undefined where the study says nothing of it. */
export const sittingNumbered = (
  { sittings: all }: { sittings: readonly Sitting[] },
  number: number,
): Sitting | undefined => all[number - 1];
