import { useEffect, useState } from "react";
import type { StudyDocument } from "~/core/design/document";
import type { Release } from "~/server/releases";

export type ReleaseDocument = { id: string; document: StudyDocument };

/** The document of a release, fetched once; null until it has arrived. `given` is one already at hand. */
export function useReleaseDocument(
  code: string,
  release: Release | undefined,
  given: ReleaseDocument | null,
): StudyDocument | null {
  const [fetched, setFetched] = useState<ReleaseDocument | null>(null);
  const [id, number] = [release?.id, release?.number];
  const isGiven = given?.id === id;
  useEffect(() => {
    if (id === undefined || isGiven) return;
    const leaving = new AbortController();
    fetch(`/studies/${code}/releases/${number}`, { signal: leaving.signal })
      .then(async (response) => {
        if (response.ok) setFetched({ id, document: (await response.json()) as StudyDocument });
      })
      .catch(() => undefined);
    return () => leaving.abort();
  }, [code, id, number, isGiven]);
  return [given, fetched].find((each) => each?.id === id)?.document ?? null;
}
