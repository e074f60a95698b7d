import { ArrowDown, ArrowUp, Trash2 } from "lucide-react";
import { Switch } from "radix-ui";
import { useId } from "react";
import { IconButton } from "~/app/components/button";
import { hasShape } from "~/core/shape/shape";
import { phraseOf, rule as ruleShape, ruleInWords, type Rule } from "~/core/exclusions/registry";
import type { Ledger, LedgerLine } from "~/server/results/ledger";
import { wordsOf } from "./add-rule";
import { RuleSentence } from "./rule-sentence";

type Props = {
  line: Omit<LedgerLine, "rule">;
  rule: Rule;
  columns: Ledger["columns"];
  isFixed: boolean;
  isOpen: boolean;
  open: (isOpen: boolean) => void;
  /** What it leaves out is looked at. */
  look: () => void;
  change: (rule: Rule) => void;
  /** Up or down among the rules of its sort; null at the end. */
  earlier: (() => void) | null;
  later: (() => void) | null;
  remove: () => void;
};

const count = (number: number) => number.toLocaleString("en");

/** A rule in the ledger: whether it is on, what it says and how much it leaves out; opened, its choices. */
export function LedgerEntry(props: Props) {
  const { line, rule, columns, isFixed, isOpen, open, look, change, earlier, later, remove } = props;
  const says = ruleInWords(rule);
  const details = useId();
  const isWhole = hasShape(ruleShape, rule);
  const canLook = rule.isOn && line.out > 0;
  return (
    <li data-rule={rule.kind} className="border-b border-hairline py-1 last:border-b-0">
      <div className="flex items-start gap-2.5">
        <Switch.Root
          aria-label={says}
          checked={rule.isOn}
          disabled={isFixed}
          onCheckedChange={(isOn) => change({ ...rule, isOn })}
          className="ledger-switch mt-1"
        >
          <Switch.Thumb className="ledger-thumb" />
        </Switch.Root>
        <button
          type="button"
          id={wordsOf(rule.id)}
          aria-expanded={isOpen}
          aria-controls={details}
          onClick={() => open(!isOpen)}
          className={`min-w-0 flex-1 text-left text-sm leading-[22px] hover:text-plumage ${rule.isOn ? "" : "text-muted"}`}
        >
          {says}
        </button>
        {canLook ? (
          <button
            type="button"
            onClick={look}
            aria-label={`Look at what “${says}” leaves out`}
            title="Look at them"
            className="font-mono text-xs leading-[22px] hover:text-plumage hover:underline"
          >
            {count(line.out)}
          </button>
        ) : (
          <span className="font-mono text-xs leading-[22px] text-muted" title={rule.isOn ? undefined : "if it were on"}>
            {count(line.out)}
          </span>
        )}
      </div>
      {(line.problem ?? line.caution) !== null && (
        <p className={`mt-0.5 text-xs ${line.problem ? "text-alarm" : "text-muted"}`}>{line.problem ?? line.caution}</p>
      )}
      {isOpen && (
        <div id={details} className="mt-1.5 mb-1 rounded-md bg-paper px-2.5 py-1.5">
          {!isFixed && phraseOf(rule).length > 1 && <RuleSentence rule={rule} columns={columns} onChange={change} />}
          {!isWhole && <p className="text-xs text-alarm">This is not stored: a range ends after it begins.</p>}
          <p className="text-xs text-muted">
            {count(line.means)} {line.means === 1 ? "meets" : "meet"} it
            {line.means > line.out && `; ${count(line.means - line.out)} of them had been left out before`}.
          </p>
          {!isFixed && (
            <div className="-ml-1.5 mt-0.5 flex items-center">
              {earlier && <IconButton icon={ArrowUp} label={`Apply “${says}” earlier`} onClick={earlier} />}
              {later && <IconButton icon={ArrowDown} label={`Apply “${says}” later`} onClick={later} />}
              <IconButton icon={Trash2} label={`Remove “${says}”`} className="ml-auto" onClick={remove} />
            </div>
          )}
        </div>
      )}
    </li>
  );
}
