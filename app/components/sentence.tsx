import { useState } from "react";
import { Menu, MenuItem } from "./menu";

/** A choice within a sentence: underlined, with what else it can say behind it. */
export function SentenceChoice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  const says = options.find(([each]) => each === value)?.[1] ?? value;
  return (
    <Menu
      trigger={
        <button type="button" aria-label={`${label}: ${says}`} className="underlined">
          {says}
        </button>
      }
    >
      {options.map(([each, words]) => (
        <MenuItem key={each} onSelect={() => onChange(each)}>
          {words}
        </MenuItem>
      ))}
    </Menu>
  );
}

/** A sentence whose underlined words are choices. */
export const Sentence = ({ children }: { children: React.ReactNode }) => (
  <p className="font-serif text-[16px] leading-[26px]">{children}</p>
);

/** What opens more about a sentence, at its end. */
export const SentenceMore = ({
  isOpen,
  opens,
  onClick,
  children,
}: {
  isOpen: boolean;
  opens: string;
  onClick: () => void;
  children: React.ReactNode;
}) => (
  <button
    type="button"
    aria-expanded={isOpen}
    aria-controls={opens}
    onClick={onClick}
    className="ml-3 font-sans text-sm text-muted hover:text-ink"
  >
    {children}
    <span aria-hidden="true">{isOpen ? " ▴" : " ▾"}</span>
  </button>
);

type WrittenProps = {
  label: string;
  value: string;
  /** What is wrong with a text; null where nothing is. */
  problem: (text: string) => string | null;
  onChange: (text: string) => void;
  inputMode?: "decimal";
  className?: string;
};

/** A word of a sentence that is written. What cannot stand there is marked, and what stood there before holds. */
export function SentenceText({ label, value, problem, onChange, inputMode, className = "" }: WrittenProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const shown = draft ?? value;
  const wrong = problem(shown);
  return (
    <>
      <input
        aria-label={label}
        aria-invalid={wrong !== null}
        inputMode={inputMode}
        value={shown}
        size={Math.max(2, shown.length)}
        onChange={({ target }) => {
          setDraft(target.value);
          if (problem(target.value) === null) onChange(target.value);
        }}
        onBlur={() => setDraft(null)}
        className={`sentence-written ${className}`}
      />
      {wrong !== null && (
        <span role="alert" className="font-sans text-sm whitespace-normal text-alarm">
          {" "}
          {wrong}
        </span>
      )}
    </>
  );
}

/** A number of a sentence that is written. */
export function SentenceNumber({
  label,
  value,
  least = -Infinity,
  most = Infinity,
  above = -Infinity,
  whole = false,
  unit = "",
  onChange,
}: {
  label: string;
  value: number;
  least?: number;
  most?: number;
  /** It has to be greater than this. */
  above?: number;
  whole?: boolean;
  unit?: string;
  onChange: (value: number) => void;
}) {
  const read = (text: string) => (text.trim() === "" ? NaN : Number(text.trim().replace(",", ".").replace("−", "-")));
  return (
    <span className="whitespace-nowrap">
      <SentenceText
        label={label}
        value={String(Number(value.toPrecision(10)))}
        inputMode="decimal"
        problem={(text) => {
          const number = read(text);
          if (!Number.isFinite(number)) return "Type a number.";
          if (whole && !Number.isInteger(number)) return "Type a whole number.";
          if (number < least) return `Must be ${least} or more.`;
          if (number <= above) return `Must be greater than ${above}.`;
          return number > most ? `Must be at most ${most}.` : null;
        }}
        onChange={(text) => onChange(read(text))}
      />
      {unit}
    </span>
  );
}
