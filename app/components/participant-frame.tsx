import { useEffect, useRef, useState } from "react";
import type { PreviewMessage, TimeMessage } from "~/player/preview";

/**
 * A page as participants see it, drawn by the player in a frame of its own. `zoom` is how large it is shown: 1 as on the
 * participant's screen, less to see more of it.
 */
export function ParticipantFrame({
  shows: { entry, page },
  label,
  zoom,
  className = "",
  isTried = false,
  at,
}: {
  shows: PreviewMessage;
  label: string;
  zoom: number;
  className?: string;
  /** What it shows can be filled in; else it is for viewing only. */
  isTried?: boolean;
  /** The time of the session that is shown, in ms from its start. */
  at?: number;
}) {
  const frame = useRef<HTMLIFrameElement>(null);
  const [isReady, setReady] = useState(false);
  useEffect(() => {
    const listen = ({ origin, source, data }: MessageEvent) => {
      if (origin === location.origin && source === frame.current?.contentWindow && data === "ready") setReady(true);
    };
    addEventListener("message", listen);
    return () => removeEventListener("message", listen);
  }, []);
  useEffect(() => {
    if (isReady) frame.current?.contentWindow?.postMessage({ entry, page } satisfies PreviewMessage, location.origin);
  }, [isReady, entry, page]);
  useEffect(() => {
    if (isReady && at !== undefined)
      frame.current?.contentWindow?.postMessage({ at } satisfies TimeMessage, location.origin);
  }, [isReady, at]);
  const size = `${100 / zoom}%`;
  return (
    <div className={`overflow-hidden border border-hairline ${className}`}>
      <iframe
        ref={frame}
        title={label}
        src="/participant-preview"
        {...(isTried ? {} : { tabIndex: -1 })}
        className="origin-top-left border-0"
        style={{ width: size, height: size, transform: `scale(${zoom})` }}
      />
    </div>
  );
}
