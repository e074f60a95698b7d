import { intakeInWords } from "~/server/intake";
import { countCodes } from "~/server/ends";
import { unsuitedOf } from "~/server/unsuited";
import { linkSetsOf } from "~/server/link-sets";
import { countByLink, linksOf } from "~/server/links";
import { listReleases } from "~/server/releases";
import { countSessions, listSessions } from "~/server/session-list";
import type { Store } from "~/server/database/open";
import { begunWaves, wavesOf } from "~/server/waves";

/** Sessions shown at once. */
const aPage = 100;

/** The page of sessions an address asks for, from 1, and the wave; null where it names none. */
export function askedFor(request: Request): { page: number; wave: string | null } {
  const query = new URL(request.url).searchParams;
  return { page: Math.max(1, Math.floor(Number(query.get("page")) || 1)), wave: query.get("wave") };
}

/**
 * How collecting stands: releases, waves, and of the wave that is asked for (or the latest) entry links and a page of
 * sessions. Polled every few seconds, so it holds no documents.
 */
export async function collecting(store: Store, studyId: string, asked: { page: number; wave: string | null }) {
  const [releases, waves, allLinks, allSets, byLink, begun, codes, unsuited] = await Promise.all([
    listReleases(store, studyId),
    wavesOf(store.db, studyId),
    linksOf(store, studyId),
    linkSetsOf(store, studyId),
    countByLink(store, studyId),
    begunWaves(store.db, studyId),
    countCodes(store, studyId),
    unsuitedOf(store, studyId),
  ]);
  const wave = (waves.find(({ id }) => id === asked.wave) ?? waves.at(-1))?.id ?? null;
  const counts = await countSessions(store, studyId, wave);
  const pages = Math.max(1, Math.ceil(counts.all / aPage));
  const page = Math.min(asked.page, pages);
  const sessions = await listSessions(store, studyId, { wave, limit: aPage, offset: (page - 1) * aPage });
  return {
    ...{ releases, waves, begun, wave, byLink, codes, unsuited, counts, sessions, page, pages },
    links: allLinks.filter(({ waveId }) => waveId === wave),
    sets: allSets.filter(({ waveId }) => waveId === wave),
    intake: await intakeInWords(store, studyId),
  };
}
