import { useState } from "react";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Dialog } from "~/app/components/dialog";
import { subjectOfPath, valueInWords } from "~/core/describe/differences";
import { useStudy } from "./use-study";

/** Whether the work is saved, in a few words; opens the dialog when a decision is needed. */
export function SaveNote() {
  const { save, conflicts } = useStudy();
  const [showMistakes, setShowMistakes] = useState(false);
  const [showConflicts, setShowConflicts] = useState(false);
  const note = "text-sm whitespace-nowrap";
  return (
    <>
      {conflicts.length > 0 && (
        <button
          type="button"
          className={`${note} font-semibold text-chestnut underline`}
          onClick={() => setShowConflicts(true)}
        >
          Also changed elsewhere: {conflicts.length} to look at
        </button>
      )}
      <span role="status" data-save={save.kind}>
        {save.kind === "saved" && conflicts.length === 0 && (
          <span className={`${note} text-muted`}>
            Saved <When iso={save.at} form="time" />
          </span>
        )}
        {save.kind === "saving" && <span className={`${note} text-muted`}>Saving…</span>}
        {save.kind === "waiting" && (
          <span
            className={`${note} font-semibold text-chestnut`}
            title="The server cannot be reached. Your edits are kept on this computer and sent as soon as it is back."
          >
            Kept here, trying again
          </span>
        )}
        {save.kind === "signed-out" && (
          <a
            href="/sign-in"
            target="_blank"
            rel="noreferrer"
            className={`${note} font-semibold text-chestnut underline`}
          >
            Signed out; edits are kept here. Sign in
          </a>
        )}
        {save.kind === "refused" && (
          <button
            type="button"
            className={`${note} font-semibold text-alarm underline`}
            onClick={() => setShowMistakes(true)}
          >
            Not saved: see why
          </button>
        )}
      </span>
      <Dialog
        open={showMistakes && save.kind === "refused"}
        onOpenChange={setShowMistakes}
        title="The last change is not saved"
        description="The study would not be valid with it. Mend it or undo; your work stays in this window."
      >
        <ul className="list-disc pl-5">
          {save.kind === "refused" && save.mistakes.map((mistake) => <li key={mistake}>{mistake}</li>)}
        </ul>
      </Dialog>
      <Conflicts open={showConflicts && conflicts.length > 0} onOpenChange={setShowConflicts} />
    </>
  );
}

/** The values that were set here and elsewhere at the same time, to take either. */
function Conflicts({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { conflicts, document, editor } = useStudy();
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Changed here and elsewhere"
      description="Another tab or person changed the same thing while you did. Your value stands until you take the other; undo and the history bring either back."
    >
      <ul className="grid gap-3">
        {conflicts.map((conflict) => (
          <li key={conflict.path.join(" ")} className="grid gap-1 border-t border-hairline pt-2">
            <b>{subjectOfPath(document, conflict.path)}</b>
            <span className="flex items-center justify-between gap-3">
              <span>
                here: <q>{valueInWords(conflict.mine)}</q>
              </span>
              <Button onClick={() => editor.settle(conflict, "mine")}>Keep this</Button>
            </span>
            <span className="flex items-center justify-between gap-3">
              <span>
                elsewhere: <q>{valueInWords(conflict.theirs)}</q>
              </span>
              <Button onClick={() => editor.settle(conflict, "theirs")}>Take this</Button>
            </span>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
