import { Plus } from "lucide-react";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { useStudy } from "~/app/editing/use-study";
import type { Release } from "~/server/releases";
import type { Wave } from "~/server/waves";

type Props = { waves: readonly Wave[]; chosen: string; onChoose: (wave: string) => void; newest: Release };

/** The waves of a study, and a way to make another. */
export function WaveTabs({ waves, chosen, onChoose, newest }: Props) {
  const [isMaking, setMaking] = useState(false);
  const { may } = useStudy();
  return (
    <div role="group" aria-label="Waves" className="flex flex-wrap items-center gap-1">
      {waves.map(({ id, plan, state }) => (
        <button
          key={id}
          type="button"
          aria-pressed={id === chosen}
          onClick={() => onChoose(id)}
          className={`h-[32px] rounded-md border px-2.5 ${id === chosen ? "border-hairline bg-sheet font-semibold" : "border-transparent text-muted hover:text-ink"}`}
        >
          {plan.name}
          {state !== "open" && <span className="ml-1.5 text-xs text-chestnut">{state}</span>}
        </button>
      ))}
      {may("hand-out") && (
        <Button icon={Plus} look="quiet" onClick={() => setMaking(true)}>
          Wave
        </Button>
      )}
      <NewWave newest={newest} open={isMaking} onOpenChange={setMaking} onMade={onChoose} />
    </div>
  );
}

type NewProps = {
  newest: Release;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  onMade: (wave: string) => void;
};

function NewWave({ newest, open, onOpenChange, onMade }: NewProps) {
  const making = useFetcher<{ reason?: string; made?: string }>();
  const [name, setName] = useState("");
  const made = making.state === "idle" ? making.data?.made : undefined;
  useEffect(() => {
    if (made === undefined) return;
    onOpenChange(false);
    setName("");
    onMade(made);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each that was made
  }, [made]);
  const make = () =>
    name.trim() !== "" &&
    void making.submit(
      { do: "add-wave", release: newest.id, name: name.trim() },
      { method: "post", encType: "application/json" },
    );
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Another wave"
      description={`A period or a sample whose data stand together, such as a course or a retest. It runs release ${newest.number}, with an open link of its own; both can be changed.`}
    >
      <label className="grid gap-0.5 text-sm text-muted">
        What it is called
        <input
          autoFocus
          className="field"
          maxLength={80}
          value={name}
          placeholder="Autumn course"
          onChange={({ target }) => setName(target.value)}
          onKeyDown={({ key }) => key === "Enter" && make()}
        />
      </label>
      {making.data?.reason && (
        <p role="alert" className="text-alarm">
          {making.data.reason}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={() => onOpenChange(false)}>Not now</Button>
        <Button look="primary" disabled={name.trim() === "" || making.state !== "idle"} onClick={make}>
          Make the wave
        </Button>
      </div>
    </Dialog>
  );
}
