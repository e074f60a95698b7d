import { list, object, variant } from "../shape/compound";
import { number, oneOf, only, text, yesNo } from "../shape/plain";
import { nullable, choosing, type Of, type Shape } from "../shape/shape";
import { id } from "../values/ref";

const [mostRows, mostColumns] = [500, 60];
const words = text({ most: 1000 });
const cell = choosing((value) => (typeof value === "number" ? (number() as Shape<unknown>) : words)) as Shape<
  string | number
>;

/** A figure as it was when it was put into the paper: drawn, told, and its numbers. */
export const paperPiece = object({
  /** What kind of result it shows. */
  name: text({ most: 100 }),
  caption: text({ most: 4000 }),
  /** Where it stands in the results: what is asked there. */
  query: text({ most: 4000 }),
  /** What it is based on. */
  basis: text({ most: 1000 }),
  svg: text({ most: 3_000_000 }),
  header: list(words, 0, mostColumns),
  rows: list(list(nullable(cell), 0, mostColumns), 0, mostRows),
});
export type PaperPiece = Of<typeof paperPiece>;

const changes = {
  add: object({ do: only("add"), piece: paperPiece }),
  /** Up or down by one. */
  move: object({ do: only("move"), id, by: oneOf("up", "down") }),
  table: object({ do: only("table"), id, isWith: yesNo }),
  remove: object({ do: only("remove"), id }),
};
/** What can be done with the figures that are kept for a paper. */
export const paperChange = variant("do", changes);
export type PaperChange = Of<typeof paperChange>;

/** Numbers of a table as they are printed: whole ones as they are, others to two decimals, those below 0.1 to three. */
export function printed(cell: string | number | null): string {
  if (cell === null) return "";
  if (typeof cell === "string") return cell;
  const digits = Number.isInteger(cell) ? 0 : Math.abs(cell) < 0.1 ? 3 : 2;
  return cell.toFixed(digits).replace(/^-/, "−");
}
