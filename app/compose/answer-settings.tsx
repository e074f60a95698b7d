import { Trash2, X } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { useFindings, useStudy } from "~/app/editing/use-study";
import { removeAnswer, setAnswer } from "~/core/design/edits/scenes";
import { columnStem } from "~/core/values/names";
import { isBinding, type Scalar } from "~/core/values/ref";
import type { AnswerDevice } from "~/core/devices/registry";
import type { AnswerSpec } from "~/core/design/answer";
import type { Block } from "~/core/design/block";
import type { Context } from "~/core/values/context";
import { Margin } from "./margin";
import { MarkersOf } from "./markers/markers-of";
import { useBlockAbove } from "./block-above";
import { ChoiceLine, NumberField, Property, Section, TextField } from "~/app/components/fields";
import { BindableControl } from "./bindable";
import { deviceKind, deviceNames } from "~/core/devices/registry";
import { itemsIn } from "~/core/design/lookup";
import { settingsOfDevice } from "./device-kinds";

export function AnswerSettings({ block, answer, context }: { block: Block; answer: AnswerSpec; context: Context }) {
  const { edit, look } = useStudy();
  // Continuous typing is one step of undo; every choice is a step of its own.
  const typed = ["name", "right", "tolerance"];
  const set = (change: Partial<AnswerSpec>) => {
    const [field = ""] = Object.keys(change);
    edit(setAnswer(block.id, answer.id, change), typed.includes(field) ? `${field} ${answer.id}` : undefined);
  };
  const setDevice = (at: number, device: AnswerDevice | null) =>
    set({ by: answer.by.flatMap((each, index) => (index !== at ? [each] : device ? [device] : [])) });
  const nameProblem = (name: string) =>
    !name.trim()
      ? "An answer needs a name."
      : block.answers.some((each) => each !== answer && columnStem(each.name) === columnStem(name))
        ? "This name is taken: each answer needs its own, because it names columns of the data."
        : null;
  return (
    <Margin
      up={useBlockAbove(block)}
      title={block.answers.length > 1 ? `Answer “${answer.name}”` : "Answer"}
      kind={block.answers.length > 1 ? "" : "in every trial of this block"}
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
      <Property label="Name" htmlFor="answer-name">
        <TextField id="answer-name" value={answer.name} onChange={(name) => set({ name })} problem={nameProblem} />
      </Property>
      {answer.by.map((device, index) => {
        const { title, Fields } = settingsOfDevice(device.device);
        const leave = (
          <IconButton
            icon={X}
            label={`Not by ${title.toLowerCase()}`}
            className="!h-5 !w-6"
            onClick={() => setDevice(index, null)}
          />
        );
        return (
          <Section key={`${device.device} ${index}`} title={title} aside={answer.by.length > 1 && leave}>
            <Fields device={device} onChange={(next) => setDevice(index, next)} block={block} context={context} />
          </Section>
        );
      })}
      <Menu
        trigger={
          <button type="button" className="mt-1 text-sm font-semibold text-plumage">
            {answer.by.length > 0 ? "Another way to answer" : "Choose how it is given"}
          </button>
        }
      >
        {deviceNames.map((name) => (
          <MenuItem key={name} onSelect={() => set({ by: [...answer.by, deviceKind(name).make(itemsIn(block))] })}>
            {settingsOfDevice(name).offer}
          </MenuItem>
        ))}
      </Menu>
      <WindowFields block={block} answer={answer} set={set} />
      <RightFields block={block} answer={answer} context={context} set={set} />
      <MarkersOf block={block} at={{ on: "answer", answer: answer.id, how: "given" }} />
      <Troubles block={block} answer={answer} />
    </Margin>
  );
}

type SetAnswer = (change: Partial<AnswerSpec>) => void;

