import { list, object, variant } from "../shape/compound";
import { number, oneOf, only, yesNo } from "../shape/plain";
import { choosing, optional, type Of, type Shape } from "../shape/shape";
import { bindable, id, scalar, type Id, type Scalar } from "./ref";

/** What of the row of a pool stands in the column. */
const takes = variant("is", {
  /** Its value in a column of the pool. */
  value: object({ is: only("value"), column: id }),
  /** The number, from 1, of the trial that showed it in the block it was shown in before. */
  position: object({ is: only("position") }),
  /** What the trial that showed it there had in a column of that block. */
  earlier: object({ is: only("earlier"), column: id }),
});
export type Takes = Of<typeof takes>;

/** What must hold of a row of the pool: its value in one of the pool's columns is the same as another, or near it. */
const match = object({
  column: id,
  /** How far away it may be, with numbers; without it, it is the same. */
  within: optional(number({ least: 0 })),
  to: bindable(scalar),
});
export type Match = Of<typeof match>;

/** Within what no row of the pool comes twice. */
export const reaches = ["trial", "block", "session", "sittings"] as const;
export type DrawReach = (typeof reaches)[number];

const whereShown = object({ column: id, is: scalar });
const before = object({
  block: id,
  /** Rows that the block showed, or those that it did not; or the former where a column has a value, the latter elsewhere. */
  shown: choosing<boolean | { column: Id; is: Scalar }>((value) =>
    typeof value === "object" && value !== null ? whereShown : yesNo,
  ),
});

const ownRow = object({
  pool: id,
  takes,
  /** All of these hold. */
  where: list(match, 0, 6),
  once: oneOf(...reaches),
  /** Each row of the pool comes equally often with each level of this column of the table, over participants. */
  balanced: optional(id),
  before: optional(before),
});
/** A row of the pool for each trial. */
export interface OwnRow extends Of<typeof ownRow> {}

const sameRow = object({ with: id, takes });
/** The row that another column of the table draws. */
export interface SameRow extends Of<typeof sameRow> {}

/** How a column's value is drawn from a pool, instead of standing in the table. */
export type Draws = OwnRow | SameRow;
export const draws: Shape<Draws> = choosing<Draws>((value) =>
  typeof value === "object" && value !== null && "with" in value ? sameRow : ownRow,
);

export const hasOwnRow = (draws: Draws | undefined): draws is OwnRow => draws !== undefined && "pool" in draws;
