import { useState } from "react";
import { Button } from "~/app/components/button";
import { Choice, NumberField, Property, TextField } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { placeInWords } from "~/core/describe/rules";
import type { Block } from "~/core/design/block";
import { itemsIn } from "~/core/design/lookup";
import { questionsInOrder } from "~/core/design/questions";
import { triggerKinds, type Trigger } from "~/core/rules/trigger";
import { triggerKind, type Level } from "~/core/rules/kinds";

/** A trigger as it is chosen: its kind, and where that says more, what of it. */
type Choosable = { key: string; says: string; make: () => Trigger };

/** What can set a rule off at a level. */
export function triggersAt(level: Level, isBlock: boolean): Choosable[] {
  const of = (on: Trigger["on"]): Choosable[] => {
    switch (on) {
      case "answer":
        return [
          { key: "answer given", says: "an answer is given", make: () => ({ on, how: "given" }) },
          { key: "answer right", says: "an answer is right", make: () => ({ on, how: "right" }) },
          { key: "answer wrong", says: "an answer is wrong", make: () => ({ on, how: "wrong" }) },
          { key: "answer none", says: "no answer came", make: () => ({ on, how: "none" }) },
          { key: "answer early", says: "an answer comes too early", make: () => ({ on, how: "early" }) },
        ];
      case "key":
        return [
          { key: "key press", says: "a key is pressed", make: () => ({ on, key: "Space", act: "press" }) },
          { key: "key release", says: "a key is let go", make: () => ({ on, key: "Space", act: "release" }) },
          { key: "key hold", says: "a key is held", make: () => ({ on, key: "Space", act: "hold", heldMs: 500 }) },
        ];
      case "pointer":
        return [
          { key: "pointer press", says: "an item is pressed", make: () => ({ on, act: "press" }) },
          { key: "pointer enter", says: "the pointer enters an item", make: () => ({ on, act: "enter" }) },
          { key: "pointer leave", says: "the pointer leaves an item", make: () => ({ on, act: "leave" }) },
        ];
      case "media":
        return [
          { key: "media begins", says: "a sound or video begins", make: () => ({ on, what: "begins" }) },
          { key: "media ends", says: "a sound or video comes to its end", make: () => ({ on, what: "ends" }) },
        ];
      case "window":
        return [
          { key: "window focus-lost", says: "the window loses the focus", make: () => ({ on, what: "focus-lost" }) },
          {
            key: "window focus-back",
            says: "the window has the focus again",
            make: () => ({ on, what: "focus-back" }),
          },
          {
            key: "window full-screen-left",
            says: "full screen is left",
            make: () => ({ on, what: "full-screen-left" }),
          },
        ];
      case "part-begins":
        return [
          {
            key: on,
            says: level === "study" ? "a part begins" : isBlock ? "the block begins" : "the page is shown",
            make: () => ({ on }),
          },
        ];
      case "part-ends":
        return [
          {
            key: on,
            says: level === "study" ? "a part ends" : isBlock ? "the block ends" : "the page is left",
            make: () => ({ on }),
          },
        ];
      case "variable":
        return [{ key: on, says: "a variable changes", make: () => ({ on, variable: "" }) }];
      default:
        return [{ key: on, says: plain[on] ?? on, make: () => ({ on }) as Trigger }];
    }
  };
  return triggerKinds.filter((kind) => triggerKind(kind).at.includes(level)).flatMap(of);
}
const plain: Record<string, string> = {
  "session-begins": "the session begins",
  "session-ends": "the session ends",
  "trial-begins": "a trial begins",
  "trial-ends": "a trial ends",
  "scene-begins": "a scene begins",
  "scene-ends": "a scene ends",
  scroll: "the participant scrolls",
  message: "a web page sends a message",
  question: "a question is answered",
  leave: "the participant asks to leave",
};
export const triggerKey = (trigger: Trigger): string => {
  if (trigger.on === "answer") return `answer ${trigger.how}`;
  if (trigger.on === "key" || trigger.on === "pointer") return `${trigger.on} ${trigger.act}`;
  return trigger.on === "media" || trigger.on === "window" ? `${trigger.on} ${trigger.what}` : trigger.on;
};

type Props = { value: Trigger; onChange: (value: Trigger) => void; level: Level; block: Block | null };

