import { useState } from "react";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Dialog } from "~/app/components/dialog";
import { differencesInWords } from "~/core/design/differences";
import type { StudyDocument } from "~/core/design/types";
import { useStudy } from "./use-study";

/** Whether the work is saved, in a few words; opens what needs a decision. */
export function SaveNote() {
  const { save, editor, document } = useStudy();
  const [showMistakes, setShowMistakes] = useState(false);
  const note = "text-sm whitespace-nowrap";
  return (
    <>
      <span role="status" data-save={save.kind}>
        {save.kind === "saved" && (
          <span className={`${note} text-muted`}>
            Saved <When iso={save.at} form="time" />
          </span>
        )}
        {save.kind === "saving" && <span className={`${note} text-muted`}>Saving…</span>}
        {save.kind === "waiting" && (
          <span
            className={`${note} font-semibold text-chestnut`}
            title="The server cannot be reached. Your edits are kept in this window and sent again; leave it open."
          >
            Not saved yet, trying again
          </span>
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
        {save.kind === "conflict" && <span className={`${note} font-semibold text-alarm`}>Changed elsewhere</span>}
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
      <Dialog
        open={save.kind === "conflict"}
        onOpenChange={() => undefined}
        title="This study was changed elsewhere"
        mustChoose
        description="Another tab or person saved it since you opened it here. Nothing has been overwritten: choose which version goes on. The other can be brought back with undo."
      >
        {save.kind === "conflict" && (
          <div className="grid grid-cols-2 gap-3">
            <Version
              title="In this window"
              document={document}
              other={save.theirs}
              button="Go on with this one"
              onTake={() => editor.settle("mine")}
            />
            <Version
              title="Saved elsewhere"
              document={save.theirs}
              other={document}
              button="Take this one"
              onTake={() => editor.settle("theirs")}
            />
          </div>
        )}
      </Dialog>
    </>
  );
}

function Version({
  title,
  document,
  other,
  button,
  onTake,
}: {
  title: string;
  document: StudyDocument;
  other: StudyDocument;
  button: string;
  onTake: () => void;
}) {
  const beyondTitle = differencesInWords({ ...other, title: document.title }, document);
  const same = other.title === document.title ? "Nothing differs." : "Only the title differs.";
  return (
    <section className="grid content-start gap-2 rounded-md border border-hairline p-3">
      <h3 className="font-semibold">{title}</h3>
      <p className="font-serif text-[16px]">{document.title}</p>
      <p className="text-sm text-muted">
        {beyondTitle.length === 0 ? same : `Against the other one: ${beyondTitle.join(" ")}`}
      </p>
      <Button look="primary" onClick={onTake}>
        {button}
      </Button>
    </section>
  );
}
