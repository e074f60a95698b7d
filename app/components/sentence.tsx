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
