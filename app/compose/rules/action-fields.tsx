import { AddLine } from "~/app/components/add-line";
import { ChevronDown, Trash2 } from "lucide-react";
import { useState } from "react";
import { IconButton } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import { actionInWords, timingInWords, type Of } from "~/core/describe/rules";
import type { Action } from "~/core/rules/action";
import type { Level } from "~/core/rules/kinds";
import { actionsAt } from "./action-choices";
import { ActionSettings, ActionTiming } from "./action-settings";

type ActionsProps = { value: Action[]; onChange: (value: Action[]) => void; level: Level; of: Of };

/** What a rule does, in its order. */
export function ActionFields({ value, onChange, level, of }: ActionsProps) {
  const { document } = useStudy();
  const [opened, setOpened] = useState(0);
  const set = (index: number, action: Action) => onChange(value.map((each, at) => (at === index ? action : each)));
  return (
    <div className="grid gap-1">
      {value.map((action, index) => (
        <div key={index} className="rounded-md border border-hairline">
          <div className="flex items-center gap-1 px-1.5 py-1">
            <button
              type="button"
              aria-expanded={opened === index}
              className="flex min-w-0 flex-1 items-center gap-1 text-left text-sm"
              onClick={() => setOpened(opened === index ? -1 : index)}
            >
              <ChevronDown size={13} aria-hidden="true" className={opened === index ? "" : "-rotate-90"} />
              <span className="min-w-0 flex-1">{actionInWords(action, of)}</span>
              <span className="shrink-0 font-mono text-2xs text-muted">
                {timingInWords(action, of) === "" ? "0 ms" : `${action.afterMs ?? 0} ms`}
              </span>
            </button>
            <IconButton
              icon={Trash2}
              label={`Remove “${actionInWords(action, of)}”`}
              disabled={value.length < 2}
              onClick={() => onChange(value.filter((_, at) => at !== index))}
            />
          </div>
          {opened === index && (
            <div className="grid gap-1 border-t border-hairline px-2 py-2">
              <ActionSettings action={action} onChange={(next) => set(index, next)} of={of} />
              <ActionTiming action={action} onChange={(next) => set(index, next)} of={of} />
            </div>
          )}
        </div>
      ))}
      <Menu trigger={<AddLine says="another action" />}>
        {actionsAt(level, document, of.block).map(({ says, action }) => (
          <MenuItem
            key={action.do}
            onSelect={() => {
              onChange([...value, action]);
              setOpened(value.length);
            }}
          >
            {says}
          </MenuItem>
        ))}
      </Menu>
    </div>
  );
}
