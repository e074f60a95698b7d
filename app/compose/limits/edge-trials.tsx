import { Choice } from "~/app/components/fields";
import { Columns, Count, Line, Values } from "../limit-blanks";
import type { LimitSettings } from "../limit-settings";

export const settings: LimitSettings<"edge-trials"> = {
  offers: [
    [
      "Only some values in the first trials",
      (column) => ({ kind: "edge-trials", at: "first", column, only: [], count: 1 }),
    ],
  ],
  Fields: ({ limit, block, onChange }) => (
    <Line>
      the
      <span className="w-[70px]">
        <Choice
          label="First or last"
          value={limit.at}
          options={
            [
              ["first", "first"],
              ["last", "last"],
            ] as const
          }
          onChange={(at) => onChange({ ...limit, at })}
        />
      </span>
      <Count label="Trials" value={limit.count} least={1} onChange={(count) => onChange({ ...limit, count })} />
      with
      <Columns
        block={block}
        columns={[limit.column]}
        single
        onChange={([column]) => column && onChange({ ...limit, column, only: [] })}
      />
      <Values
        block={block}
        column={limit.column}
        only={limit.only}
        any="choose values"
        onChange={(only) => onChange({ ...limit, only })}
      />
    </Line>
  ),
};
