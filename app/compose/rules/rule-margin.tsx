import { ArrowDown, ArrowUp, Copy, Trash2, Zap } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { Section, Switch, TextField } from "~/app/components/fields";
import { Property } from "~/app/components/fields";
import { useFindings, useStudy } from "~/app/editing/use-study";
import type { PlacedRule } from "~/core/design/all-rules";
import { moveRule, removeRule, setRule } from "~/core/design/edits/rules";
import { packedRules } from "~/core/design/edits/carry-rules";
import { ruleName, type Rule } from "~/core/rules/rule";
import { Margin } from "../margin";
import { NotesField } from "../notes-field";
import { ActionFields } from "./action-fields";
import { ConditionFields } from "./condition-fields";
import { blockAt, levelOf, placeInWords } from "./places";
import { TriggerFields } from "./trigger-fields";

/** What is chosen in a rule: when, if, do. */
export function RuleMargin({
  placed,
  up,
}: {
  placed: PlacedRule;
  up: { name: string; holds?: string; go: () => void };
}) {
  const { code, document, edit, look } = useStudy();
  const { rule, place, all } = placed;
  const block = blockAt(document, place);
  const level = levelOf(document, place);
  const set = (change: Partial<Rule>, what: string) => edit(setRule(place, rule.id, change), `rule ${rule.id} ${what}`);
  const number = all.findIndex(({ id }) => id === rule.id) + 1;
  const found = useFindings().filter(({ target }) => target.rule === rule.id);
  const name = ruleName(all, rule.id);
  return (
    <Margin
      up={up}
      title={
        <span className="flex items-center gap-2">
          <Zap size={16} aria-hidden="true" className="text-plumage" />
          {rule.name === "" ? `Rule ${number}` : rule.name}
        </span>
      }
      kind={placeInWords(document, place)}
      actions={
        <>
          <IconButton
            icon={ArrowUp}
            label="Look at it earlier"
            disabled={number < 2}
            onClick={() => edit(moveRule(place, rule.id, -1))}
          />
          <IconButton
            icon={ArrowDown}
            label="Look at it later"
            disabled={number >= all.length}
            onClick={() => edit(moveRule(place, rule.id, 1))}
          />
          <IconButton
            icon={Copy}
            label="Copy the rule"
            onClick={() =>
              copyText(
                JSON.stringify(packedRules(document, code, place, [rule])),
                "The rule is in the clipboard.",
                "The browser does not let it be copied.",
              )
            }
          />
          <IconButton
            icon={Trash2}
            label={`Remove ${name}`}
            onClick={() => {
              edit(removeRule(place, rule.id));
              look({ selected: { kind: "nothing" } });
            }}
          />
        </>
      }
    >
      <Section title="When">
        <TriggerFields value={rule.when} onChange={(when) => set({ when }, "when")} level={level} block={block} />
      </Section>
      <Section title="If">
        <ConditionFields value={rule.if} onChange={(only) => set({ if: only }, "if")} block={block} />
      </Section>
      <Section title="Do, in this order">
        <ActionFields
          value={rule.do}
          onChange={(does) => set({ do: does }, "do")}
          level={level}
          of={{ document, block, isOfStudy: place.part === null }}
        />
      </Section>
      {found.length > 0 && (
        <Section title="To check">
          {found.map(({ message, level: how }) => (
            <p key={message} className={`text-sm ${how === "error" ? "text-alarm" : "text-chestnut"}`}>
              {message}
            </p>
          ))}
        </Section>
      )}
      <Section title="The rule">
        <Property label="Name" htmlFor="rule-name">
          <TextField id="rule-name" value={rule.name} onChange={(text) => set({ name: text }, "name")} />
        </Property>
        <Switch
          label="Off"
          means="not looked at"
          checked={rule.off === true}
          onChange={(off) => set({ off: off ? true : undefined }, "off")}
        />
      </Section>
      <Section title="Note">
        <NotesField
          label={`Note on ${name}`}
          value={rule.note ?? ""}
          onChange={(note) => set({ note: note || undefined }, "note")}
        />
      </Section>
    </Margin>
  );
}
