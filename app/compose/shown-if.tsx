import { conditionInWords, outcomesInWords } from "~/core/describe/words";
import { useStudy } from "~/app/editing/use-study";
import type { Block } from "~/core/design/block";
import type { Condition } from "~/core/values/condition";
import { isBinding, type Scalar } from "~/core/values/ref";
import { Choice, Property, TextField } from "~/app/components/fields";

const outcomes = ["right", "wrong", "none", "too late", "too early"] as const;
const afterOutcome = (outcome: string): Condition => ({
  left: { from: { builtIn: "last.outcome" } },
  is: "=",
  right: outcome,
});
const inPractice = (isSo: boolean): Condition => ({
  left: { from: { builtIn: "block.practice" } },
  is: "=",
  right: isSo,
});
type Simple = { left: { from: { column: string } | { builtIn: string } }; is: "=" | "≠"; right: Scalar };

/** When an item or a scene is there: always, after an outcome, or by a column's value. Anything else is told in words. */
export function ShownIf({
  when,
  onChange,
  block,
}: {
  when: Condition | undefined;
  onChange: (when: Condition | undefined) => void;
  block: Block;
}) {
  const { document } = useStudy();
  const simple = asSimple(when);
  const kind =
    when === undefined
      ? "always"
      : simple && "builtIn" in simple.left.from
        ? simple.left.from.builtIn === "block.practice"
          ? `practice ${String(simple.right)}`
          : `after ${String(simple.right)}`
        : simple && "column" in simple.left.from
          ? "column"
          : "other";
  const first = block.table.columns[0];
  const options = [
    ["always", "always"],
    ["practice true", "only in practice"],
    ["practice false", "not in practice"],
    ...outcomes.map((outcome) => [`after ${outcome}`, outcomesInWords[outcome]] as const),
    ...(first ? [["column", "a column has a value"] as const] : []),
    ...(kind === "other" && when ? [["other", conditionInWords(when, document, block)] as const] : []),
  ] as const;
  const choose = (next: string) => {
    if (next === "always") onChange(undefined);
    else if (next.startsWith("practice ")) onChange(inPractice(next === "practice true"));
    else if (next.startsWith("after ")) onChange(afterOutcome(next.slice(6)));
    else if (next === "column" && first)
      onChange({
        left: { from: { column: first.id } },
        is: "=",
        right: String(block.table.rows[0]?.cells[first.id] ?? ""),
      });
  };
  const column = simple && "column" in simple.left.from ? simple.left.from.column : null;
  return (
    <>
      <Property label="Shown if">
        <Choice label="Shown if" value={kind} options={options} onChange={choose} />
      </Property>
      {simple && "builtIn" in simple.left.from && (
        <p className="text-right font-mono text-2xs text-muted">{simple.left.from.builtIn}</p>
      )}
      {simple && column !== null && (
        <Property label="">
          <Choice
            label="Column"
            value={column}
            options={block.table.columns.map(({ id, name }) => [id, name] as const)}
            onChange={(id) => onChange({ ...simple, left: { from: { column: id } } })}
          />
          <span className="w-16 shrink-0">
            <Choice
              label="Comparison"
              value={simple.is}
              options={
                [
                  ["=", "is"],
                  ["≠", "is not"],
                ] as const
              }
              onChange={(is) => onChange({ ...simple, is })}
            />
          </span>
          <TextField label="Value" value={String(simple.right)} onChange={(right) => onChange({ ...simple, right })} />
        </Property>
      )}
    </>
  );
}

function asSimple(when: Condition | undefined): Simple | null {
  if (!when || !("is" in when) || (when.is !== "=" && when.is !== "≠")) return null;
  if (!isBinding(when.left) || typeof when.right === "object") return null;
  const { from } = when.left;
  const isPractice = "builtIn" in from && from.builtIn === "block.practice" && typeof when.right === "boolean";
  const isOutcome = "builtIn" in from && from.builtIn === "last.outcome";
  if ("column" in from || (when.is === "=" && (isPractice || isOutcome))) return when as Simple;
  return null;
}
