import { Trash2, X } from "lucide-react";
import { useState } from "react";
import { IconButton } from "~/app/components/button";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import { preflight } from "~/core/check/preflight";
import { removeAnswer, setAnswer } from "~/core/design/edits/scenes";
import { isBinding, type AnswerSpec, type Bindable, type Block } from "~/core/design/types";
import { resolve, type Context } from "~/core/run/resolve";
import { keyName } from "~/player/trial-loop";
import { Chip } from "./chip";
import { Margin } from "./margin";
import { BindableControl, Choice, Property, Section, TextField, useNames } from "./property";
import { keyLabel, refName } from "./words";

export function AnswerSettings({ block, answer, context }: { block: Block; answer: AnswerSpec; context: Context }) {
  const { document, edit, look } = useStudy();
  const set = (change: Partial<AnswerSpec>) => edit(setAnswer(block.id, answer.id, change), `answer ${answer.id}`);
  const keys = answer.by.flatMap((device) => device.keys);
  const setKeys = (next: Bindable<string>[]) => set({ by: [{ device: "keys", keys: next }] });
  const scenes = block.scenes.map(({ id, name }) => [id, name] as const);
  const troubles = preflight(document).filter(
    ({ place, where }) => place.part === block.id && where.includes("answer"),
  );
  return (
    <Margin
      title="Answer"
      kind="in every trial of this block"
      actions={
        <IconButton
          icon={Trash2}
          label="Remove the answer"
          onClick={() => {
            edit(removeAnswer(block.id, answer.id));
            look({ selected: { kind: "nothing" } });
          }}
        />
      }
    >
      <Section title="Keys">
        <ul className="flex flex-wrap gap-1.5 py-1">
          {keys.map((key, index) => (
            <li key={index} className="flex items-center rounded-md border border-hairline pl-1.5">
              {isBinding(key) ? (
                <Chip gone={refName(key.from, document, block) === null}>
                  {refName(key.from, document, block) ?? "gone"} → {keyLabel(String(resolve(key, context) ?? "?"))}
                </Chip>
              ) : (
                <kbd className="font-mono text-xs">{keyLabel(key)}</kbd>
              )}
              <IconButton
                icon={X}
                label={`Do not allow ${isBinding(key) ? (refName(key.from, document, block) ?? "this key") : keyLabel(key)}`}
                className="!h-6 !w-6"
                onClick={() => setKeys(keys.filter((_, each) => each !== index))}
              />
            </li>
          ))}
        </ul>
        <AddKey onAdd={(key) => keys.some((each) => each === key) || setKeys([...keys, key])} block={block} />
      </Section>
      <Section title="Window" aside="time counts from the opening">
        <Property label="Opens with" htmlFor="opens">
          <Choice id="opens" value={answer.opensWith} options={scenes} onChange={(opensWith) => set({ opensWith })} />
        </Property>
        <Property label="Closes after" htmlFor="closes">
          <Choice
            id="closes"
            value={answer.closesWith}
            options={scenes}
            onChange={(closesWith) => set({ closesWith })}
          />
        </Property>
        <Property label="On answer" htmlFor="on-answer">
          <Choice
            id="on-answer"
            value={answer.onAnswer}
            options={
              [
                ["move-on", "move on at once"],
                ["stay", "stay until the time is over"],
              ] as const
            }
            onChange={(onAnswer) => set({ onAnswer })}
          />
        </Property>
      </Section>
      <Section title="Right answer">
        <Property label="Equals">
          {answer.right === undefined ? (
            <button
              type="button"
              className="text-sm font-semibold text-plumage"
              onClick={() => set({ right: isBinding(keys[0] ?? "") ? "" : String(keys[0] ?? "") })}
            >
              none, set one
            </button>
          ) : (
            <BindableControl<string | number>
              label="right answer"
              value={answer.right}
              onChange={(right) => set({ right })}
              block={block}
              context={context}
              constant=""
            >
              {(value, change) => <TextField label="Right answer" value={String(value)} onChange={change} />}
            </BindableControl>
          )}
          {answer.right !== undefined && (
            <IconButton
              icon={X}
              label="No right answer"
              className="!w-6"
              onClick={() => edit(setAnswer(block.id, answer.id, { right: undefined }))}
            />
          )}
        </Property>
      </Section>
      {troubles.map(({ message, level }) => (
        <p key={message} className={`mt-3 text-sm ${level === "error" ? "text-alarm" : "text-chestnut"}`}>
          {message}
        </p>
      ))}
    </Margin>
  );
}

/** Adds a key by pressing it, or a key that comes from a group value or a column. */
function AddKey({ onAdd, block }: { onAdd: (key: Bindable<string>) => void; block: Block }) {
  const [listening, setListening] = useState(false);
  const families = useNames(block, false);
  return (
    <div className="flex gap-1.5">
      <button
        type="button"
        onClick={() => setListening(true)}
        onBlur={() => setListening(false)}
        onKeyDown={(event) => {
          if (!listening || event.key === "Tab" || event.key === "Shift") return;
          event.preventDefault();
          event.stopPropagation();
          const key = keyName(event.nativeEvent);
          if (key !== "Escape") onAdd(key.length === 1 ? key.toLowerCase() : key);
          setListening(false);
        }}
        className={`h-7 rounded-md border px-2 text-sm ${listening ? "border-plumage bg-plumage-tint" : "border-hairline hover:bg-plumage-tint"}`}
      >
        {listening ? "Press the key now" : "Add a key by pressing it"}
      </button>
      {families.length > 0 && (
        <Menu
          trigger={
            <button type="button" className="h-7 rounded-md border border-hairline px-2 text-sm hover:bg-plumage-tint">
              From…
            </button>
          }
        >
          {families.map((family) => (
            <div key={family.label}>
              <MenuLabel>{family.label}</MenuLabel>
              {family.names.map(({ name, ref }) => (
                <MenuItem key={name} onSelect={() => onAdd({ from: ref })}>
                  <span className="font-mono text-xs">{name}</span>
                </MenuItem>
              ))}
            </div>
          ))}
        </Menu>
      )}
    </div>
  );
}
