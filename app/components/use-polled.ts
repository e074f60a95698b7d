import { useEffect, useState } from "react";

/**
 * What an address answers, polled every `everyMs` while the page is visible. Starts with what the page was loaded with,
 * and starts over whenever it is loaded anew.
 */
export function usePolled<Data>(address: string, everyMs: number, loaded: Data): Data {
  const [polled, setPolled] = useState<{ data: Data; instead: Data } | null>(null);
  useEffect(() => {
    const leaving = new AbortController();
    let isAsking = false;
    const ask = async () => {
      if (isAsking || document.visibilityState !== "visible") return;
      isAsking = true;
      try {
        const response = await fetch(address, { signal: leaving.signal });
        if (response.ok) setPolled({ data: (await response.json()) as Data, instead: loaded });
      } catch {
        // The server is away or the page was left: the next time will tell.
      } finally {
        isAsking = false;
      }
    };
    const timer = setInterval(() => void ask(), everyMs);
    return () => {
      clearInterval(timer);
      leaving.abort();
    };
  }, [address, everyMs, loaded]);
  return polled?.instead === loaded ? polled.data : loaded;
}
