import { Trash2, X } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { useFindings, useStudy } from "~/app/editing/use-study";
import { removeAnswer, setAnswer } from "~/core/design/edits/scenes";
import { columnStem } from "~/core/design/names";
import { isBinding, type AnswerDevice, type AnswerSpec, type Block } from "~/core/design/types";
import type { Context } from "~/core/run/resolve";
import { Margin } from "../margin";
import { BindableControl, Choice, NumberField, Property, Section, TextField } from "../property";
import { deviceKinds, freshDevice, kindOfDevice } from "./registry";

export function AnswerSettings({ block, answer, context }: { block: Block; answer: AnswerSpec; context: Context }) {
  const { edit, look } = useStudy();
  const set = (change: Partial<AnswerSpec>) => edit(setAnswer(block.id, answer.id, change), `answer ${answer.id}`);
  const setDevice = (at: number, device: AnswerDevice | null) =>
    set({ by: answer.by.flatMap((each, index) => (index !== at ? [each] : device ? [device] : [])) });
  const nameProblem = (name: string) =>
    !name.trim()
      ? "An answer needs a name."
      : block.answers.some((each) => each !== answer && columnStem(each.name) === columnStem(name))
        ? "This name is used already: each answer has a name of its own, since it names columns of the data."
        : null;
  return (
    <Margin
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
        const { title, Fields } = kindOfDevice(device.device);
        return (
          <div key={`${device.device} ${index}`} className="relative">
            <Section title={title}>
              <Fields device={device} onChange={(next) => setDevice(index, next)} block={block} context={context} />
            </Section>
            {answer.by.length > 1 && (
              <IconButton
                icon={X}
                label={`Not by ${title.toLowerCase()}`}
                className="absolute right-0 top-2 !h-6 !w-6"
                onClick={() => setDevice(index, null)}
              />
            )}
          </div>
        );
      })}
      <Menu
        trigger={
          <button type="button" className="mt-1 text-sm font-semibold text-plumage">
            {answer.by.length > 0 ? "Another way to answer" : "Choose how it is given"}
          </button>
        }
      >
        {deviceKinds.map((kind) => (
          <MenuItem key={kind} onSelect={() => set({ by: [...answer.by, freshDevice(kind, block)] })}>
            {kindOfDevice(kind).offer}
          </MenuItem>
        ))}
      </Menu>
      <WindowFields block={block} answer={answer} set={set} />
      <RightFields block={block} answer={answer} context={context} set={set} />
      <Troubles block={block} answer={answer} />
    </Margin>
  );
}

type SetAnswer = (change: Partial<AnswerSpec>) => void;

function WindowFields({ block, answer, set }: { block: Block; answer: AnswerSpec; set: SetAnswer }) {
  const scenes = block.scenes.map(({ id, name }) => [id, name] as const);
  return (
    <Section title="Window">
      <Property label="Opens with" htmlFor="opens">
        <Choice id="opens" value={answer.opensWith} options={scenes} onChange={(opensWith) => set({ opensWith })} />
      </Property>
      <Property label="Closes after" htmlFor="closes">
        <Choice id="closes" value={answer.closesWith} options={scenes} onChange={(closesWith) => set({ closesWith })} />
      </Property>
      <Property label="Time from" htmlFor="counts-from">
        <Choice
          id="counts-from"
          value={answer.countsFrom ?? ""}
          options={[["", "its opening"], ...scenes.map(([id, name]) => [id, `the onset of ${name}`] as const)]}
          onChange={(scene) => set({ countsFrom: scene || undefined })}
        />
      </Property>
      <Property label="Counts" htmlFor="counts">
        <Choice
          id="counts"
          value={answer.counts}
          options={[
            ["first", "the first answer"],
            ["last", "the last answer"],
          ]}
          onChange={(counts) => set({ counts, ...(counts === "last" ? { onAnswer: "stay" as const } : {}) })}
        />
      </Property>
      {answer.counts === "first" && (
        <Property label="On answer" htmlFor="on-answer">
          <Choice
            id="on-answer"
            value={answer.onAnswer}
            options={[
              ["move-on", "move on at once"],
              ["stay", "stay until the time is over"],
            ]}
            onChange={(onAnswer) => set({ onAnswer })}
          />
        </Property>
      )}
      <Property label="Too early" htmlFor="on-early">
        <Choice
          id="on-early"
          value={answer.onEarly}
          options={[
            ["go-on", "recorded, and it goes on"],
            ["end-window", "recorded, and the window ends"],
          ]}
          onChange={(onEarly) => set({ onEarly })}
        />
      </Property>
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
            <IconButton icon={X} label="No right answer" className="!w-6" onClick={() => set({ right: undefined })} />
          </>
        )}
      </Property>
      {answer.right !== undefined && (
        <Property label="Compared" htmlFor="match">
          <Choice
            id="match"
            value={answer.match}
            options={[
              ["exact", "to the letter"],
              ["ignore-case", "without case and outer spaces"],
              ["number", "as a number"],
              ["one-of", "one of several; by semicolons"],
            ]}
            onChange={(match) => set({ match })}
          />
        </Property>
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

/** What preflight says of this answer, at once. */
function Troubles({ block, answer }: { block: Block; answer: AnswerSpec }) {
  const troubles = useFindings().filter(
    ({ place, where }) => place.part === block.id && where.includes(`answer “${answer.name}”`),
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
