import { refusalOf } from "~/app/editing/refused";
import { useId, useState, type ReactNode } from "react";

/** A line in the margin: a property and its value. */
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

/**
 * A text field that keeps what is typed, and passes it on whenever neither `problem` nor the study's own bounds find
 * anything wrong with it; else it says what.
 */
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
  const [refused, setRefused] = useState<string | null>(null);
  const note = useId();
  if (value !== before) {
    setBefore(value);
    setTyped(value);
    setRefused(null);
  }
  const wrong = typed === value ? null : (problem?.(typed) ?? refused);
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
          if (problem?.(target.value)) return setRefused(null);
          const refusal = refusalOf(() => onChange(target.value));
          setRefused(refusal);
          if (refusal === null) setBefore(target.value);
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

/** What is wrong with a name of at most so many characters; null where nothing is. */
export const namedWithin =
  (most: number) =>
  (text: string): string | null =>
    text.trim() === "" ? "Type a name." : text.length > most ? `At most ${most} characters.` : null;

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

/** A box to tick, with what it means when ticked. `name` is what it is read out as, where that is more. */
export const Tick = ({
  checked,
  onChange,
  name,
  className = "",
  children,
}: {
  checked: boolean;
  onChange: (checked: boolean) => void;
  name?: string;
  className?: string;
  children: ReactNode;
}) => (
  <label className={`flex items-center gap-2 text-sm ${className}`}>
    <input
      type="checkbox"
      aria-label={name}
      className="size-4 accent-(--plumage)"
      checked={checked}
      onChange={({ target }) => onChange(target.checked)}
    />
    {children}
  </label>
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
    <Tick name={`${label}: ${means}`} checked={checked} onChange={onChange}>
      {means}
    </Tick>
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
