import { Plus, X } from "lucide-react";
import { IconButton, buttonClass } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import { setOrder } from "~/core/design/edits/parts";
import type { Block, Id, Limit, LimitKind, Scalar } from "~/core/design/types";
import { limitInWords } from "~/core/order/words";
import { Choice, NumberField } from "./property";

/** What a limit is called where one is added. */
const kinds: readonly (readonly [string, (column: Id, other: Id) => Limit])[] = [
  ["No more than so many equal values in a row", (column) => ({ kind: "longest-run", columns: [column], most: 2 })],
  ["No row directly after itself", () => ({ kind: "smallest-gap", columns: [], atLeast: 1 })],
  ["A smallest distance between equal values", (column) => ({ kind: "smallest-gap", columns: [column], atLeast: 2 })],
  [
    "At most so many in any stretch of trials",
    (column) => ({ kind: "most-in-window", columns: [column], only: [], most: 3, window: 6 }),
  ],
  [
    "Only some values in the first trials",
    (column) => ({ kind: "edge-trials", at: "first", column, only: [], count: 1 }),
  ],
  [
    "Each value follows each other equally often",
    (column) => ({ kind: "balanced-transitions", columns: [column], itself: "as-often" }),
  ],
  ["Two columns never repeat at once", (column, other) => ({ kind: "longest-run", columns: [column, other], most: 1 })],
];

/** The limits of a block's order as sentences whose blanks are filled in. */
export function LimitsEditor({ block }: { block: Block }) {
  const { edit } = useStudy();
  const { limits } = block.order;
  const { columns } = block.table;
  const [first, second] = [...columns.filter(({ factor }) => factor), ...columns.filter(({ factor }) => !factor)];
  const put = (index: number, limit: Limit, merge?: string) =>
    edit(setOrder(block.id, { limits: limits.map((each, place) => (place === index ? limit : each)) }), merge);
  return (
    <div className="mt-1 grid gap-1.5">
      {limits.map((limit, index) => (
        <div
          key={index}
          role="group"
          aria-label={`Limit: ${limitInWords(limit, block)}`}
          className="relative rounded-md border border-hairline p-1.5 pr-8 text-sm"
        >
          <LimitFields
            limit={limit}
            block={block}
            onChange={(fresh) => put(index, fresh, `limit ${block.id} ${index}`)}
          />
          <IconButton
            icon={X}
            label="Remove the limit"
            className="!absolute right-0.5 top-0.5"
            onClick={() => edit(setOrder(block.id, { limits: limits.filter((_, place) => place !== index) }))}
          />
        </div>
      ))}
      {first && (
        <Menu
          trigger={
            <button type="button" className={`${buttonClass()} justify-self-start`}>
              <Plus size={16} aria-hidden="true" />
              Limit
            </button>
          }
        >
          {kinds.map(([words, make]) => (
            <MenuItem
              key={words}
              onSelect={() => edit(setOrder(block.id, { limits: [...limits, make(first.id, (second ?? first).id)] }))}
            >
              {words}
            </MenuItem>
          ))}
        </Menu>
      )}
    </div>
  );
}

type FieldsProps<L extends Limit> = { limit: L; block: Block; onChange: (limit: Limit) => void };
const fields: { [K in LimitKind]: (props: FieldsProps<Extract<Limit, { kind: K }>>) => React.ReactNode } = {
  "longest-run": ({ limit, block, onChange }) => (
    <Line>
      at most{" "}
      <Count label="Longest run" value={limit.most} least={1} onChange={(most) => onChange({ ...limit, most })} />
      equal in a row of
      <Columns block={block} columns={limit.columns} onChange={(columns) => onChange({ ...limit, columns })} />
    </Line>
  ),
  "smallest-gap": ({ limit, block, onChange }) => (
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
  "most-in-window": ({ limit, block, onChange }) => (
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
  "edge-trials": ({ limit, block, onChange }) => (
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
  "balanced-transitions": ({ limit, block, onChange }) => (
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
function LimitFields({ limit, block, onChange }: FieldsProps<Limit>) {
  const Fields = fields[limit.kind] as (props: FieldsProps<Limit>) => React.ReactNode;
  return <Fields limit={limit} block={block} onChange={onChange} />;
}

const Line = ({ children }: { children: React.ReactNode }) => (
  <div className="flex flex-wrap items-center gap-x-1.5 gap-y-1">{children}</div>
);
const Count = ({
  label,
  value,
  least,
  onChange,
}: {
  label: string;
  value: number;
  least: number;
  onChange: (value: number) => void;
}) => (
  <span className="w-11">
    <NumberField label={label} value={value} whole least={least} onChange={onChange} />
  </span>
);

/** Which columns are looked at: the row itself, one, or several whose values count together. */
function Columns({
  block,
  columns,
  single = false,
  onChange,
}: {
  block: Block;
  columns: Id[];
  single?: boolean;
  onChange: (columns: Id[]) => void;
}) {
  const all = block.table.columns;
  const nameOf = (id: Id) => all.find((column) => column.id === id)?.name ?? "?";
  const words = columns.length === 0 ? "rows" : columns.map(nameOf).join(" × ");
  const toggle = (id: Id) => onChange(columns.includes(id) ? columns.filter((each) => each !== id) : [...columns, id]);
  return (
    <Menu
      trigger={
        <button
          type="button"
          aria-label={`Columns: ${words}`}
          className="rounded-[4px] bg-sheen-tint px-1.5 font-mono text-xs leading-5 text-sheen"
        >
          {words}
        </button>
      }
    >
      {!single && <MenuItem onSelect={() => onChange([])}>rows</MenuItem>}
      {all.map(({ id, name }) => (
        <MenuItem key={id} onSelect={() => onChange([id])}>
          {name}
        </MenuItem>
      ))}
      {!single &&
        columns.length > 0 &&
        all
          .filter(({ id }) => !columns.includes(id))
          .map(({ id, name }) => (
            <MenuItem key={`with ${id}`} onSelect={() => toggle(id)}>
              together with {name}
            </MenuItem>
          ))}
    </Menu>
  );
}

/** Which values of a column are meant. */
function Values({
  block,
  column,
  only,
  any,
  onChange,
}: {
  block: Block;
  column: Id | undefined;
  only: Scalar[];
  any: string;
  onChange: (only: Scalar[]) => void;
}) {
  const values = [...new Set(block.table.rows.map(({ cells }) => (column ? (cells[column] ?? null) : null)))].filter(
    (value): value is Scalar => value !== null && value !== "",
  );
  const isChosen = (value: Scalar) => only.some((each) => String(each) === String(value));
  return (
    <Menu
      trigger={
        <button
          type="button"
          aria-label={`Values: ${only.join(" or ") || any}`}
          className="rounded-[4px] border border-hairline px-1.5 font-mono text-xs leading-5"
        >
          {only.length > 0 ? only.join(" or ") : any}
        </button>
      }
    >
      {only.length > 0 && <MenuItem onSelect={() => onChange([])}>{any}</MenuItem>}
      {values.slice(0, 30).map((value) => (
        <MenuItem
          key={String(value)}
          onSelect={() =>
            onChange(isChosen(value) ? only.filter((each) => String(each) !== String(value)) : [...only, value])
          }
        >
          {isChosen(value) ? `without ${String(value)}` : String(value)}
        </MenuItem>
      ))}
    </Menu>
  );
}
