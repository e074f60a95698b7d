import { intakeInWords } from "~/server/intake";
import { linkSetsOf } from "~/server/link-sets";
import { countByLink, linksOf } from "~/server/links";
import { listReleases } from "~/server/releases";
import { countSessions, listSessions } from "~/server/session-list";
import type { Store } from "~/server/database/open";

/** Sessions shown at once. */
const aPage = 100;

/** The page of sessions an address asks for, from 1. */
export const askedPage = (request: Request): number =>
  Math.max(1, Math.floor(Number(new URL(request.url).searchParams.get("page")) || 1));

/** How collecting stands: releases, entry links, and a page of sessions. Polled every few seconds, so it holds no documents. */
export async function collecting(store: Store, studyId: string, asked: number) {
  const [releases, links, sets, counts, byLink] = await Promise.all([
    listReleases(store, studyId),
    linksOf(store, studyId),
    linkSetsOf(store, studyId),
    countSessions(store, studyId),
    countByLink(store, studyId),
  ]);
  const pages = Math.max(1, Math.ceil(counts.all / aPage));
  const page = Math.min(asked, pages);
  const sessions = await listSessions(store, studyId, { limit: aPage, offset: (page - 1) * aPage });
  return { releases, links, sets, byLink, counts, sessions, page, pages, intake: await intakeInWords(store, studyId) };
}
