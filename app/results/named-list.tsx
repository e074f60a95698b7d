import { useState, type ReactNode } from "react";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { Field } from "~/app/components/field";

/** One of a list of named things that a study keeps: what it is called, what it is in short, what can be done with it. */
export const ListCard = ({
  title,
  isColumn = false,
  says,
  isChosen,
  choose,
  menu,
}: {
  title: string;
  /** Whether the name is one of a column. */
  isColumn?: boolean;
  says: ReactNode;
  isChosen: boolean;
  choose: () => void;
  menu?: ReactNode;
}) => (
  <li className={`relative rounded-md border border-hairline ${isChosen ? "bg-plumage-tint" : "bg-sheet"}`}>
    <button
      type="button"
      aria-current={isChosen ? "true" : undefined}
      onClick={choose}
      className="block w-full rounded-md px-3 py-2 pr-9 text-left"
    >
      <b className={`block break-words text-sm ${isColumn ? "font-mono" : ""}`}>{title}</b>
      <span className="block text-xs text-muted">{says}</span>
    </button>
    {menu && <span className="absolute right-1 top-1.5">{menu}</span>}
  </li>
);

/** Asks what something is to be called, or whether it is to be removed. */
export function NamingDialog({
  title,
  description,
  does,
  name: called,
  most,
  hint,
  isBusy,
  reason,
  close,
  submit,
}: {
  title: string;
  description: string;
  /** What the button that does it says. */
  does: string;
  /** What it is called to begin with; null where it is removed. */
  name: string | null;
  /** How many characters a name has at most. */
  most: number;
  hint?: string;
  isBusy: boolean;
  reason: string | undefined;
  close: () => void;
  /** What is done with the name; an empty one where it is removed. */
  submit: (name: string) => void;
}) {
  const [name, setName] = useState(called ?? "");
  const isReady = called === null || name.trim() !== "";
  return (
    <Dialog open onOpenChange={close} title={title} description={description}>
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (isReady) submit(name.trim());
        }}
      >
        {called !== null && (
          <Field
            label="Name"
            value={name}
            maxLength={most}
            {...(hint === undefined ? {} : { hint })}
            onChange={({ target }) => setName(target.value)}
          />
        )}
        {reason !== undefined && (
          <p role="alert" className="text-sm text-alarm">
            {reason}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" look={called === null ? "alarm" : "primary"} disabled={!isReady || isBusy}>
            {does}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
