import { useEffect, useState } from "react";
import { useStudy } from "~/app/editing/use-study";
import type { LastFired } from "~/server/results/fired";
import type { Fired } from "./rule-list";

/** How often each rule did something in the last rehearsal; null while that is not known, or there was none. */
export function useFired(): Fired | null {
  const { code } = useStudy();
  const [fired, setFired] = useState<Fired | null>(null);
  useEffect(() => {
    const stopping = new AbortController();
    fetch(`/studies/${code}/fired`, { signal: stopping.signal })
      .then((response) => (response.ok ? (response.json() as Promise<LastFired>) : null))
      .then((found) => setFired(found?.fired ?? null))
      .catch(() => undefined);
    return () => stopping.abort();
  }, [code]);
  return fired;
}
