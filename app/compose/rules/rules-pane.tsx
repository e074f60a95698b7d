import { ClipboardPaste, Plus, Variable } from "lucide-react";
import { Button } from "~/app/components/button";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import type { RulePlace } from "~/core/design/all-rules";
import type { Block } from "~/core/design/block";
import { addRules } from "~/core/design/edits/rules";
import { readyRules } from "~/core/design/ready-rules";
import { newRule } from "~/core/rules/rule";
import type { Id } from "~/core/values/ref";
import { RuleList } from "./rule-list";
import { useFired } from "./use-fired";
import { usePasteRules } from "./use-paste-rules";

/** The rules of a block's trials, then those of its scenes. */
export function RulesPane({ block }: { block: Block }) {
  const { document, look, view } = useStudy();
  const fired = useFired();
  const { selected } = view;
  const isSelected = (id: Id) => selected.kind === "rule" && selected.rule === id;
  const select = (rule: Id) => look({ selected: { kind: "rule", rule } });
  const ofTrials: RulePlace = { part: block.id, scene: null };
  const scenes = block.scenes.filter(({ rules = [] }) => rules.length > 0);
  return (
    <div className="h-full overflow-y-auto border-t border-hairline px-4 py-3">
      {block.rules.length === 0 && scenes.length === 0 && (
        <p className="mb-3 max-w-[62ch] text-muted">
          A rule says what happens when something else does: <em>when an answer is wrong, play a sound</em>. Begin with
          a ready one or an empty one; every word of it can be chosen.
        </p>
      )}
      <RuleList rules={block.rules} place={ofTrials} isSelected={isSelected} onSelect={select} fired={fired} />
      {scenes.map(({ id, name, rules = [] }) => (
        <section key={id} className="mt-3">
          <h3 className="mb-1 text-sm font-semibold text-muted">Only in the scene “{name}”</h3>
          <RuleList
            rules={rules}
            place={{ part: block.id, scene: id }}
            isSelected={isSelected}
            onSelect={select}
            fired={fired}
          />
        </section>
      ))}
      {(block.rules.length > 0 || scenes.length > 0) && (
        <p className="mt-2 text-sm text-muted">
          Rules are looked at from top to bottom{document.rules.length > 0 ? ", after those of the whole study" : ""}.
          What each did stands in the data as an event.
        </p>
      )}
    </div>
  );
}

/** Adds a rule to a block: a ready one, or an empty one; or pastes one. */
export function RuleButtons({ block }: { block: Block }) {
  const { document, edit, look } = useStudy();
  const place: RulePlace = { part: block.id, scene: null };
  const paste = usePasteRules(place);
  const { clipboard } = navigator as { clipboard?: Clipboard };
  const add = (where: RulePlace) => {
    const rule = newRule(newId, where.scene === null ? { on: "answer", how: "given" } : { on: "scene-begins" }, {
      do: "add",
      what: { points: true },
      to: 1,
    });
    edit(addRules(where, rule));
    look({ selected: { kind: "rule", rule: rule.id } });
  };
  return (
    <>
      <Button icon={Variable} look="quiet" onClick={() => look({ asked: "values" })}>
        Values
      </Button>
      <Menu
        align="end"
        trigger={
          <Button icon={Plus} aria-label="Add a rule">
            Rule
          </Button>
        }
      >
        <MenuItem onSelect={() => add(place)}>An empty rule for every trial</MenuItem>
        <MenuLabel>Ready ones</MenuLabel>
        {readyRules(document, block).map((ready) => (
          <MenuItem
            key={ready.says}
            onSelect={() => {
              if (ready.missing !== null) return;
              const { edit: change, rule } = ready.make(newId);
              edit(change);
              look({ selected: { kind: "rule", rule } });
            }}
          >
            <span className={ready.missing === null ? "" : "text-muted"}>
              {ready.says}
              {ready.missing !== null && <span className="block text-xs">{ready.missing}</span>}
            </span>
          </MenuItem>
        ))}
        <MenuLabel>Only in one scene</MenuLabel>
        {block.scenes.map(({ id, name }) => (
          <MenuItem key={id} onSelect={() => add({ part: block.id, scene: id })}>
            {name}
          </MenuItem>
        ))}
      </Menu>
      {clipboard && (
        <Button icon={ClipboardPaste} look="quiet" onClick={() => void clipboard.readText().then(paste)}>
          Paste
        </Button>
      )}
    </>
  );
}
