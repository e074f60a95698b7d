import { useRef } from "react";
import { AddLine } from "~/app/components/add-line";
import { Menu, MenuItem } from "~/app/components/menu";
import type { RuleKind } from "~/core/exclusions/registry";

/** Under which id the words of a rule stand on the page. */
export const wordsOf = (rule: string): string => `words-${rule}`;

/** Adds a rule of a kind that is chosen; the focus goes to its words, with what can be chosen in them next. */
export function AddRule({
  says,
  kinds,
  add,
}: {
  says: string;
  kinds: readonly { kind: RuleKind; called: string }[];
  /** Gives the id of the rule that was added. */
  add: (kind: RuleKind) => string;
}) {
  const button = useRef<HTMLButtonElement>(null);
  const added = useRef<string | null>(null);
  return (
    <Menu
      onClosed={() => {
        const words = added.current === null ? null : document.getElementById(wordsOf(added.current));
        (words ?? button.current)?.focus();
        added.current = null;
      }}
      trigger={<AddLine ref={button} says={says} />}
    >
      {kinds.map(({ kind, called }) => (
        <MenuItem key={kind} onSelect={() => (added.current = add(kind))}>
          {called}
        </MenuItem>
      ))}
    </Menu>
  );
}
