import type { Of } from "../../shape/shape";
import { dataColumn, tenth } from "../../values/data-column";
import type { GivenInput } from "../kind";
import { confirmed } from "../of-item";

/** What was typed into an entry, when Enter is pressed or the button chosen here. */
export const typed = {
  ...confirmed("typed", "entry", "an entry", (name) => `text in ${name}`),
  columns: [
    dataColumn(
      "answer_first_key_ms",
      "number",
      "was begun then: reaction time of the first key typed into the entry; empty where it was not typed by keys",
      ({ input, rt }: GivenInput) => (input.typedForMs === undefined ? null : tenth(rt - input.typedForMs)),
      { unit: "milliseconds" },
    ),
  ],
};
export type TypedDevice = Of<(typeof typed)["shape"]>;
