import { useEffect, useState } from "react";
import { withChanges, type LiveChanges } from "./live-changes";

type State = { sessions: Readonly<Record<string, unknown>>; order: readonly string[] };

/**
 * What an address tells of, event by event, while the page is visible. Starts with what the page was loaded with, and over
 * whenever it is loaded anew.
 */
export function useLive<Data extends State>(address: string, loaded: Data): Data {
  const [live, setLive] = useState<{ data: Data; instead: Data } | null>(null);
  useEffect(() => {
    let source: EventSource | null = null;
    const listen = () => {
      source?.close();
      source = null;
      // A browser opens only a few connections to a server: a page that nobody looks at needs none.
      if (document.visibilityState !== "visible") return;
      source = new EventSource(address);
      source.onmessage = ({ data }: MessageEvent<string>) => {
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
      source?.close();
    };
  }, [address, loaded]);
  return live?.instead === loaded ? live.data : loaded;
}
