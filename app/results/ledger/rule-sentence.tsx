import { Menu, MenuItem, MenuTick } from "~/app/components/menu";
import { SentenceChoice, SentenceNumber, SentenceText } from "~/app/components/sentence";
import type { Slot } from "~/core/exclusions/kind";
import { phraseOf, slotSays, type Rule } from "~/core/exclusions/registry";
import type { Ledger } from "~/server/results/ledger";

type SlotProps = { rule: Rule; slot: Slot; columns: Ledger["columns"]; set: (value: unknown) => void };

/** So many columns tell conditions apart at most. */
const mostConditions = 3;

/** A word of a rule's sentence that can be chosen or written. */
function SlotField({ rule, slot, columns, set }: SlotProps) {
  const held = (rule as unknown as Record<string, unknown>)[slot.field];
  switch (slot.as) {
    case "number":
      return (
        <SentenceNumber
          label={slot.label}
          value={Number(held)}
          least={slot.least}
          most={slot.most}
          whole={slot.whole ?? false}
          onChange={set}
        />
      );
    case "choice":
      return <SentenceChoice label={slot.label} value={String(held)} options={slot.options} onChange={set} />;
    case "text":
      return <SentenceText label={slot.label} value={String(held)} problem={() => null} onChange={set} />;
    case "column":
      return (
        <Menu trigger={<SlotButton label={slot.label}>{held === "" ? "choose a column" : String(held)}</SlotButton>}>
          {columns.sessions.map((name) => (
            <MenuItem key={name} onSelect={() => set(name)}>
              <span className="font-mono text-xs">{name}</span>
            </MenuItem>
          ))}
        </Menu>
      );
    case "conditions": {
      const names = held as string[];
      return (
        <Menu trigger={<SlotButton label={slot.label}>{slotSays(rule, slot)}</SlotButton>}>
          {columns.conditions.map((name) => (
            <MenuTick
              key={name}
              checked={names.includes(name)}
              onChange={(isIn) =>
                set(isIn ? [...names, name].slice(-mostConditions) : names.filter((each) => each !== name))
              }
            >
              <span className="font-mono text-xs">{name}</span>
            </MenuTick>
          ))}
        </Menu>
      );
    }
  }
}

const SlotButton = ({ label, children, ...button }: { label: string; children: string }) => (
  <button type="button" aria-label={`${label}: ${children}`} className="underlined" {...button}>
    {children}
  </button>
);

/** A rule as a sentence whose underlined words are choices. */
export const RuleSentence = ({
  rule,
  columns,
  onChange,
}: {
  rule: Rule;
  columns: Ledger["columns"];
  onChange: (rule: Rule) => void;
}) => (
  <p className="font-serif text-[15px] leading-[25px]">
    {phraseOf(rule).map((word, at) =>
      typeof word === "string" ? (
        word
      ) : (
        <SlotField
          key={at}
          rule={rule}
          slot={word}
          columns={columns}
          set={(value) => onChange({ ...rule, [word.field]: value } as Rule)}
        />
      ),
    )}
    .
  </p>
);