/** What sets a rule off, and which key, scene, item or question it is about. */
export function TriggerFields({ value, onChange, level, block }: Props) {
  const choices = triggersAt(level, block !== null);
  const has = "afterMs" in value || canWait(value);
  return (
    <>
      <Choice
        label="When"
        value={triggerKey(value)}
        options={choices.map(({ key, says }) => [key, says] as const)}
        onChange={(key) => {
          const chosen = choices.find((each) => each.key === key);
          if (chosen) onChange(chosen.make());
        }}
      />
      <Which value={value} onChange={onChange} block={block} />
      {has && (
        <Property label="After">
          <NumberField
            label="Milliseconds after it"
            value={("afterMs" in value ? value.afterMs : undefined) ?? 0}
            least={0}
            suffix="ms"
            onChange={(ms) => onChange({ ...value, afterMs: ms === 0 ? undefined : ms } as Trigger)}
          />
        </Property>
      )}
    </>
  );
}
const canWait = ({ on }: Trigger) => !["session-ends", "part-ends", "trial-ends", "question", "leave"].includes(on);

function Which({ value, onChange, block }: Omit<Props, "level">) {
  const { document } = useStudy();
  const any = (says: string) => [["", says] as const];
  const named = (things: readonly { id: string; name: string }[]) => things.map(({ id, name }) => [id, name] as const);
  switch (value.on) {
    case "scene-begins":
    case "scene-ends":
      return (
        block && (
          <Choice
            label="Which scene"
            value={value.scene ?? ""}
            options={[...any("any scene"), ...named(block.scenes)]}
            onChange={(scene) => onChange({ ...value, scene: scene || undefined })}
          />
        )
      );
    case "answer":
      return (
        block &&
        block.answers.length > 1 && (
          <Choice
            label="Which answer"
            value={value.answer ?? ""}
            options={[...any("any answer"), ...named(block.answers)]}
            onChange={(answer) => onChange({ ...value, answer: answer || undefined })}
          />
        )
      );
    case "pointer":
    case "media":
    case "message": {
      const items = itemsIn(block ?? { scenes: [] }).filter(({ kind }) =>
        value.on === "media" ? kind === "sound" || kind === "video" : value.on === "message" ? kind === "web" : true,
      );
      return (
        <>
          <Choice
            label="Which item"
            value={value.item ?? ""}
            options={[...any("any item"), ...named(items)]}
            onChange={(item) => onChange({ ...value, item: item || undefined })}
          />
          {value.on === "message" && (
            <TextField
              label="What it sends"
              value={value.says ?? ""}
              onChange={(says) => onChange({ ...value, says: says || undefined })}
            />
          )}
        </>
      );
    }
    case "key":
      return (
        <>
          <KeyField value={value.key} onChange={(key) => onChange({ ...value, key })} />
          {value.act === "hold" && (
            <Property label="Held for">
              <NumberField
                label="Held for"
                value={value.heldMs ?? 500}
                least={0}
                suffix="ms"
                onChange={(heldMs) => onChange({ ...value, heldMs })}
              />
            </Property>
          )}
        </>
      );
    case "question":
      return (
        <Choice
          label="Which question"
          value={value.question ?? ""}
          options={[
            ...any("any question"),
            ...questionsInOrder(document).map(({ question: { id, name } }) => [id, name] as const),
          ]}
          onChange={(question) => onChange({ ...value, question: question || undefined })}
        />
      );
    case "variable":
      return (
        <Choice
          label="Which variable"
          value={value.variable}
          options={[...(value.variable === "" ? any("choose one") : []), ...named(document.variables)]}
          onChange={(variable) => onChange({ ...value, variable })}
        />
      );
    default:
      return null;
  }
}

/** A key, chosen by pressing it. */
function KeyField({ value, onChange }: { value: string; onChange: (code: string) => void }) {
  const [isWaiting, setWaiting] = useState(false);
  return (
    <Property label="Key">
      <span className="rounded-md border border-hairline px-2 py-0.5 font-mono text-xs">{placeInWords(value)}</span>
      <Button
        onClick={() => setWaiting(true)}
        onBlur={() => setWaiting(false)}
        onKeyDown={(event) => {
          if (!isWaiting || event.key === "Tab") return;
          event.preventDefault();
          event.stopPropagation();
          setWaiting(false);
          if (event.code !== "") onChange(event.code);
        }}
      >
        {isWaiting ? "Press a key" : "Another key"}
      </Button>
    </Property>
  );
}
