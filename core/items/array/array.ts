import { object } from "../../shape/compound";
import { number, oneOf, whole, yesNo } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { anyNumber, anyText, color, positive } from "../../values/amounts";
import type { Context } from "../../values/context";
import { dataColumn } from "../../values/data-column";
import { bindable, type Bindable } from "../../values/ref";
import { resolve, resolveNumber } from "../../values/resolve";
import { freshSized, sized } from "../base";
import { someMeasure, type ItemKindOf, type ItemProblem } from "../kind";
import { shapeForms } from "../shape/shape";
import { placeElements } from "./place-elements";

const look = object({
  form: oneOf(...shapeForms, "picture", "text"),
  color,
  picture: anyText,
  text: anyText,
  turned: anyNumber,
});
export interface ElementLook extends Of<typeof look> {}

const mostElements = 500;
const shape = object({
  ...sized("array"),
  arrangement: oneOf("ring", "grid", "scattered"),
  count: bindable(whole(0, mostElements)),
  /** Side of an element, in stage units. */
  element: positive,
  /** Cells of the grid across and upright. */
  across: whole(1, 50),
  upright: whole(1, 50),
  /** Least distance between the centres of scattered elements, in stage units. */
  distance: number({ least: 0 }),
  /** Whether one of the elements is the target. */
  present: bindable(yesNo),
  targetIn: oneOf("anywhere", "left", "right", "upper", "lower"),
  target: look,
  others: look,
});
/**
 * Many elements at positions drawn for each trial from the session's seed. Its size is that of the field they lie in.
 */
export interface ArrayItem extends Of<typeof shape> {}

const freshLook = (color: string): ElementLook => ({ form: "ellipse", color, picture: "", text: "", turned: 0 });

/** What a column may hold when the target is absent. */
const absent = [false, null, "no", "absent"];

export const array: ItemKindOf<ArrayItem> = {
  shape,
  make: (newId, name) => ({
    ...freshSized("array", newId, name, 70, 70),
    arrangement: "ring",
    count: 8,
    element: 6,
    across: 6,
    upright: 6,
    distance: 9,
    present: true,
    targetIn: "anywhere",
    target: freshLook("#a3460f"),
    others: freshLook("#2e7d8c"),
  }),
  measures: ({ count, element }) => [
    { what: "its number of elements", value: count, least: 0 },
    { what: "the size of its elements", value: element, least: someMeasure },
  ],
  media: ({ target, others }) =>
    [target, others].flatMap(({ form, picture }) =>
      form === "picture" ? [{ kind: "picture" as const, value: picture }] : [],
    ),
  draw: (item, context, stream) => {
    const of = (value: Bindable<number>, otherwise: number) => resolveNumber(value, context) ?? otherwise;
    const field = {
      count: Math.max(0, Math.min(mostElements, Math.round(of(item.count, 0)))),
      w: of(item.size.w, 10),
      h: of(item.size.h, 10),
      element: of(item.element, 5),
      present: !absent.includes(resolve(item.present, context) as string | boolean | null),
    };
    return placeElements(item, field, stream);
  },
  mostDrawn: ({ count }) => (typeof count === "number" ? count : mostElements),
  problems: (item, rows) =>
    rows
      .filter(({ context }) => isTooFull(item, context))
      .slice(0, 1)
      .map(({ number: row, row: id, context }): ItemProblem => ({
        level: "warning",
        message: `In row ${row} its ${resolve(item.count, context)} elements may not all find a place. Give it a larger field, ${item.arrangement === "grid" ? "more cells" : "a smaller least distance"} or fewer elements.`,
        row: id,
      })),
  columns: () => [
    dataColumn(
      "places",
      "text",
      "where its elements were drawn, each as x y, the target marked with *, from the array's centre",
      ({ placed }) => placed?.map(({ x, y, isTarget }) => `${x} ${y}${isTarget ? "*" : ""}`).join("; ") ?? null,
      { unit: "stage units" },
    ),
  ],
  pointed: () => ["target", "other"],
};

/** Whether an array may not hold as many elements as it is to have. */
function isTooFull(item: ArrayItem, context: Context): boolean {
  const of = (value: Bindable<number>) => resolveNumber(value, context) ?? 0;
  const [count, element] = [of(item.count), of(item.element)];
  const [w, h] = [of(item.size.w) - element, of(item.size.h) - element];
  if (item.arrangement === "grid") return count > item.across * item.upright;
  // Random placing jams at about 55 % of the area that discs of the least distance could cover.
  const room = (w + item.distance) * (h + item.distance);
  return item.arrangement === "scattered" && (count * Math.PI * item.distance ** 2) / 4 > 0.5 * room;
}
