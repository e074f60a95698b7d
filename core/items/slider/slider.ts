import { object } from "../../shape/compound";
import { number } from "../../shape/plain";
import { nullable, refined, type Of } from "../../shape/shape";
import { anyText, positive } from "../../values/amounts";
import { freshSized, sized } from "../base";
import { letterSize, noMedia, type ItemKindOf } from "../kind";

const fields = object({
  ...sized("slider"),
  from: number(),
  to: number(),
  step: number({ above: 0 }),
  leftLabel: anyText,
  rightLabel: anyText,
  /** Where the mark stands at first; null shows none before the first touch. */
  start: nullable(number()),
  fontSize: positive,
});
export interface SliderItem extends Of<typeof fields> {}

const mostStops = 10_000;

/** Every value the mark can stand at, from the left; of very many the first ones. */
export function stopsOf({ from, to, step }: SliderItem): number[] {
  const steps = Math.min(mostStops, Math.floor((to - from) / step + 1e-9));
  return Array.from({ length: steps + 1 }, (_, index) => Math.round((from + index * step) * 1e9) / 1e9);
}

export const slider: ItemKindOf<SliderItem> = {
  shape: refined(fields, ({ from, to }) =>
    to > from ? null : { field: "to", message: "must be greater than where it starts from" },
  ),
  make: (newId, name) => ({
    ...freshSized("slider", newId, name, 70, 12),
    from: 0,
    to: 100,
    step: 1,
    leftLabel: "not at all",
    rightLabel: "very much",
    start: null,
    fontSize: 4,
  }),
  measures: letterSize,
  media: noMedia,
  isWorked: true,
};
