import { Grid3x3 } from "lucide-react";
import type { ReactNode } from "react";
import { IconButton } from "~/app/components/button";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import { builtInNames, builtInOf } from "~/core/values/built-ins";
import { questionsInOrder } from "~/core/design/questions";
import { questionKind } from "~/core/questions/registry";
import type { StudyDocument } from "~/core/design/document";
import type { ColumnType } from "~/core/values/table";
import { isBinding, type Bindable, type Ref, type Scalar } from "~/core/values/ref";
import type { Block } from "~/core/design/block";
import { valueAsText } from "~/core/values/resolve";
import type { Context } from "~/core/values/context";
import { Chip } from "./chip";
import { refInWords } from "~/core/describe/words";

/** Names that can be taken as a value here: the table's columns, group values, and built-in ones. */
export function useNames(
  block: Block | null,
  builtIns: boolean,
  holds: (type: ColumnType) => boolean = () => true,
): { label: string; names: { name: string; ref: Ref; says?: string }[] }[] {
  const { document } = useStudy();
  return [
    {
      label: "Columns of the table",
      names: (block?.table.columns ?? [])
        .filter(({ type }) => holds(type))
        .map(({ id, name }) => ({ name, ref: { column: id } })),
    },
    {
      label: "Variables",
      names: builtIns ? document.variables.map(({ id, name }) => ({ name, ref: { variable: id } })) : [],
    },
    { label: "Group values", names: document.groupValues.map(({ id, name }) => ({ name, ref: { groupValue: id } })) },
    ...answerNames(document),
    {
      label: "From the session",
      names: builtIns ? builtInNames.map((name) => ({ name, ref: { builtIn: name }, says: builtInOf(name).says })) : [],
    },
  ].filter(({ names }) => names.length > 0);
}

/** Answers to questions, with their statements and options, and scores. */
export function answerNames(document: StudyDocument): { label: string; names: { name: string; ref: Ref }[] }[] {
  const answers = questionsInOrder(document).flatMap(({ question }) => {
    const { parts, beside } = questionKind(question.kind);
    const pieces = [...(parts?.(question) ?? []), ...(beside?.(question) ?? [])];
    return [
      { name: question.name, ref: { question: question.id } },
      ...pieces.map(({ id, name }) => ({ name: `${question.name}_${name}`, ref: { question: question.id, part: id } })),
    ];
  });
  return [
    { label: "Answers", names: answers },
    { label: "Scores", names: document.scores.map(({ id, name }) => ({ name, ref: { score: id } })) },
  ];
}

/** A value to choose: in words where it has such, with its name in the code of texts beside. */
export const Named = ({ name, says }: { name: string; says?: string }) => (
  <>
    {says}
    <span className={`font-mono text-xs ${says === undefined ? "" : "ml-auto pl-4 text-muted"}`}>{name}</span>
  </>
);

/** The names that can be taken, by their families, as entries of a menu. */
export const NameItems = ({
  families,
  onChoose,
}: {
  families: ReturnType<typeof useNames>;
  onChoose: (ref: Ref) => void;
}) =>
  families.map((family) => (
    <div key={family.label}>
      <MenuLabel>{family.label}</MenuLabel>
      {family.names.map((each) => (
        <MenuItem key={each.name} onSelect={() => onChoose(each.ref)}>
          <Named {...each} />
        </MenuItem>
      ))}
    </div>
  ));

type BindableProps<T extends Scalar> = {
  label: string;
  value: Bindable<T>;
  onChange: (value: Bindable<T>) => void;
  /** Null outside of trials. */
  block: Block | null;
  context: Context;
  /** The value to return to when the binding is removed. */
  constant: T;
  builtIns?: boolean;
  /** Columns it can be taken from, by what they hold; any where it is left out. */
  holds?: (type: ColumnType) => boolean;
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
  holds,
  children,
}: BindableProps<T>) {
  const { document } = useStudy();
  const families = useNames(block, builtIns, holds);
  const bound = isBinding(value);
  const name = bound ? refInWords(value.from, document, block) : null;
  const choices = (
    <>
      {bound && <MenuItem onSelect={() => onChange(constant)}>Use a constant</MenuItem>}
      <NameItems families={families} onChoose={(from) => onChange({ from })} />
    </>
  );
  if (bound) {
    return (
      <span className="flex min-w-0 flex-1 items-center gap-2">
        <Menu
          trigger={
            <button type="button" aria-label={`${label} is taken from ${name ?? "something that is gone"}: change`}>
              <Chip gone={name === null} isInWords={"builtIn" in value.from}>
                {name ?? "gone"}
              </Chip>
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
