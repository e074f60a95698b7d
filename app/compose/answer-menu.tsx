import { CornerDownLeft, Plus } from "lucide-react";
import { useState } from "react";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { Field } from "~/app/components/field";
import { Menu, MenuItem } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { newAnswer, type AnswerSpec } from "~/core/design/answer";
import type { Block } from "~/core/design/block";
import { together } from "~/core/design/edits/edit";
import { addAnswer, setAnswer } from "~/core/design/edits/scenes";
import type { DeviceName } from "~/core/devices/registry";
import { columnStem, freeTitle } from "~/core/values/names";

/** What an answer given so is often called. */
const suggested: Partial<Record<DeviceName, string>> = {
  keys: "choice",
  pointer: "choice",
  typed: "text",
  slider: "rating",
};

/** Selects the block's answer, or offers them where there are several; adds one. */
export function AnswerMenu({ block }: { block: Block }) {
  const { edit, look } = useStudy();
  const [naming, setNaming] = useState(false);
  const add = (first?: { id: string; name: string }) => {
    const last = block.scenes.at(-1);
    if (!last) return;
    const others = block.answers.map((each) => (each.id === first?.id ? first.name : each.name));
    const name = others.length === 0 ? "answer" : freeTitle("second", others);
    const answer = { ...newAnswer(last.id, last.id, newId), name };
    edit(
      together(...(first ? [setAnswer(block.id, first.id, { name: first.name })] : []), addAnswer(block.id, answer)),
    );
    look({ selected: { kind: "answer", answer: answer.id } });
  };
  const button = (
    <Button icon={CornerDownLeft} look="quiet" onClick={block.answers.length === 0 ? () => add() : undefined}>
      <span className="tight:sr-only">Answer</span>
    </Button>
  );
  const [only] = block.answers;
  if (!only) return button;
  const asks = block.answers.length === 1 && only.name === "answer";
  return (
    <>
      <Menu align="end" trigger={button}>
        {block.answers.map(({ id, name }) => (
          <MenuItem key={id} onSelect={() => look({ selected: { kind: "answer", answer: id } })}>
            {name}
          </MenuItem>
        ))}
        <MenuItem onSelect={() => (asks ? setNaming(true) : add())}>
          <Plus size={14} aria-hidden="true" /> Another answer
        </MenuItem>
      </Menu>
      <Dialog
        open={naming}
        onOpenChange={setNaming}
        title="What is the first answer called?"
        description="With several answers, the columns of each in the data begin with its name."
      >
        <FirstName
          answer={only}
          onName={(name) => {
            setNaming(false);
            add({ id: only.id, name });
          }}
        />
      </Dialog>
    </>
  );
}

function FirstName({ answer, onName }: { answer: AnswerSpec; onName: (name: string) => void }) {
  const [device] = answer.by;
  const [name, setName] = useState((device && suggested[device.device]) ?? "first");
  const problem =
    name.trim() === "" ? "An answer needs a name." : name.length > 60 ? "A name has at most 60 characters." : undefined;
  const stem = columnStem(name);
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!problem) onName(name.trim());
      }}
    >
      <Field
        label="Name of the first answer"
        autoFocus
        value={name}
        onChange={({ target }) => setName(target.value)}
        {...(problem ? { problem } : { hint: `${stem}_answer, ${stem}_is_right, ${stem}_rt_ms …` })}
      />
      <div className="flex justify-end">
        <Button type="submit" look="primary" disabled={problem !== undefined}>
          Add the second answer
        </Button>
      </div>
    </form>
  );
}
