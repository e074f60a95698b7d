import { Columns, Count, Line } from "../limit-blanks";
import type { LimitSettings } from "../limit-settings";

export const settings: LimitSettings<"smallest-gap"> = {
  offers: [
    ["No row directly after itself", () => ({ kind: "smallest-gap", columns: [], atLeast: 1 })],
    ["A smallest gap between equal values", (column) => ({ kind: "smallest-gap", columns: [column], atLeast: 2 })],
  ],
  Fields: ({ limit, block, onChange }) => (
    <Line>
      at least{" "}
      <Count
        label="Smallest distance"
        value={limit.atLeast}
        least={1}
        onChange={(atLeast) => onChange({ ...limit, atLeast })}
      />
      others between equal
      <Columns block={block} columns={limit.columns} onChange={(columns) => onChange({ ...limit, columns })} />
    </Line>
  ),
};
