import type { Block } from "../design/block";
import type { Column } from "../values/table";
import type { Id } from "../values/ref";
import { type Limit, limitKind } from "../limits/registry";
import type { TrialOrder } from "../design/trial-order";
import type { Names } from "../limits/kind";

/** How a block's limits call its columns and values. */
export const namesIn = (columns: readonly Column[]): Names => {
  const nameOf = (id: Id) => columns.find((column) => column.id === id)?.name ?? "a column that is gone";
  return {
    of: (ids) =>
      ids.length === 0 ? "row" : ids.length === 1 ? nameOf(ids[0] as Id) : `${ids.map(nameOf).join(" and ")} together`,
    values: (values) =>
      values.length === 0 ? "nothing chosen" : values.map((value) => `“${String(value)}”`).join(" or "),
  };
};

/** The columns that a block's order looks at, by what they are used for there. */
export const columnsOfOrder = ({ limits, takeEach = [], within }: TrialOrder): { column: Id; use: string }[] => [
  ...limits.flatMap((limit) =>
    limitKind(limit)
      .columns(limit)
      .map((column) => ({ column, use: "a limit on the order" })),
  ),
  ...takeEach.map((column) => ({ column, use: "what is taken evenly" })),
  ...(within === undefined ? [] : [{ column: within, use: "what stays together" }]),
];

/** A limit in words, such as “no more than 2 equal values of direction in a row”. */
export const limitInWords = (limit: Limit, { table }: Block): string =>
  limitKind(limit).inWords(limit, namesIn(table.columns));
