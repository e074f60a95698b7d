import { Plus, Trash2 } from "lucide-react";
import { Button, IconButton } from "~/app/components/button";
import { Choice, TextField } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { conditionInWords, refInWords } from "~/core/describe/words";
import { answerLevels } from "~/core/design/answer-levels";
import type { StudyDocument } from "~/core/design/document";
import type { Level } from "~/core/questions/kind";
import type { Comparison, Condition } from "~/core/values/condition";
import type { Ref, Scalar } from "~/core/values/ref";
import { refKey } from "~/core/values/uses";
import { answerNames } from "../bindable";

type Compared = Extract<Condition, { is: unknown }>;
type Line = { from: Ref; is: Comparison; right: Scalar | null };

const comparisons: readonly (readonly [Comparison, string])[] = [
  ["=", "is"],
  ["≠", "is not"],
  ["<", "is less than"],
  ["≤", "is at most"],
  [">", "is more than"],
  ["≥", "is at least"],
];

/** Built-in names a page can hang on. */
const ofSession = [
  "participant.group",
  "session.accuracy",
  "block.accuracy",
  "block.mean_rt_ms",
  "session.trials_done",
] as const;

/** A condition on answers, scores, group values and how blocks went, line by line; anything else is told in words. */
export function ConditionFields({
  condition,
  onChange,
  without = [],
}: {
  condition: Condition | undefined;
  onChange: (condition: Condition | undefined) => void;
  /** Questions that cannot be asked about here. */
  without?: readonly string[];
}) {
  const { document } = useStudy();
  const families = [
    ...answerNames(document),
    {
      label: "Group values",
      names: document.groupValues.map(({ id, name }) => ({ name, ref: { groupValue: id } as Ref })),
    },
    {
      label: "From the session",
      names: ofSession.map((builtIn) => ({
        name: refInWords({ builtIn }, document, null) ?? builtIn,
        ref: { builtIn } as Ref,
      })),
    },
  ];
  const names = families
    .flatMap((family) => family.names)
    .filter(({ ref }) => !("question" in ref && without.includes(ref.question)));
  const read = linesOf(condition);
  if (condition && !read)
    return (
      <p className="text-sm">
        {conditionInWords(condition, document, null)}{" "}
        <Button look="quiet" onClick={() => onChange(undefined)}>
          Remove
        </Button>
      </p>
    );
  const { lines, joined } = read ?? { lines: [], joined: "all" as const };
  const put = (next: Line[], by = joined) => onChange(conditionOf(next, by));
  const set = (index: number, change: Partial<Line>) =>
    put(lines.map((line, at) => (at === index ? { ...line, ...change } : line)));
  const first = names[0];
  return (
    <div className="grid gap-1">
      {lines.map((line, index) => {
        const levels = levelsOf(line.from, document);
        return (
          <div key={index} className="grid gap-0.5 border-l-2 border-sheen-tint pl-2">
            <span className="flex items-center gap-1">
              <Choice
                label={`What the condition looks at, line ${index + 1}`}
                value={refKey(line.from)}
                options={names.map(({ name, ref }) => [refKey(ref), name] as const)}
                onChange={(key) => {
                  const from = names.find(({ ref }) => refKey(ref) === key)?.ref;
                  if (from) set(index, { from, right: levelsOf(from, document)?.[0]?.value ?? "" });
                }}
              />
              <IconButton
                icon={Trash2}
                label={`Remove line ${index + 1} of the condition`}
                onClick={() => put(lines.filter((_, at) => at !== index))}
              />
            </span>
            <span className="flex items-center gap-1">
              <Choice
                label={`Comparison, line ${index + 1}`}
                value={line.is}
                options={comparisons}
                onChange={(is) => set(index, { is })}
              />
              {levels && (line.is === "=" || line.is === "≠") ? (
                <Choice
                  label={`Value, line ${index + 1}`}
                  value={line.right === null ? "" : String(line.right)}
                  options={[
                    ...levels.map(({ value, label }) => [String(value), label] as const),
                    ["", "not answered"] as const,
                  ]}
                  onChange={(value) =>
                    set(index, {
                      right:
                        value === "" ? null : (levels.find((level) => String(level.value) === value)?.value ?? value),
                    })
                  }
                />
              ) : (
                <TextField
                  label={`Value, line ${index + 1}`}
                  value={line.right === null ? "" : String(line.right)}
                  onChange={(text) => set(index, { right: scalarOf(text) })}
                />
              )}
            </span>
          </div>
        );
      })}
      {lines.length > 1 && (
        <Choice
          label="How the lines belong together"
          value={joined}
          options={[
            ["all", "all of them hold"],
            ["any", "any of them holds"],
          ]}
          onChange={(by) => put(lines, by)}
        />
      )}
      {first && (
        <Button
          icon={Plus}
          look="quiet"
          className="justify-self-start"
          onClick={() =>
            put([...lines, { from: first.ref, is: "=", right: levelsOf(first.ref, document)?.[0]?.value ?? "" }])
          }
        >
          {lines.length === 0 ? "Condition" : "And another"}
        </Button>
      )}
      {!first && <p className="text-xs text-muted">There is no question yet that it could hang on.</p>}
    </div>
  );
}

const scalarOf = (text: string): Scalar => (text.trim() !== "" && Number.isFinite(Number(text)) ? Number(text) : text);

/** The values an answer can have, in words; null where they cannot be listed. */
function levelsOf(ref: Ref, document: StudyDocument): Level[] | null {
  if ("builtIn" in ref && ref.builtIn === "participant.group")
    return document.groups.map(({ name }) => ({ value: name, label: name }));
  return answerLevels(document, ref);
}

function lineOf(condition: Condition): Line | null {
  if (!("is" in condition)) return null;
  const { left, is, right } = condition;
  const isPlain =
    typeof left === "object" && left !== null && "from" in left && (typeof right !== "object" || right === null);
  return isPlain ? { from: left.from, is, right } : null;
}

function linesOf(condition: Condition | undefined): { lines: Line[]; joined: "all" | "any" } | null {
  if (!condition) return null;
  const [each, joined] =
    "all" in condition
      ? [condition.all, "all" as const]
      : "any" in condition
        ? [condition.any, "any" as const]
        : [[condition], "all" as const];
  const lines = each.map(lineOf);
  return lines.every((line) => line !== null) ? { lines, joined } : null;
}

function conditionOf(lines: Line[], joined: "all" | "any"): Condition | undefined {
  const each = lines.map(({ from, is, right }): Compared => ({ left: { from }, is, right }));
  const [only, ...more] = each;
  if (!only) return undefined;
  if (more.length === 0) return only;
  return joined === "all" ? { all: each } : { any: each };
}
