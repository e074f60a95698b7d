import { LockOpen, Pause, Trash2 } from "lucide-react";
import { useId, useState } from "react";
import { useFetcher } from "react-router";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { namedWithin, TextField } from "~/app/components/fields";
import { Sentence, SentenceChoice, SentenceMore, SentenceNumber } from "~/app/components/sentence";
import type { WavePlan } from "~/core/collect/wave";
import type { Release } from "~/server/releases";
import type { Wave } from "~/server/waves";
import { SpanChoice } from "./moment-field";
import { useChosen } from "./use-chosen";

const asJson = { method: "post", encType: "application/json" } as const;

/** A wave: what it is called, which release it runs, when, how many are wanted, and whether it is open. */
export function WavePanel({
  wave,
  releases,
  hasSessions,
  hasSittings,
  isOnly,
}: {
  wave: Wave;
  releases: readonly Release[];
  hasSessions: boolean;
  /** People come several times, and are counted by their first sitting. */
  hasSittings: boolean;
  isOnly: boolean;
}) {
  const {
    value: plan,
    save,
    without,
    reason,
  } = useChosen(wave.plan, (next) => ({
    do: "set-wave",
    wave: wave.id,
    plan: next,
  }));
  const changing = useFetcher<{ reason?: string }>();
  const sent = changing.json as { release?: string } | undefined;
  const change = (what: object) => void changing.submit({ do: "set-wave", wave: wave.id, ...what }, asJson);
  const [isNoting, setNoting] = useState(false);
  const notesId = useId();
  const runs = sent?.release ?? wave.releaseId;
  const newest = releases[0];
  const running = releases.find(({ id }) => id === runs);
  return (
    <section aria-label={`Wave ${plan.name}`} className="rounded-md border border-hairline bg-sheet px-4 py-2.5">
      <Sentence>
        <span className="inline-block w-44 align-baseline font-sans text-[13px]">
          <TextField
            label="Name of the wave"
            value={plan.name}
            problem={namedWithin(80)}
            onChange={(name) => save({ name: name.trim() })}
          />
        </span>
        {" runs "}
        <SentenceChoice
          label="Release it runs"
          value={runs}
          options={releases.map(({ id, number }) => [id, `release ${number}`] as const)}
          onChange={(release) => change({ release })}
        />{" "}
        <SpanChoice
          of="wave"
          from={plan.from}
          until={plan.until}
          setFrom={(moment) => (moment ? save({ from: moment }) : without("from"))}
          setUntil={(moment) => (moment ? save({ until: moment }) : without("until"))}
        />
        {", for "}
        <SentenceChoice
          label="Wanted"
          value={plan.target === undefined ? "any" : "so-many"}
          options={[
            ["any", "however many come"],
            ["so-many", hasSittings ? "so many with a finished first sitting:" : "so many finished sessions:"],
          ]}
          onChange={(kind) => (kind === "any" ? without("target") : save({ target: 100 }))}
        />
        {plan.target !== undefined && <Target plan={plan} target={plan.target} save={save} />}
        {". Groups and orders are filled evenly "}
        <SentenceChoice
          label="Places are counted"
          value={plan.places}
          options={[
            ["study", "over all waves"],
            ["wave", "within this wave"],
          ]}
          onChange={(places) => save({ places })}
        />
        .
        <SentenceMore isOpen={isNoting} opens={notesId} onClick={() => setNoting(!isNoting)}>
          {plan.notes.trim() === "" ? "Notes of the team" : `Notes: ${plan.notes.trim().slice(0, 60)}`}
        </SentenceMore>
      </Sentence>
      {[reason, changing.data?.reason].filter(Boolean).map((each) => (
        <p key={each} role="alert" className="mt-1 text-sm text-alarm">
          {each}
        </p>
      ))}
      {running && newest && running.number < newest.number && (
        <p className="mt-1 text-sm text-chestnut">
          Release {newest.number} is newer. Where the wave moves to it, sessions that have begun keep theirs.
        </p>
      )}
      {wave.state !== "open" && (
        <p className="mt-1 text-sm text-chestnut">
          {wave.state === "paused" ? "Paused" : "Closed"}: no one can begin in this wave. Sessions that have begun can
          go on. {wave.says.trim() !== "" && `Whoever comes reads: “${wave.says.trim()}”`}
        </p>
      )}
      {!hasSessions && !isOnly && (
        <Button
          icon={Trash2}
          look="quiet"
          className="mt-1 !px-0"
          onClick={() => void changing.submit({ do: "remove-wave", wave: wave.id }, asJson)}
        >
          Remove this wave
        </Button>
      )}
      {isNoting && (
        <label id={notesId} className="mt-1 block text-sm text-muted">
          For the team; no participant sees them
          <textarea
            rows={3}
            maxLength={2000}
            defaultValue={plan.notes}
            className="field !h-auto w-full max-w-2xl py-1"
            onBlur={({ target }) => target.value !== plan.notes && save({ notes: target.value })}
          />
        </label>
      )}
    </section>
  );
}

