import { Trash2 } from "lucide-react";
import { useState } from "react";
import { Button, IconButton } from "./button";

/**
 * A button that removes something. If it is in use, the button first says where and asks; otherwise it goes at once.
 * Undo brings it back in both cases.
 */
export function RemoveUsed({ label, uses, onRemove }: { label: string; uses: string[]; onRemove: () => void }) {
  const [isAsking, setIsAsking] = useState(false);
  return (
    <>
      <IconButton
        icon={Trash2}
        label={uses.length > 0 ? `${label} (used in ${uses.length} ${uses.length === 1 ? "place" : "places"})` : label}
        onClick={() => (uses.length > 0 ? setIsAsking(true) : onRemove())}
      />
      {isAsking && (
        <div
          role="alert"
          className="absolute inset-x-3 top-11 z-10 grid gap-2 rounded-md border border-alarm bg-alarm-tint p-2 text-sm font-normal"
        >
          It is used in {uses.join("; ")}. Whatever takes its value from it would be left without one.
          <span className="flex gap-2">
            <Button
              look="alarm"
              onClick={() => {
                setIsAsking(false);
                onRemove();
              }}
            >
              Remove it anyway
            </Button>
            <Button onClick={() => setIsAsking(false)}>Keep it</Button>
          </span>
        </div>
      )}
    </>
  );
}
