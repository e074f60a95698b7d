import { Calculator, Grid3x3, Plus, X } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { Choice, TextField } from "~/app/components/fields";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import { refInWords } from "~/core/describe/words";
import type { Block } from "~/core/design/block";
import {
  calculationKind,
  calculationNames,
  isCalculation,
  type Calculation,
  type CalculationName,
  type Operand,
} from "~/core/values/calculation";
import { isBinding, type Scalar } from "~/core/values/ref";
import { NameItems, useNames } from "../bindable";
import { Chip } from "../chip";

/** A constant as it is typed: numbers and yes and no are such, anything else is a text. */
export function scalarFromText(text: string): Scalar {
  const trimmed = text.trim();
  if (/^(yes|no)$/i.test(trimmed)) return trimmed.toLowerCase() === "yes";
  return /^[-+−]?\d+([.,]\d+)?$/.test(trimmed) ? Number(trimmed.replace("−", "-").replace(",", ".")) : text;
}
export const textFromScalar = (value: Scalar | null): string =>
  value === null ? "" : typeof value === "boolean" ? (value ? "yes" : "no") : String(value);

type Props = {
  label: string;
  value: Operand;
  onChange: (value: Operand) => void;
  block: Block | null;
  /** How a constant is set where it is not simply written. */
  constant?: (value: Scalar | null, onChange: (value: Scalar) => void) => React.ReactNode;
};

/** A value: written, taken from a name, or worked out of other values. Nothing is typed in a language. */
export function OperandField({ label, value, onChange, block, constant }: Props) {
  const { document } = useStudy();
  const families = useNames(block, true);
  const menu = (
    <Menu
      align="end"
      trigger={
        <IconButton
          icon={isBinding(value) ? Grid3x3 : Calculator}
          label={`Take ${label} from a name, or work it out`}
        />
      }
    >
      {(isBinding(value) || isCalculation(value)) && <MenuItem onSelect={() => onChange(0)}>Write it</MenuItem>}
      <MenuLabel>Work it out</MenuLabel>
      {calculationNames.map((name) => (
        <MenuItem key={name} onSelect={() => onChange(freshCalculation(name, value))}>
          {calculationKind(name).says}
        </MenuItem>
      ))}
      <NameItems families={families} onChoose={(from) => onChange({ from })} />
    </Menu>
  );
  if (isCalculation(value))
    return (
      <span className="grid min-w-0 flex-1 gap-1">
        <CalculationFields label={label} value={value} onChange={onChange} block={block} menu={menu} />
      </span>
    );
  if (isBinding(value)) {
    const name = refInWords(value.from, document, block);
    return (
      <span className="flex min-w-0 flex-1 items-center gap-1">
        <span className="min-w-0 flex-1 truncate" title={name ?? undefined}>
          <Chip gone={name === null} isInWords={"builtIn" in value.from}>
            {name ?? "gone"}
          </Chip>
        </span>
        {menu}
      </span>
    );
  }
  return (
    <span className="flex min-w-0 flex-1 items-center gap-1">
      {constant ? (
        constant(value, onChange)
      ) : (
        <TextField label={label} value={textFromScalar(value)} onChange={(text) => onChange(scalarFromText(text))} />
      )}
      {menu}
    </span>
  );
}

/** A new calculation begins with the value that was there. */
function freshCalculation(name: CalculationName, first: Operand): Calculation {
  const { takes } = calculationKind(name);
  return { calculate: name, of: takes.map((_, index) => (index === 0 && !isCalculation(first) ? first : 0)) };
}

function CalculationFields({
  label,
  value,
  onChange,
  block,
  menu,
}: Omit<Props, "value"> & { value: Calculation; menu: React.ReactNode }) {
  const kind = calculationKind(value.calculate);
  const set = (index: number, part: Operand) =>
    onChange({ ...value, of: value.of.map((each, at) => (at === index ? part : each)) });
  const takes = (index: number) => kind.takes[Math.min(index, kind.takes.length - 1)] ?? "a value";
  return (
    <span className="grid gap-1 border-l-2 border-sheen-tint pl-2">
      <span className="flex items-center gap-1">
        <Choice
          label={`How ${label} is worked out`}
          value={value.calculate}
          options={calculationNames.map((name) => [name, calculationKind(name).says] as const)}
          onChange={(name) => {
            const { takes, more } = calculationKind(name);
            const count = more ? Math.max(takes.length, value.of.length) : takes.length;
            onChange({ calculate: name, of: Array.from({ length: count }, (_, index) => value.of[index] ?? 0) });
          }}
        />
        {menu}
      </span>
      {value.of.map((part, index) => (
        <span key={index} className="flex items-center gap-1" title={takes(index)}>
          <OperandField
            label={`${label}, ${takes(index)}`}
            value={part}
            onChange={(next) => set(index, next)}
            block={block}
          />
          {kind.more && value.of.length > 1 && (
            <IconButton
              icon={X}
              label="Take this value out"
              onClick={() => onChange({ ...value, of: value.of.filter((_, at) => at !== index) })}
            />
          )}
        </span>
      ))}
      {kind.more && (
        <button
          type="button"
          className="flex items-center gap-1 text-xs font-medium text-plumage"
          onClick={() => onChange({ ...value, of: [...value.of, 0] })}
        >
          <Plus size={12} aria-hidden="true" /> another value
        </button>
      )}
    </span>
  );
}