type TargetProps = { plan: WavePlan; target: number; save: (change: Partial<WavePlan>) => void };

function Target({ plan, target, save }: TargetProps) {
  return (
    <>
      {" "}
      <SentenceNumber
        label="Wanted sessions"
        value={target}
        whole
        least={1}
        most={1_000_000}
        onChange={(count) => save({ target: count })}
      />
      {", and "}
      <SentenceChoice
        label="At the target"
        value={plan.closes}
        options={[
          ["finished", "closes itself when so many have finished"],
          ["under-way", "lets no more in than those under way leave room for"],
          ["by-hand", "stays open then"],
        ]}
        onChange={(closes) => save({ closes })}
      />
    </>
  );
}

/** Pauses or closes a wave at once, with what people read who come meanwhile; or opens it again. */
export function WaveSwitch({ wave }: { wave: Wave }) {
  const changing = useFetcher();
  const [isAsked, setAsked] = useState(false);
  const [state, setState] = useState<"paused" | "closed">("paused");
  const [says, setSays] = useState(wave.says);
  const change = (what: object) => void changing.submit({ do: "set-wave", wave: wave.id, ...what }, asJson);
  if (wave.state !== "open")
    return (
      <Button icon={LockOpen} onClick={() => change({ state: "open" })}>
        Open the wave again
      </Button>
    );
  return (
    <>
      <Button
        icon={Pause}
        onClick={() => {
          setSays(wave.says);
          setAsked(true);
        }}
      >
        Pause or close
      </Button>
      <Dialog
        open={isAsked}
        onOpenChange={setAsked}
        title={`Pause or close ${wave.plan.name}`}
        description="Nobody can begin by any of its links any more, from now on. Who has begun can go on."
      >
        <fieldset className="grid gap-1.5">
          <legend className="sr-only">For how long</legend>
          {(
            [
              ["paused", "Pause: it is to be opened again"],
              ["closed", "Close: collecting in this wave is over"],
            ] as const
          ).map(([value, words]) => (
            <label key={value} className="flex items-center gap-2">
              <input
                type="radio"
                name="wave-state"
                className="accent-(--plumage)"
                checked={state === value}
                onChange={() => setState(value)}
              />
              {words}
            </label>
          ))}
        </fieldset>
        <label className="grid gap-0.5 text-sm text-muted">
          What people read who come meanwhile
          <textarea
            rows={3}
            maxLength={1000}
            value={says}
            placeholder="Said in the study’s language, unless you write it here"
            className="field !h-auto py-1"
            onChange={({ target }) => setSays(target.value)}
          />
        </label>
        <div className="flex justify-end gap-2">
          <Button onClick={() => setAsked(false)}>Not now</Button>
          <Button
            look="primary"
            onClick={() => {
              setAsked(false);
              change({ state, says });
            }}
          >
            {state === "paused" ? "Pause it now" : "Close it now"}
          </Button>
        </div>
      </Dialog>
    </>
  );
}
