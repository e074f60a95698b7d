import { Columns, Count, Line, Values } from "../limit-blanks";
import type { LimitSettings } from "../limit-settings";

export const settings: LimitSettings<"most-in-window"> = {
  offers: [
    [
      "A maximum in any stretch of trials",
      (column) => ({ kind: "most-in-window", columns: [column], only: [], most: 3, window: 6 }),
    ],
  ],
  Fields: ({ limit, block, onChange }) => (
    <Line>
      at most <Count label="Most" value={limit.most} least={0} onChange={(most) => onChange({ ...limit, most })} />
      of{" "}
      <Values
        block={block}
        column={limit.columns[0]}
        only={limit.only}
        any="each value"
        onChange={(only) => onChange({ ...limit, only })}
      />
      of
      <Columns
        block={block}
        columns={limit.columns}
        onChange={(columns) => onChange({ ...limit, columns, only: [] })}
      />
      in any{" "}
      <Count label="Stretch" value={limit.window} least={2} onChange={(window) => onChange({ ...limit, window })} />{" "}
      trials
    </Line>
  ),
};
