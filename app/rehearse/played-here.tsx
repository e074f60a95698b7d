import { X } from "lucide-react";
import { Button } from "~/app/components/button";
import { useWidth } from "~/app/components/use-width";

/** The window a participant is supposed to have, made as small as the page has room for. */
const supposed = { width: 1280, height: 800 };

/** A rehearsal that is played in the page, by the player itself; it is recorded like one in a tab. */
export function PlayedHere({ address, onClose }: { address: string; onClose: () => void }) {
  const [box, width] = useWidth(607);
  const scale = width / supposed.width;
  return (
    <div ref={box} className="mt-3">
      <div className="overflow-hidden outline-1 outline outline-muted/60" style={{ height: supposed.height * scale }}>
        <iframe
          title="The study as it is rehearsed"
          src={address}
          allow="autoplay"
          className="origin-top-left border-0"
          style={{ ...supposed, transform: `scale(${scale})` }}
          // Keys go to the study at once.
          onLoad={({ currentTarget }) => currentTarget.focus()}
        />
      </div>
      <div className="mt-2 flex items-center gap-2 text-sm text-muted">
        <span className="shrink-0 rounded-md bg-chestnut-tint px-1.5 font-mono text-xs leading-5 text-chestnut">
          pilot data
        </span>
        A window of {supposed.width} × {supposed.height}. It pauses when you click beside it, as it does for
        participants.
        <span className="ml-auto" />
        <Button icon={X} look="quiet" onClick={onClose}>
          Close
        </Button>
      </div>
    </div>
  );
}
