import { ChoiceLine, NumberField, Property, TextField } from "~/app/components/fields";
import { replacedLetters, type Letters, type WhichLetters } from "~/core/values/letters";
import type { Block } from "~/core/design/block";

export const freshLetters = (from: string): Letters => ({ from, which: { kind: "every", nth: 2, from: 2 }, sign: "_" });

const fresh: Record<WhichLetters["kind"], WhichLetters> = {
  every: { kind: "every", nth: 2, from: 2 },
  listed: { kind: "listed", letters: "aeiou" },
  middle: { kind: "middle", least: 5, keep: 1 },
};

/** Which letters of another column's texts become a sign, with what comes out for the first of them. */
export function LettersFields({
  block,
  letters,
  onChange,
}: {
  block: Block;
  letters: Letters;
  onChange: (letters: Letters) => void;
}) {
  const { which, sign, from } = letters;
  const set = (change: Partial<Letters>) => onChange({ ...letters, ...change });
  const texts = [...new Set(block.table.rows.map(({ cells }) => String(cells[from] ?? "")))]
    .filter(Boolean)
    .slice(0, 4);
  return (
    <>
      <ChoiceLine
        says="Replaces"
        value={which.kind}
        options={[
          ["every", "every so many-th letter"],
          ["listed", "letters of a list"],
          ["middle", "the middle of long words"],
        ]}
        onChange={(kind) => set({ which: fresh[kind] })}
      />
      {which.kind === "every" && (
        <Property label="Every">
          <NumberField
            label="Every so many-th letter"
            value={which.nth}
            whole
            least={1}
            onChange={(nth) => set({ which: { ...which, nth } })}
          />
          <span className="shrink-0 text-sm text-muted">from letter</span>
          <NumberField
            label="The first that is replaced"
            value={which.from}
            whole
            least={1}
            onChange={(first) => set({ which: { ...which, from: first } })}
          />
        </Property>
      )}
      {which.kind === "listed" && (
        <Property label="Letters">
          <TextField
            label="Letters that are replaced"
            value={which.letters}
            onChange={(listed) => set({ which: { ...which, letters: listed } })}
          />
        </Property>
      )}
      {which.kind === "middle" && (
        <Property label="Words of">
          <NumberField
            label="Fewest letters of a word"
            value={which.least}
            whole
            least={1}
            onChange={(least) => set({ which: { ...which, least } })}
          />
          <span className="shrink-0 text-sm text-muted">on, but</span>
          <NumberField
            label="Letters that stay at each end"
            value={which.keep}
            whole
            least={0}
            onChange={(keep) => set({ which: { ...which, keep } })}
          />
        </Property>
      )}
      <Property label="By">
        <TextField label="Sign in their place" value={sign} onChange={(next) => set({ sign: next })} />
      </Property>
      <ul aria-label="What comes out" className="grid gap-0.5 font-mono text-xs text-sheen">
        {texts.map((text) => (
          <li key={text} className="truncate" title={text}>
            {replacedLetters(text, letters)}
          </li>
        ))}
      </ul>
    </>
  );
}
