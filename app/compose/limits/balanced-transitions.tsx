import { Choice } from "~/app/components/fields";
import { Columns, Line } from "../limit-blanks";
import type { LimitSettings } from "../limit-settings";

export const settings: LimitSettings<"balanced-transitions"> = {
  offers: [
    [
      "Each value follows each other equally often",
      (column) => ({ kind: "balanced-transitions", columns: [column], itself: "as-often" }),
    ],
  ],
  Fields: ({ limit, block, onChange }) => (
    <Line>
      each value of
      <Columns block={block} columns={limit.columns} onChange={(columns) => onChange({ ...limit, columns })} />
      follows each other equally often,
      <span className="w-[150px]">
        <Choice
          label="And itself"
          value={limit.itself}
          options={
            [
              ["as-often", "and itself as often"],
              ["never", "and never itself"],
            ] as const
          }
          onChange={(itself) => onChange({ ...limit, itself })}
        />
      </span>
    </Line>
  ),
};
