import { useState } from "react";
import { useFetcher } from "react-router";
import { Button } from "~/app/components/button";
import { useDone } from "~/app/components/use-done";
import { Dialog } from "~/app/components/dialog";
import { linksFromPattern, linksFromText } from "~/core/collect/link-list";
import type { Wave } from "~/server/waves";

/** Makes links for one person each: from a list, or so many by a pattern. */
export function NewLinks({
  wave,
  open,
  onOpenChange,
}: {
  wave: Wave;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const making = useFetcher<{ reason?: string }>();
  const [name, setName] = useState("");
  const [way, setWay] = useState<"list" | "pattern">("list");
  const [text, setText] = useState("");
  const [pattern, setPattern] = useState("person-##");
  const [count, setCount] = useState("40");
  const [isTried, setTried] = useState(false);
  const list = way === "list" ? linksFromText(text) : linksFromPattern(pattern, Number(count));
  const problem = name.trim() === "" ? "Name them, for example by the course." : list.ok ? null : list.problem;
  useDone(making, () => {
    onOpenChange(false);
    setName("");
    setText("");
    setTried(false);
  });
  const make = () => {
    setTried(true);
    if (problem !== null || !list.ok) return;
    void making.submit({ do: "add-links", wave: wave.id, label: name.trim(), links: list.links } as never, {
      method: "post",
      encType: "application/json",
    });
  };
  return (
    <Dialog
      wide
      open={open}
      onOpenChange={onOpenChange}
      title={`Links in ${wave.plan.name}, one a person`}
      description="Each can be used by one person, once. Who has the link goes on by it, also at another computer."
    >
      <label className="grid gap-0.5 text-sm text-muted">
        What they are called together
        <input
          autoFocus
          className="field max-w-sm"
          maxLength={80}
          value={name}
          placeholder="Students of course B"
          onChange={({ target }) => setName(target.value)}
        />
      </label>
      <fieldset className="flex gap-5 text-sm">
        <legend className="sr-only">Where their names come from</legend>
        {(
          [
            ["list", "a name for each, from a list"],
            ["pattern", "so many, numbered"],
          ] as const
        ).map(([value, words]) => (
          <label key={value} className="flex items-center gap-2">
            <input
              type="radio"
              name="way"
              className="accent-(--plumage)"
              checked={way === value}
              onChange={() => setWay(value)}
            />
            {words}
          </label>
        ))}
      </fieldset>
      {way === "list" ? (
        <label className="grid gap-0.5 text-sm text-muted">
          A name a line; after a comma or tab what you note of it, which no participant sees
          <textarea
            rows={8}
            className="field !h-auto py-1 font-mono text-xs"
            value={text}
            onChange={({ target }) => setText(target.value)}
          />
        </label>
      ) : (
        <div className="flex gap-3 text-sm text-muted">
          <label className="grid gap-0.5">
            How many
            <input
              className="field !w-24"
              inputMode="numeric"
              value={count}
              onChange={({ target }) => setCount(target.value)}
            />
          </label>
          <label className="grid gap-0.5">
            Called, with # for each digit of the number
            <input
              className="field !w-64 font-mono !text-xs"
              value={pattern}
              onChange={({ target }) => setPattern(target.value)}
            />
          </label>
        </div>
      )}
      <p className="text-sm text-muted">
        {list.ok &&
          (list.links.length === 1
            ? `One link: ${list.links[0]?.label}.`
            : `${list.links.length} links: ${list.links[0]?.label} to ${list.links.at(-1)?.label}.`)}
      </p>
      {isTried && problem !== null && (
        <p role="alert" className="text-alarm">
          {problem}
        </p>
      )}
      {making.data?.reason && (
        <p role="alert" className="text-alarm">
          {making.data.reason}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={() => onOpenChange(false)}>Not now</Button>
        <Button look="primary" disabled={making.state !== "idle"} onClick={make}>
          Make the links
        </Button>
      </div>
    </Dialog>
  );
}
