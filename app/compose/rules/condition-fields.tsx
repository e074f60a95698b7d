import { AddLine } from "~/app/components/add-line";
import { X } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { Choice } from "~/app/components/fields";
import type { Block } from "~/core/design/block";
import type { Comparison, Condition } from "~/core/values/condition";
import { OperandField } from "./operand-field";

const comparisons: readonly (readonly [Comparison, string])[] = (["=", "≠", "<", "≤", ">", "≥"] as const).map((is) => [
  is,
  is,
]);

export const freshCondition: Condition = { left: { from: { builtIn: "last.right" } }, is: "=", right: true };

type Group = { of: "all" | "any"; conditions: Condition[] };
/** A condition as a group of others; one alone is a group of one. */
function asGroup(condition: Condition): Group {
  if ("all" in condition) return { of: "all", conditions: condition.all };
  if ("any" in condition) return { of: "any", conditions: condition.any };
  return { of: "all", conditions: [condition] };
}
const fromGroup = ({ of, conditions }: Group): Condition | undefined => {
  const [first, ...more] = conditions;
  if (!first) return undefined;
  if (more.length === 0 && !("all" in first || "any" in first)) return first;
  return of === "all" ? { all: conditions } : { any: conditions };
};

type Props = {
  value: Condition | undefined;
  onChange: (value: Condition | undefined) => void;
  block: Block | null;
  /** Groups within groups go so deep. */
  depth?: number;
};

/** Conditions of which all or any are to hold, groups among them. */
export function ConditionFields({ value, onChange, block, depth = 0 }: Props) {
  const group: Group = value ? asGroup(value) : { of: "all", conditions: [] };
  const { conditions } = group;
  const set = (next: Condition[]) => onChange(fromGroup({ ...group, conditions: next }));
  const replace = (index: number, one: Condition | undefined) =>
    set(conditions.flatMap((each, at) => (at === index ? (one ? [one] : []) : [each])));
  return (
    <div className="grid gap-1.5">
      {conditions.length > 1 && (
        <div role="radiogroup" aria-label="How many of these are to hold" className="flex gap-1 text-xs">
          {(["all", "any"] as const).map((of) => (
            <button
              key={of}
              type="button"
              role="radio"
              aria-checked={group.of === of}
              className={`rounded-md px-1.5 py-0.5 ${group.of === of ? "bg-plumage-tint font-semibold text-plumage" : "text-muted hover:text-ink"}`}
              onClick={() => onChange(fromGroup({ of, conditions }))}
            >
              {of} of these
            </button>
          ))}
        </div>
      )}
      {conditions.map((condition, index) => (
        <div key={index} className="flex items-start gap-1">
          {"is" in condition ? (
            <Compared value={condition} onChange={(next) => replace(index, next)} block={block} />
          ) : "not" in condition ? (
            <span className="min-w-0 flex-1 border-l-2 border-chestnut-tint pl-2">
              <span className="text-xs text-muted">not</span>
              <ConditionFields
                value={condition.not}
                onChange={(next) => replace(index, next && { not: next })}
                block={block}
                depth={depth + 1}
              />
            </span>
          ) : (
            <span className="min-w-0 flex-1 border-l-2 border-hairline pl-2">
              <ConditionFields
                value={condition}
                onChange={(next) => replace(index, next)}
                block={block}
                depth={depth + 1}
              />
            </span>
          )}
          <IconButton icon={X} label={`Remove condition ${index + 1}`} onClick={() => replace(index, undefined)} />
        </div>
      ))}
      <div className="flex gap-3">
        <AddLine
          says={conditions.length === 0 ? "condition" : "another condition"}
          onClick={() => set([...conditions, freshCondition])}
        />
        {conditions.length > 0 && depth < 2 && (
          <button
            type="button"
            className="text-sm text-muted hover:text-ink"
            onClick={() => set([...conditions, { any: [freshCondition, freshCondition] }])}
          >
            + group
          </button>
        )}
      </div>
    </div>
  );
}

function Compared({
  value,
  onChange,
  block,
}: {
  value: Extract<Condition, { is: unknown }>;
  onChange: (value: Condition) => void;
  block: Block | null;
}) {
  return (
    <span className="grid min-w-0 flex-1 gap-1">
      <OperandField
        label="what is compared"
        value={value.left}
        onChange={(left) => onChange({ ...value, left })}
        block={block}
      />
      <span className="flex items-start gap-1">
        <span className="w-14 shrink-0">
          <Choice
            label="Comparison"
            value={value.is}
            options={comparisons}
            onChange={(is) => onChange({ ...value, is })}
          />
        </span>
        <OperandField
          label="what it is compared with"
          value={value.right}
          onChange={(right) => onChange({ ...value, right })}
          block={block}
        />
      </span>
    </span>
  );
}
