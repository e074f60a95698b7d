import { Grid3x3 } from "lucide-react";
import { useId, useState, type ReactNode } from "react";
import { IconButton } from "~/app/components/button";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import { builtInNames } from "~/core/values/built-ins";
import { isBinding, type Bindable, type Ref, type Scalar } from "~/core/values/ref";
import type { Block } from "~/core/design/block";
import { valueAsText } from "~/core/values/resolve";
import type { Context } from "~/core/values/context";
import { Chip } from "./chip";
import { refName } from "~/core/describe/words";

/** A line in the margin: what it is, and what it is set to. */
export const Property = ({ label, children, htmlFor }: { label: string; children: ReactNode; htmlFor?: string }) => (
  <div className="grid min-h-[30px] grid-cols-[78px_minmax(0,1fr)] items-center gap-2">
    <label htmlFor={htmlFor} className="text-sm text-muted">
      {label}
    </label>
    <div className="flex min-w-0 items-center gap-1.5">{children}</div>
  </div>
);

export const Section = ({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) => (
  <section className="mt-3 grid gap-0.5">
    <div className="flex items-baseline justify-between">
      <h3 className="text-xs font-semibold text-muted">{title}</h3>
      {aside && <span className="text-xs text-muted">{aside}</span>}
    </div>
    {children}
  </section>
);

/** A text field that keeps what is typed and passes it on whenever `problem` finds nothing wrong with it. */
export function TextField({
  value,
  onChange,
  label,
  id,
  problem,
  prefix,
  suffix,
}: {
  value: string;
  onChange: (value: string) => void;
  label?: string;
  id?: string;
  problem?: (value: string) => string | null;
  prefix?: string;
  suffix?: string;
}) {
  const [typed, setTyped] = useState(value);
  const [before, setBefore] = useState(value);
  const note = useId();
  if (value !== before) {
    setBefore(value);
    setTyped(value);
  }
  const wrong = typed === value ? null : (problem?.(typed) ?? null);
  return (
    <span className="relative min-w-0 flex-1">
      {prefix && (
        <span aria-hidden="true" className="absolute left-2 top-1 font-mono text-xs leading-5 text-muted">
          {prefix}
        </span>
      )}
      <input
        id={id}
        aria-label={label}
        value={typed}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={wrong ? note : undefined}
        className={`field font-mono !text-xs ${prefix ? "!pl-[22px] !pr-1" : ""} ${suffix ? "!pr-8" : ""}`}
        onChange={({ target }) => {
          setTyped(target.value);
          if (!problem?.(target.value)) {
            setBefore(target.value);
            onChange(target.value);
          }
        }}
      />
      {suffix && (
        <span aria-hidden="true" className="absolute right-2 top-1 font-mono text-xs leading-5 text-muted">
          {suffix}
        </span>
      )}
      {wrong && (
        <span id={note} role="alert" className="block text-xs text-alarm">
          {wrong}
        </span>
      )}
    </span>
  );
}

export function NumberField({
  value,
  onChange,
  least = -Infinity,
  whole = false,
  ...rest
}: {
  value: number;
  onChange: (value: number) => void;
  label?: string;
  id?: string;
  least?: number;
  whole?: boolean;
  prefix?: string;
  suffix?: string;
}) {
  const read = (text: string) => (text.trim() === "" ? NaN : Number(text.trim().replace(",", ".")));
  return (
    <TextField
      value={String(value)}
      onChange={(text) => onChange(read(text))}
      {...rest}
      problem={(text) => {
        const number = read(text);
        if (!Number.isFinite(number)) return "Type a number.";
        if (whole && !Number.isInteger(number)) return "Type a whole number.";
        return number < least ? (least === 0.01 ? "Must be greater than 0." : `Must be ${least} or more.`) : null;
      }}
    />
  );
}

export function Choice<T extends string>({
  value,
  options,
  onChange,
  label,
  id,
}: {
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
  label?: string;
  id?: string;
}) {
  return (
    <select
      id={id}
      aria-label={label}
      className="field"
      value={value}
      onChange={(event) => onChange(event.target.value as T)}
    >
      {options.map(([each, words]) => (
        <option key={each} value={each}>
          {words}
        </option>
      ))}
    </select>
  );
}

/** A line whose value is one of several. */
export const ChoiceLine = <T extends string>({
  says,
  value,
  options,
  onChange,
}: {
  says: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) => (
  <Property label={says}>
    <Choice label={says} value={value} options={options} onChange={onChange} />
  </Property>
);

/** A property that is on or off, with what on means. */
export const Switch = ({
  label,
  means,
  checked,
  onChange,
}: {
  label: string;
  means: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}) => (
  <Property label={label}>
    <label className="flex items-center gap-2 text-sm">
      <input
        type="checkbox"
        aria-label={`${label}: ${means}`}
        className="size-4 accent-(--plumage)"
        checked={checked}
        onChange={({ target }) => onChange(target.checked)}
      />
      {means}
    </label>
  </Property>
);

export function ColorField({
  value,
  onChange,
  label,
}: {
  value: string;
  onChange: (value: string) => void;
  label: string;
}) {
  const shape = /^(#[0-9a-f]{3}|#[0-9a-f]{6}|#[0-9a-f]{8}|transparent)$/i;
  return (
    <>
      <input
        type="color"
        aria-label={`${label}, pick`}
        className="h-7 w-8 shrink-0 rounded-md border border-hairline bg-sheet p-0.5"
        value={/^#[0-9a-f]{6}$/i.test(value) ? value : "#ffffff"}
        onChange={(event) => onChange(event.target.value)}
      />
      <TextField
        label={label}
        value={value}
        onChange={onChange}
        problem={(text) => (shape.test(text) ? null : "Type a colour such as #17211e, or transparent.")}
      />
    </>
  );
}

/** Names that can be taken as a value here: the table's columns, group values, and built-in ones. */
export function useNames(
  block: Block | null,
  builtIns: boolean,
): { label: string; names: { name: string; ref: Ref }[] }[] {
  const { document } = useStudy();
  return [
    {
      label: "Columns of the table",
      names: (block?.table.columns ?? []).map(({ id, name }) => ({ name, ref: { column: id } })),
    },
    { label: "Group values", names: document.groupValues.map(({ id, name }) => ({ name, ref: { groupValue: id } })) },
    {
      label: "From the session",
      names: builtIns ? builtInNames.map((name) => ({ name, ref: { builtIn: name } })) : [],
    },
  ].filter(({ names }) => names.length > 0);
}

type BindableProps<T extends Scalar> = {
  label: string;
  value: Bindable<T>;
  onChange: (value: Bindable<T>) => void;
  block: Block;
  context: Context;
  /** What stands there again when the binding is taken off. */
  constant: T;
  builtIns?: boolean;
  children: (value: T, onChange: (value: T) => void) => ReactNode;
};

/** A property that is a constant, edited in place, or taken from a name, shown as a chip with its present value. */
export function BindableControl<T extends Scalar>({
  label,
  value,
  onChange,
  block,
  context,
  constant,
  builtIns = false,
  children,
}: BindableProps<T>) {
  const { document } = useStudy();
  const families = useNames(block, builtIns);
  const bound = isBinding(value);
  const name = bound ? refName(value.from, document, block) : null;
  const choices = (
    <>
      {bound && <MenuItem onSelect={() => onChange(constant)}>Use a constant</MenuItem>}
      {families.map((family) => (
        <div key={family.label}>
          <MenuLabel>{family.label}</MenuLabel>
          {family.names.map((each) => (
            <MenuItem key={each.name} onSelect={() => onChange({ from: each.ref })}>
              <span className="font-mono text-xs">{each.name}</span>
            </MenuItem>
          ))}
        </div>
      ))}
    </>
  );
  if (bound) {
    return (
      <span className="flex min-w-0 flex-1 items-center gap-2">
        <Menu
          trigger={
            <button type="button" aria-label={`${label} is taken from ${name ?? "something that is gone"}: change`}>
              <Chip gone={name === null}>{name ?? "gone"}</Chip>
            </button>
          }
        >
          {choices}
        </Menu>
        <span className="truncate font-mono text-xs text-muted">{shownValue(value.from, context)}</span>
      </span>
    );
  }
  return (
    <span className="flex min-w-0 flex-1 items-center gap-1">
      {children(value, onChange)}
      {families.length > 0 && (
        <Menu
          align="end"
          trigger={
            <IconButton
              icon={Grid3x3}
              label={`Take ${label} from the table or a group value`}
              className="!w-5 shrink-0"
            />
          }
        >
          {choices}
        </Menu>
      )}
    </span>
  );
}

function shownValue(ref: Ref, context: Context): string {
  const text = valueAsText(ref, context);
  return context.study.media.find(({ id }) => id === text)?.name ?? (text || "empty");
}
