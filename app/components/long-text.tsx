import { Maximize2 } from "lucide-react";
import { useState } from "react";
import { refusalOf } from "~/app/editing/refused";
import { Button, IconButton } from "./button";
import { Dialog } from "./dialog";

/** A way from a small field to a large one, for texts longer than a line. */
export function LongText({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
}) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState(value);
  const [refused, setRefused] = useState<string | null>(null);
  return (
    <>
      <IconButton
        icon={Maximize2}
        label={`Write ${label} in a larger field`}
        className="!w-6 shrink-0"
        onClick={() => {
          setTyped(value);
          setOpen(true);
        }}
      />
      <Dialog open={open} onOpenChange={setOpen} wide title={label}>
        <textarea
          aria-label={label}
          className="field h-[46vh] !text-base leading-6"
          value={typed}
          autoFocus
          onChange={({ target }) => {
            setTyped(target.value);
            setRefused(refusalOf(() => onChange(target.value)));
          }}
        />
        <p className="flex items-center gap-3 text-sm text-muted">
          {typed.length.toLocaleString("en")} characters,{" "}
          {typed.split(/\s+/).filter(Boolean).length.toLocaleString("en")} words
          {refused && (
            <span role="alert" className="text-alarm">
              {refused}
            </span>
          )}
          <span className="ml-auto">
            <Button look="primary" onClick={() => setOpen(false)}>
              Done
            </Button>
          </span>
        </p>
      </Dialog>
    </>
  );
}
