import { linksOf, listReleases } from "~/server/releases";
import { listSessions } from "~/server/session-list";
import type { Store } from "~/server/database/open";

/** How collecting stands: releases, entry links and sessions. Polled every few seconds, so it holds no documents. */
export async function collecting(store: Store, studyId: string) {
  const [releases, links, sessions] = await Promise.all([
    listReleases(store, studyId),
    linksOf(store, studyId),
    listSessions(store, studyId),
  ]);
  return { releases, links, sessions };
}
