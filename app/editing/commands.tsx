import { Command } from "cmdk";
import { Dialog as Radix } from "radix-ui";
import { useNavigate } from "react-router";
import { settingsOf } from "~/app/compose/item-kinds";
import { itemKinds } from "~/core/items/registry";
import { useAddItem } from "~/app/compose/add-item";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { newScene } from "~/core/design/scene";
import { addScene } from "~/core/design/edits/scenes";
import { blockAt } from "~/app/compose/rules/places";
import { actionInWords, triggerInWords } from "~/core/describe/rules";
import { placedRules } from "~/core/design/all-rules";
import { ruleName } from "~/core/rules/rule";
import { blockOf, partsInOrder } from "~/core/design/lookup";
import { freeTitle } from "~/core/values/names";
import type { Block } from "~/core/design/block";

type Action = {
  words: string;
  hint?: string;
  act: () => void;
  /** What takes the focus then; else the first setting. */
  focus?: string;
};
type Run = (act: () => void, focus?: string) => void;

const firstSetting = "aside input, aside select";

/** Everything that can be done from a design screen, found by typing. */
export function CommandPalette({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { code, document, editor, canUndo, canRedo, look, view } = useStudy();
  const navigate = useNavigate();
  const part = view.part ? document.parts[view.part] : undefined;
  const block = part?.kind === "block" ? part : null;
  const run: Run = (act, focus = firstSetting) => {
    onOpenChange(false);
    // Once the palette is gone, so that what is opened can take the focus; else the settings of what was chosen do.
    setTimeout(() => {
      act();
      setTimeout(() => {
        const isTaken = globalThis.document.activeElement?.closest("[role=dialog], [role=application]");
        if (!isTaken) globalThis.document.querySelector<HTMLElement>(focus)?.focus();
      }, 150);
    }, 0);
  };
  const go = (section: string) => () => void navigate(`/studies/${code}/${section}`);
  const groups: [string, Action[]][] = [
    [
      "Go to",
      [
        ...["Plan", "Compose", "Rehearse", "Collect", "Results"].map((section) => ({
          words: section,
          act: go(section.toLowerCase()),
        })),
        ...partsInOrder(document).map(({ id, name, kind }) => ({
          words: name,
          hint: kind,
          act: () => {
            look({ part: id, trial: null, row: null, opened: null, selected: { kind: "nothing" } });
            go("compose")();
          },
          // Nothing is to be set yet: shortcuts stay at hand.
          focus: "[data-nothing]",
        })),
        ...placedRules(document).map(({ rule, place, all }) => {
          const of = { document, block: blockAt(document, place), isOfStudy: place.part === null };
          const does = rule.do.map((action) => actionInWords(action, of)).join(" and ");
          return {
            words: `${ruleName(all, rule.id)}: when ${triggerInWords(rule.when, of)}, ${does}`,
            hint: "rule",
            act: () => {
              look({
                ...(place.part === null ? {} : { part: place.part, below: "rules" as const }),
                opened: null,
                selected: { kind: "rule", rule: rule.id },
              });
              go(place.part === null ? "plan" : "compose")();
            },
          };
        }),
        ...document.variables.map(({ id, name }) => ({
          words: name,
          hint: "variable",
          act: () => {
            look({ selected: { kind: "variable", variable: id } });
            go("plan")();
          },
        })),
        ...document.services.map(({ id, name }) => ({
          words: name,
          hint: "service",
          act: () => {
            look({ selected: { kind: "service", service: id } });
            go("plan")();
          },
        })),
        ...document.pools.map(({ id, name }) => ({
          words: name,
          hint: "pool",
          act: () => look({ asked: "pools", pool: id }),
        })),
        ...(block?.scenes ?? []).map(({ id, name }) => ({
          words: `Open scene ${name}`,
          act: () => {
            look({ opened: id, selected: { kind: "scene", scene: id } });
            go("compose")();
          },
        })),
      ],
    ],
    [
      "Study",
      [
        ...(canUndo ? [{ words: "Undo", hint: "Ctrl Z", act: () => editor.undo() }] : []),
        ...(canRedo ? [{ words: "Redo", hint: "Ctrl Shift Z", act: () => editor.redo() }] : []),
        { words: "History and named versions", act: () => look({ asked: "history" }) },
        { words: "Media", act: () => look({ asked: "media" }) },
        { words: "Pools", act: () => look({ asked: "pools" }) },
        { words: "All values", act: () => look({ asked: "values" }) },
        { words: "Shortcuts", hint: "?", act: () => look({ asked: "shortcuts" }) },
        { words: "Next participant", act: () => look({ participant: view.participant + 1, trial: null }) },
        ...(view.participant > 1
          ? [{ words: "Previous participant", act: () => look({ participant: view.participant - 1, trial: null }) }]
          : []),
        { words: "Export the study as a file", act: () => location.assign(`/studies/${code}/file`) },
        { words: "Your studies", act: () => void navigate("/studies") },
      ],
    ],
  ];
  return (
    <Command.Dialog
      open={open}
      onOpenChange={onOpenChange}
      label="Commands"
      filter={(value, search) =>
        search
          .toLowerCase()
          .split(/\s+/)
          .every((word) => value.includes(word))
          ? 1
          : 0
      }
      overlayClassName="fixed inset-0 z-40 bg-black/35"
      contentClassName="fixed left-1/2 top-[14vh] z-50 w-[min(560px,92vw)] -translate-x-1/2 overflow-hidden rounded-md border border-hairline bg-sheet"
    >
      <Radix.Title className="sr-only">Commands</Radix.Title>
      <Radix.Description className="sr-only">Type what you want to do, choose with the arrows.</Radix.Description>
      <Command.Input
        placeholder="What do you want to do?"
        className="h-11 w-full border-b border-hairline bg-transparent px-4 text-[15px] outline-none"
      />
      <Command.List className="max-h-[46vh] overflow-y-auto p-1.5">
        <Command.Empty className="px-3 py-4 text-muted">Nothing has this name.</Command.Empty>
        {groups.map(([heading, actions]) => (
          <Group key={heading} heading={heading} actions={actions} run={run} />
        ))}
        {block && <BlockCommands block={block} run={run} />}
      </Command.List>
    </Command.Dialog>
  );
}

const Group = ({ heading, actions, run }: { heading: string; actions: Action[]; run: Run }) => (
  <Command.Group
    heading={heading}
    className="[&_[cmdk-group-heading]]:px-2.5 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:font-semibold [&_[cmdk-group-heading]]:text-muted"
  >
    {actions.map(({ words, hint, act, focus }) => (
      <Command.Item
        key={words + (hint ?? "")}
        value={`${words} ${hint ?? ""} ${heading}`.toLowerCase()}
        onSelect={() => run(act, focus)}
        className="flex cursor-default items-center justify-between gap-4 rounded-[4px] px-2.5 py-1.5 data-[selected=true]:bg-plumage-tint"
      >
        {words}
        {hint && <span className="font-mono text-xs text-muted">{hint}</span>}
      </Command.Item>
    ))}
  </Command.Group>
);

/** The block's own settings by the words one would look for them, with the field that is meant. */
const blockSettings = [
  ["Settings of the block: name, practice", "#block-name"],
  ["Order of trials: shuffle, listed, sub-blocks", 'aside select[aria-label="Order"]'],
  ["Passes through the table", "#block-passes"],
  ["Limits on the order: runs, gaps, first trials", "aside [data-limits] button"],
  ["Breaks between trials, rest", 'aside input[aria-label^="Breaks"]'],
] as const;

function BlockCommands({ block, run }: { block: Block; run: Run }) {
  const { code, document, edit, look, view } = useStudy();
  const navigate = useNavigate();
  const { selected } = view;
  const chosen = selected.kind === "scene" || selected.kind === "item" ? selected.scene : (view.opened ?? null);
  const scene = blockOf(document, block.id).scenes.find(({ id }) => id === chosen);
  const add = useAddItem(block, scene);
  const toBlock = () => {
    look({ part: block.id, opened: null, selected: { kind: "nothing" } });
    void navigate(`/studies/${code}/compose`);
  };
  const actions: Action[] = [
    ...blockSettings.map(([words, focus]) => ({ words, focus, act: toBlock })),
    {
      words: "Add a scene",
      act: () => {
        const names = block.scenes.map(({ name }) => name);
        const made = newScene(newId, freeTitle("scene", names));
        edit(addScene(block.id, made, chosen));
        look({ selected: { kind: "scene", scene: made.id } });
      },
    },
    ...(scene
      ? itemKinds.map((kind) => ({
          words: `Add ${settingsOf(kind).title} to ${scene.name}`,
          act: () => add(kind),
        }))
      : []),
    ...block.answers.map(({ id, name }) => ({
      words: `Answer ${name}`,
      act: () => look({ selected: { kind: "answer", answer: id } }),
    })),
    ...block.table.columns.map(({ id, name }) => ({
      words: `Column ${name}`,
      act: () => look({ selected: { kind: "column", column: id } }),
    })),
  ];
  return <Group heading={block.name} actions={actions} run={run} />;
}
