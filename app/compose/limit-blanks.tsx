import { Menu, MenuItem } from "~/app/components/menu";
import type { Block } from "~/core/design/block";
import type { Id, Scalar } from "~/core/values/ref";
import { NumberField } from "~/app/components/fields";

/** A limit is set as a sentence with blanks; these are what fills them in. */
export const Line = ({ children }: { children: React.ReactNode }) => (
  <div className="flex flex-wrap items-center gap-x-1.5 gap-y-1">{children}</div>
);
export const Count = ({
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
export function Columns({
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
export function Values({
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
