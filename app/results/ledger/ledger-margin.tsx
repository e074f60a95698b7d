import { Copy } from "lucide-react";
import { useState } from "react";
import { IconButton } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { newId } from "~/app/editing/new-id";
import { registeredInWords } from "~/core/exclusions/method";
import { freshRule, kindOf, kindsOn, mostRules, ruleInWords, type Rule } from "~/core/exclusions/registry";
import type { Ledger } from "~/server/results/ledger";
import type { Change } from "../result-views";
import { AddRule } from "./add-rule";
import { LedgerEntry } from "./ledger-line";
import { SetMenu } from "./set-menu";
import { useRules } from "./use-rules";

/** Kinds of which a set needs only one. */
const once: readonly Rule["kind"][] = [
  "marked",
  "not-finished",
  "practice",
  "again",
  "wrong",
  "interrupted",
  "late",
  "after-wrong",
];
const count = (number: number) => number.toLocaleString("en");
const headings = { sessions: "Sessions left out", trials: "Trials left out" } as const;

/** What is left out of results and why: each rule with its count, switched on and off, in the order in which they apply. */
export function LedgerMargin({ ledger, ask }: { ledger: Ledger; ask: (change: Change) => void }) {
  const { rules, isSaving, setRules, send } = useRules(ledger);
  const [open, setOpen] = useState<string | null>(null);
  const lines = new Map(ledger.lines.map((line) => [line.rule.id, line]));
  const { sessions, trials } = ledger.counts;
  const isFixed = ledger.set.registered !== null;
  const changed = (id: string, into: Rule[]) => setRules(rules.flatMap((rule) => (rule.id === id ? into : [rule])));
  /** Puts a rule in the place of another, and that one in its. */
  const swap = (one: Rule, other: Rule | undefined) =>
    other && (() => setRules(rules.map((rule) => (rule.id === one.id ? other : rule.id === other.id ? one : rule))));
  const isShown = ({ kind }: Pick<Rule, "kind">) => kind !== "again" || ledger.comesAgain;
  const look = (rule: Rule) =>
    ask({
      ...{ tab: "records", rows: kindOf(rule).on },
      // A trial may have lost its time by this rule, and have gone by another.
      where: `left_out_by~${kindOf(rule).on === "trials" ? "contains" : "is"}~${ruleInWords(rule)}`,
      ...{ sort: "", columns: "", find: "", pilots: "" },
    });
  return (
    <aside
      aria-label="What is left out"
      className="relative h-full w-[300px] shrink-0 overflow-y-auto border-l border-hairline bg-sheet px-4 pb-6 pt-3 small:h-auto small:w-full small:border-l-0 small:border-t print:hidden"
    >
      <h2 className="text-base font-bold" data-kept>
        {count(sessions.kept)} of {count(sessions.in)} {sessions.in === 1 ? "session" : "sessions"} kept
      </h2>
      <div aria-hidden="true" className="mt-2 flex h-2.5 overflow-hidden bg-track">
        <span
          className="bg-plumage"
          style={{ width: `${sessions.in === 0 ? 0 : (100 * sessions.kept) / sessions.in}%` }}
        />
      </div>
      <p className="mt-1 text-xs text-muted" role="status">
        {isSaving
          ? "Saving…"
          : ledger.hasTrials && `${count(trials.kept)} of ${count(trials.in)} trials in them are kept`}
      </p>
      <div className="mt-3 flex items-center gap-2">
        <span className="text-xs font-semibold text-muted">Exclusions</span>
        <SetMenu ledger={ledger} send={send} isSaving={isSaving} />
        <span className="ml-auto whitespace-nowrap text-xs text-muted">nothing is deleted</span>
      </div>
      {ledger.set.registered && (
        <p className="mt-2 rounded-md bg-plumage-tint px-2.5 py-1.5 text-sm">
          {registeredInWords(ledger.set.registered)} They cannot be changed; make a set of your own of them.
        </p>
      )}
      {(ledger.hasTrials ? (["sessions", "trials"] as const) : (["sessions"] as const)).map((on) => {
        const own = rules.filter((rule) => kindOf(rule).on === on && isShown(rule));
        return (
          <section key={on} aria-label={headings[on]} className="mt-4">
            <h3 className="text-xs font-semibold text-muted">{headings[on]}</h3>
            <ul className="mt-0.5">
              {own.map((rule, at) => (
                <LedgerEntry
                  key={rule.id}
                  line={lines.get(rule.id) ?? { out: 0, means: 0, problem: null, caution: null }}
                  rule={rule}
                  columns={ledger.columns}
                  isFixed={isFixed}
                  isOpen={open === rule.id}
                  open={(isOpen) => setOpen(isOpen ? rule.id : null)}
                  look={() => look(rule)}
                  change={(into) => changed(rule.id, [into])}
                  earlier={swap(rule, own[at - 1]) ?? null}
                  later={swap(rule, own[at + 1]) ?? null}
                  remove={() => changed(rule.id, [])}
                />
              ))}
              {own.length === 0 && <li className="py-1 text-sm text-muted">None.</li>}
            </ul>
            {!isFixed && rules.length < mostRules && (
              <AddRule
                says={on === "sessions" ? "Rule for sessions" : "Rule for trials"}
                kinds={kindsOn(on)
                  .filter(isShown)
                  .filter(({ kind }) => !once.includes(kind) || !own.some((rule) => rule.kind === kind))}
                add={(kind) => {
                  const rule = freshRule(kind, newId("rule"));
                  setRules([...rules, rule]);
                  setOpen(rule.id);
                  return rule.id;
                }}
              />
            )}
          </section>
        );
      })}
      <section aria-label="For the method section" className="mt-4">
        <div className="flex items-center">
          <h3 className="text-xs font-semibold text-muted">For the method section</h3>
          <IconButton
            icon={Copy}
            label="Copy the paragraph"
            className="ml-auto"
            onClick={() => copyText(ledger.method, "The paragraph is copied.", "The browser does not allow copying.")}
          />
        </div>
        <p className="font-serif text-[15px] leading-[23px]" data-method>
          {ledger.method}
        </p>
      </section>
    </aside>
  );
}
