import { Menu, MenuItem } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import { conditionInWords } from "~/core/describe/words";
import { actionInWords, timingInWords, triggerInWords, type Of } from "~/core/describe/rules";
import type { RulePlace } from "~/core/design/all-rules";
import { setRule } from "~/core/design/edits/rules";
import type { Action } from "~/core/rules/action";
import { ruleName, type Rule } from "~/core/rules/rule";
import type { Condition } from "~/core/values/condition";
import type { Id } from "~/core/values/ref";
import { actionsAt } from "./action-choices";
import { blockAt, levelOf } from "./places";
import { triggersAt } from "./trigger-fields";

/** How often a rule did something in the last rehearsal. */
export type Fired = Readonly<Record<Id, { trials: number; of: number }>>;

/** Rules of one place as sentences, numbered; a click selects one, and its words can be chosen in the margin. */
export function RuleList({
  rules,
  place,
  isSelected,
  onSelect,
  fired,
}: {
  rules: readonly Rule[];
  place: RulePlace;
  isSelected: (id: Id) => boolean;
  onSelect: (id: Id) => void;
  fired?: Fired | null;
}) {
  const { edit } = useStudy();
  return (
    <ol className="grid gap-1.5">
      {rules.map((rule, index) => (
        <li
          key={rule.id}
          aria-current={isSelected(rule.id)}
          className={`flex items-center gap-3 rounded-md border bg-sheet px-3 py-1.5 ${isSelected(rule.id) ? "border-plumage outline-1 outline-plumage" : "border-hairline hover:border-muted"} ${rule.off ? "opacity-55" : ""}`}
          onPointerDownCapture={() => onSelect(rule.id)}
        >
          <button
            type="button"
            aria-label={`Settings of ${ruleName(rules, rule.id)}`}
            onClick={() => onSelect(rule.id)}
            className="w-5 shrink-0 rounded-md font-mono text-xs text-muted hover:bg-plumage-tint"
          >
            {index + 1}
          </button>
          <span className="min-w-0 flex-1 font-serif text-[16px] leading-6">
            <RuleSentence rule={rule} place={place} onChange={(change) => edit(setRule(place, rule.id, change))} />
          </span>
          <span className="shrink-0 text-xs text-muted">
            {rule.off ? "switched off" : fired ? firedInWords(fired[rule.id]) : ""}
          </span>
        </li>
      ))}
    </ol>
  );
}

const firedInWords = (each: { trials: number; of: number } | undefined): string =>
  each ? `${each.trials} of ${each.of} trials` : "not in the last rehearsal";

/** Words with the names and numbers in them set apart. */
function Words({ children, names }: { children: string; names: readonly string[] }) {
  const pieces = children.split(/(“[^“”]+”|−?\d[\d,.]*(?: ms| %)?|[\p{L}\p{N}_]+)/u);
  return pieces.map((piece, index) => {
    const quoted = /^“(.+)”$/.exec(piece)?.[1];
    const isValue = quoted !== undefined || names.includes(piece) || /^−?\d/.test(piece);
    return isValue ? (
      <span
        key={index}
        className="ml-0.5 rounded-md bg-sheen-tint px-1 py-0.5 font-mono text-xs text-sheen no-underline"
      >
        {quoted ?? piece}
      </span>
    ) : (
      piece
    );
  });
}

const underlined = "text-plumage underline decoration-plumage decoration-1 underline-offset-[3px]";

/** A rule in one sentence. With `onChange` its underlined words are choices; the rest is set in the margin. */
export function RuleSentence({
  rule,
  place,
  onChange,
}: {
  rule: Rule;
  place: RulePlace;
  onChange?: (change: Partial<Rule>) => void;
}) {
  const { document } = useStudy();
  const block = blockAt(document, place);
  const of: Of = { document, block, isOfStudy: place.part === null };
  const level = levelOf(document, place);
  const names = [...document.variables.map(({ name }) => name), "points"];
  const words = (text: string) => <Words names={names}>{text}</Words>;
  const choice = (says: string, choices: readonly { says: string; choose: () => void }[]) =>
    onChange ? (
      <Menu
        trigger={
          <button type="button" className={`${underlined} text-left`}>
            {words(says)}
          </button>
        }
      >
        {choices.map((each) => (
          <MenuItem key={each.says} onSelect={each.choose}>
            {each.says}
          </MenuItem>
        ))}
      </Menu>
    ) : (
      <span className={underlined}>{words(says)}</span>
    );
  const setAction = (index: number, action: Action) =>
    onChange?.({ do: rule.do.map((each, at) => (at === index ? action : each)) });
  return (
    <>
      {rule.name !== "" && <b className="font-sans text-sm font-semibold">{rule.name}: </b>}
      When{" "}
      {choice(
        triggerInWords(rule.when, of),
        triggersAt(level, block !== null).map(({ says, make }) => ({
          says,
          choose: () => onChange?.({ when: make() }),
        })),
      )}
      {rule.if && (
        <>
          , if{" "}
          {choice(conditionInWords(rule.if, document, of.block), [
            ...readyConditions.map(({ says, when }) => ({ says, choose: () => onChange?.({ if: when }) })),
            { says: "always", choose: () => onChange?.({ if: undefined }) },
          ])}
        </>
      )}
      {rule.do.map((action, index) => (
        <span key={index}>
          {index === 0 ? ", " : index === rule.do.length - 1 ? " and " : ", "}
          {choice(
            actionInWords(action, of) + timingInWords(action, of),
            actionsAt(level, document, block).map((each) => ({
              says: each.says,
              choose: () => setAction(index, each.action),
            })),
          )}
        </span>
      ))}
      .
    </>
  );
}

const builtIn = (name: string) => ({ from: { builtIn: name } });
/** Conditions that are chosen at once; any other is made in the margin. */
const readyConditions: { says: string; when: Condition }[] = [
  { says: "the answer was right", when: { left: builtIn("last.right"), is: "=", right: true } },
  { says: "the answer was not right", when: { left: builtIn("last.right"), is: "≠", right: true } },
  { says: "its time is under 500 ms", when: { left: builtIn("last.rt_ms"), is: "<", right: 500 } },
  { says: "its time is above 1,000 ms", when: { left: builtIn("last.rt_ms"), is: ">", right: 1000 } },
  {
    says: "there have been 3 wrong answers in a row",
    when: { left: builtIn("block.wrong_in_a_row"), is: "=", right: 3 },
  },
  { says: "it is practice", when: { left: builtIn("block.practice"), is: "=", right: true } },
];
