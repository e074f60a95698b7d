import { useEffect, useState } from "react";
import { withChanges, type LiveChanges } from "./live-changes";

type State = { sessions: Readonly<Record<string, unknown>>; order: readonly string[] };

/** A server that is away, or refuses, is asked again after so long, in ms. */
const againMs = 4000;

/**
 * What an address tells of, event by event, while the page is visible. Starts with what the page was loaded with, and over
 * whenever it is loaded anew. `isLost`: nothing comes in just now, so that it may be old.
 */
export function useLive<Data extends State>(address: string, loaded: Data): { data: Data; isLost: boolean } {
  const [live, setLive] = useState<{ data: Data; instead: Data } | null>(null);
  const [isLost, setLost] = useState(false);
  useEffect(() => {
    let source: EventSource | null = null;
    let again: ReturnType<typeof setTimeout> | undefined;
    const listen = () => {
      clearTimeout(again);
      source?.close();
      source = null;
      // A browser opens only a few connections to a server: a page that nobody looks at needs none.
      if (document.visibilityState !== "visible") return;
      const opened = new EventSource(address);
      source = opened;
      opened.onopen = () => setLost(false);
      opened.onerror = () => {
        setLost(true);
        // It tries again by itself, but not where it was answered something else, as after signing out.
        if (opened.readyState === EventSource.CLOSED) again = setTimeout(listen, againMs);
      };
      opened.onmessage = ({ data }: MessageEvent<string>) => {
        const changes = JSON.parse(data) as LiveChanges;
        setLive((before) => ({
          data: withChanges(before?.instead === loaded ? before.data : loaded, changes),
          instead: loaded,
        }));
      };
    };
    listen();
    document.addEventListener("visibilitychange", listen);
    return () => {
      document.removeEventListener("visibilitychange", listen);
      clearTimeout(again);
      source?.close();
    };
  }, [address, loaded]);
  return { data: live?.instead === loaded ? live.data : loaded, isLost };
}
