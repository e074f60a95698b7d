import { Columns, Count, Line } from "../limit-blanks";
import type { LimitSettings } from "../limit-settings";

export const settings: LimitSettings<"longest-run"> = {
  offers: [
    ["A longest run of equal values", (column) => ({ kind: "longest-run", columns: [column], most: 2 })],
    [
      "Two columns never repeat together",
      (column, other) => ({ kind: "longest-run", columns: [column, other], most: 1 }),
    ],
  ],
  Fields: ({ limit, block, onChange }) => (
    <Line>
      at most{" "}
      <Count label="Longest run" value={limit.most} least={1} onChange={(most) => onChange({ ...limit, most })} />
      equal in a row of
      <Columns block={block} columns={limit.columns} onChange={(columns) => onChange({ ...limit, columns })} />
    </Line>
  ),
};
