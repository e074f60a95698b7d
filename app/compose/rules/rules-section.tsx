import { AddLine } from "~/app/components/add-line";
import { Section } from "~/app/components/fields";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import type { RulePlace } from "~/core/design/all-rules";
import { addRules } from "~/core/design/edits/rules";
import { newRule, type Rule } from "~/core/rules/rule";
import { RuleSentence } from "./rule-list";

/** The rules of a page, or of the whole study, in the margin. */
export function RulesSection({ rules, place }: { rules: readonly Rule[]; place: RulePlace }) {
  const { edit, look } = useStudy();
  const add = () => {
    const rule = newRule(newId, place.part === null ? { on: "session-begins" } : { on: "part-ends" }, {
      do: "add",
      what: { points: true },
      to: 1,
    });
    edit(addRules(place, rule));
    look({ selected: { kind: "rule", rule: rule.id } });
  };
  return (
    <Section title={place.part === null ? "Rules of the whole study" : "Rules"}>
      <ol className="grid gap-1">
        {rules.map((rule) => (
          <li key={rule.id}>
            <button
              type="button"
              className={`w-full rounded-md border border-hairline px-2 py-1 text-left font-serif text-base leading-5 hover:border-muted ${rule.off ? "opacity-55" : ""}`}
              onClick={() => look({ selected: { kind: "rule", rule: rule.id } })}
            >
              <RuleSentence rule={rule} place={place} />
            </button>
          </li>
        ))}
      </ol>
      <AddLine says="rule" onClick={add} />
    </Section>
  );
}
