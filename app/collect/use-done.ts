import { useEffect, useRef } from "react";
import type { useFetcher } from "react-router";

type Sending = Pick<ReturnType<typeof useFetcher<{ reason?: string }>>, "data">;

/** Does something each time the server has done what was asked, before the page is loaded anew; not where it refuses, or did not answer. */
export function useDone({ data }: Sending, then: () => void): void {
  const latest = useRef(then);
  useEffect(() => void (latest.current = then));
  const known = useRef(data);
  useEffect(() => {
    if (data === undefined || data === known.current) return;
    known.current = data;
    if (data.reason === undefined) latest.current();
  }, [data]);
}
