import { Snowflake } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { useFetcher } from "react-router";
import { toast } from "sonner";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { Tick } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { preflight } from "~/core/check/preflight";
import type { Finding } from "~/core/check/finding";
import type { Release } from "~/server/releases";
import type { Wave } from "~/server/waves";

/** So many changes are told one by one. */
const mostTold = 8;

type Props = {
  newest: Release | undefined;
  /** What changed since the newest release, in words; null while that is not known. */
  changes: readonly string[] | null;
  waves: readonly Wave[];
  /** Waves in which sessions were begun. */
  begun: readonly string[];
};

/** Freezing the study as it is saved: shows what goes into it first, and asks which waves are to run it. */
export function Freeze({ newest, changes, waves, begun }: Props) {
  const { document, editor } = useStudy();
  const freezing = useFetcher<{ findings: Pick<Finding, "where" | "message">[] }>();
  const findings = useMemo(() => preflight(document), [document]);
  const errors = findings.filter(({ level }) => level === "error").length;
  const [isAsked, setAsked] = useState(false);
  const [waits, setWaits] = useState(false);
  const [note, setNote] = useState("");
  const [moved, setMoved] = useState<readonly string[]>([]);
  const isHere = useRef(true);
  useEffect(() => {
    isHere.current = true;
    return () => void (isHere.current = false);
  }, []);
  const open = waves.filter(({ state }) => state !== "closed");
  const isSame = newest !== undefined && changes !== null && changes.length === 0;
  const ask = () => {
    setNote("");
    // A wave that nobody has begun in runs what is newest; where data were collected, that is for the team to say.
    setMoved(open.filter(({ id }) => !begun.includes(id)).map(({ id }) => id));
    setAsked(true);
  };
  const freeze = async () => {
    setAsked(false);
    setWaits(true);
    const isSaved = await editor.whenSaved();
    // Whoever has left meanwhile may have gone on changing the study, and is not here to see what is released.
    if (!isHere.current) return;
    setWaits(false);
    if (isSaved)
      void freezing.submit(
        { do: "freeze", note: note.trim(), waves: [...moved] },
        { method: "post", encType: "application/json" },
      );
    else toast.error("The server refuses the last change, so nothing was released. Undo it, or see “Not saved” above.");
  };
  const number = (newest?.number ?? 0) + 1;
  return (
    <>
      <Button
        icon={Snowflake}
        {...(newest ? {} : { look: "primary" as const, className: "mt-4" })}
        disabled={errors > 0 || waits || freezing.state !== "idle"}
        onClick={ask}
      >
        {waits ? "Saving first …" : "Release this version"}
      </Button>
      {(freezing.data?.findings ?? []).map(({ where, message }) => (
        <p key={where + message} role="alert" className="mt-2 text-sm text-alarm">
          {where}: {message}
        </p>
      ))}
      <Dialog
        open={isAsked}
        onOpenChange={setAsked}
        title={isSame ? `Nothing has changed since release ${newest.number}` : `Release ${number}`}
        description={
          isSame
            ? "Another release would be the same study under a new number."
            : "The study is frozen as it stands now: what participants play of it does not change any more."
        }
      >
        {newest && changes && changes.length > 0 && (
          <div>
            <h3 className="font-semibold">What changed since release {newest.number}</h3>
            <Changes sentences={changes} />
          </div>
        )}
        {!isSame && (
          <label className="grid gap-0.5 text-sm text-muted">
            {newest ? "In your own words, instead of the list above" : "What is to be said of it, for the team"}
            <input className="field" maxLength={500} value={note} onChange={({ target }) => setNote(target.value)} />
          </label>
        )}
        {findings.length > 0 && (
          <div>
            <h3 className="font-semibold">What preflight notes; it is accepted under your name</h3>
            <ul className="mt-1 max-h-36 list-disc overflow-auto pl-5 text-sm text-muted">
              {findings.map(({ where, message }) => (
                <li key={where + message}>
                  {where}: {message}
                </li>
              ))}
            </ul>
          </div>
        )}
        {newest && open.length > 0 && (
          <fieldset className="grid gap-1">
            <legend className="font-semibold">Waves that run it from now on</legend>
            {open.map(({ id, plan }) => (
              <Tick
                key={id}
                checked={moved.includes(id)}
                onChange={(on) => setMoved(on ? [...moved, id] : moved.filter((each) => each !== id))}
              >
                {plan.name}
                {begun.includes(id) && ", sessions that have begun keep theirs"}
              </Tick>
            ))}
          </fieldset>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={() => setAsked(false)}>Not now</Button>
          <Button look="primary" onClick={() => void freeze()}>
            {isSame ? "Release it all the same" : "Release it"}
          </Button>
        </div>
      </Dialog>
    </>
  );
}

/** What changed, one by one as far as that is not too much. */
export const Changes = ({ sentences }: { sentences: readonly string[] }) => (
  <ul className="mt-1 list-disc pl-5 text-sm text-muted">
    {sentences.slice(0, mostTold).map((each, index) => (
      <li key={index}>{each}</li>
    ))}
    {sentences.length > mostTold && <li>and {sentences.length - mostTold} more</li>}
  </ul>
);