function WindowFields({ block, answer, set }: { block: Block; answer: AnswerSpec; set: SetAnswer }) {
  const scenes = block.scenes.map(({ id, name }) => [id, name] as const);
  return (
    <Section title="Window">
      <ChoiceLine
        says="Opens with"
        value={answer.opensWith}
        options={scenes}
        onChange={(opensWith) => set({ opensWith })}
      />
      <ChoiceLine
        says="Closes after"
        value={answer.closesWith}
        options={scenes}
        onChange={(closesWith) => set({ closesWith })}
      />
      <ChoiceLine
        says="Time from"
        value={answer.countsFrom ?? ""}
        options={[["", "its opening"], ...scenes.map(([id, name]) => [id, `the onset of ${name}`] as const)]}
        onChange={(scene) => set({ countsFrom: scene || undefined })}
      />
      <ChoiceLine
        says="Counts"
        value={answer.counts}
        options={[
          ["first", "the first answer"],
          ["last", "the last answer"],
        ]}
        onChange={(counts) => set({ counts, ...(counts === "last" ? { onAnswer: "stay" as const } : {}) })}
      />
      {answer.counts === "first" && (
        <ChoiceLine
          says="On answer"
          value={answer.onAnswer}
          options={[
            ["move-on", "move on at once"],
            ["stay", "stay until time is up"],
          ]}
          onChange={(onAnswer) => set({ onAnswer })}
        />
      )}
      <ChoiceLine
        says="Too early"
        value={answer.onEarly}
        options={[
          ["go-on", "record it and carry on"],
          ["end-window", "record it and close the window"],
        ]}
        onChange={(onEarly) => set({ onEarly })}
      />
    </Section>
  );
}

function RightFields({
  block,
  answer,
  context,
  set,
}: {
  block: Block;
  answer: AnswerSpec;
  context: Context;
  set: SetAnswer;
}) {
  const [first] = answer.by;
  const firstKey = first?.device === "keys" ? first.keys[0] : undefined;
  return (
    <Section title="Right answer">
      <Property label="Equals">
        {answer.right === undefined ? (
          <button
            type="button"
            className="text-sm font-semibold text-plumage"
            onClick={() => set({ right: firstKey === undefined || isBinding(firstKey) ? "" : firstKey })}
          >
            none, set one
          </button>
        ) : (
          <>
            <BindableControl<Scalar>
              label="right answer"
              value={answer.right}
              onChange={(right) => set({ right })}
              block={block}
              context={context}
              constant=""
            >
              {(value, change) => <TextField label="Right answer" value={String(value)} onChange={change} />}
            </BindableControl>
            <IconButton icon={X} label="No right answer" className="!w-6" onClick={() => set({ right: undefined })} />
          </>
        )}
      </Property>
      {answer.right !== undefined && (
        <ChoiceLine
          says="Compared"
          value={answer.match}
          options={[
            ["exact", "to the letter"],
            ["ignore-case", "ignoring case and outer spaces"],
            ["number", "as a number"],
            ["one-of", "one of several, separated by semicolons"],
          ]}
          onChange={(match) => set({ match })}
        />
      )}
      {answer.right !== undefined && answer.match === "number" && (
        <Property label="Off by up to" htmlFor="tolerance">
          <NumberField
            id="tolerance"
            value={answer.tolerance ?? 0}
            least={0}
            onChange={(tolerance) => set({ tolerance: tolerance || undefined })}
          />
        </Property>
      )}
    </Section>
  );
}

/** Preflight's findings on this answer, immediately. */
function Troubles({ block, answer }: { block: Block; answer: AnswerSpec }) {
  const troubles = useFindings().filter(
    ({ target, where }) => target.part === block.id && where.includes(`answer “${answer.name}”`),
  );
  return troubles.map(({ message, level }) => (
    <p
      key={message}
      className={`mt-3 text-sm ${level === "error" ? "text-alarm" : level === "warning" ? "text-chestnut" : "text-muted"}`}
    >
      {message}
    </p>
  ));
}
