import { createHash } from "node:crypto";
import { changesBetween } from "~/app/collect/live-changes";
import { countCodes } from "~/server/ends";
import type { Store } from "~/server/database/open";
import { frozenDocument } from "~/server/frozen-documents";
import { intakeInWords } from "~/server/intake";
import { linkSetsOf } from "~/server/link-sets";
import { countByLink, linksOf } from "~/server/links";
import { liveSummary, pulseOf } from "~/server/live";
import { listReleases } from "~/server/releases";
import {
  countSessions,
  countSought,
  listSessions,
  sessionOrders,
  shownStates,
  type SessionOrder,
  type Sought,
} from "~/server/session-list";
import { unsuitedOf } from "~/server/unsuited";
import { begunWaves, wavesOf } from "~/server/waves";

/** Sessions shown at once. */
const aPage = 100;

type Asked = { page: number; order: SessionOrder; wave: string | null; sought: Sought };

/** What an address asks to see: the wave, which of its sessions, in which order, and which page of them, from 1. */
export function askedFor(request: Request): Asked {
  const query = new URL(request.url).searchParams;
  const among = <T extends string>(words: readonly T[], name: string) => words.find((each) => each === query.get(name));
  return {
    page: Math.max(1, Math.floor(Number(query.get("page")) || 1)),
    order: among(sessionOrders, "order") ?? "newest",
    wave: query.get("wave"),
    sought: {
      link: query.get("link"),
      group: query.get("group"),
      state: among(shownStates, "state") ?? null,
      search: query.get("search") ?? "",
    },
  };
}

/**
 * How collecting stands: releases, waves, and of the wave that is asked for (or the latest) entry links and a page of
 * sessions. It is sent again and again, so it holds no documents.
 */
export async function collecting(store: Store, studyId: string, asked: Asked) {
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
  const chosen = waves.find(({ id }) => id === asked.wave) ?? waves.at(-1);
  const wave = chosen?.id ?? null;
  const counts = await countSessions(store, studyId, wave);
  const sought = { ...asked.sought, wave };
  const found = await countSought(store, studyId, sought);
  const pages = Math.max(1, Math.ceil(found / aPage));
  const page = Math.min(asked.page, pages);
  const part = { ...sought, order: asked.order, limit: aPage, offset: (page - 1) * aPage };
  const sessions = await listSessions(store, studyId, part);
  const document = chosen ? await frozenDocument(store.db, chosen.releaseId) : null;
  return {
    ...{ releases, waves, begun, wave, byLink, codes, unsuited, counts, found, page, pages },
    order: sessions.map(({ id }) => id),
    sessions: Object.fromEntries(sessions.map((session) => [session.id, session])),
    summary: document && (await liveSummary(store, studyId, wave, document)),
    links: allLinks.filter(({ waveId }) => waveId === wave),
    sets: allSets.filter(({ waveId }) => waveId === wave),
    intake: await intakeInWords(store, studyId),
  };
}
export type Collecting = Awaited<ReturnType<typeof collecting>>;

/** What a page was loaded with, known again by this. */
export const markOf = (stands: Collecting): string =>
  createHash("sha256").update(JSON.stringify(stands)).digest("base64url").slice(0, 16);

/** How often it is looked whether something happened, and at the latest told how it stands, in ms. */
const [lookMs, atLatestMs] = [1000, 15_000];

/** So many pages can listen to a study at once. */
const mostListeners = 100;
const listeners = new Map<string, number>();
/** Whether another page can listen to a study. */
export const mayListen = (studyId: string): boolean => (listeners.get(studyId) ?? 0) < mostListeners;
function countListener(studyId: string, more: 1 | -1): void {
  const left = (listeners.get(studyId) ?? 0) + more;
  if (left > 0) listeners.set(studyId, left);
  else listeners.delete(studyId);
}

/**
 * How collecting stands as server-sent events, for as long as somebody listens and may: at first all of it, unless the
 * listener has it already (`mark`), then what changed.
 */
export function collectingStream(
  store: Store,
  studyId: string,
  asked: Asked,
  { mark, may, signal }: { mark: string | null; may: () => Promise<boolean>; signal: AbortSignal },
): ReadableStream<Uint8Array> {
  const text = new TextEncoder();
  let isOver = false;
  return new ReadableStream({
    async start(stream) {
      signal.addEventListener("abort", () => (isOver = true), { once: true });
      const send = (event: string) => stream.enqueue(text.encode(event));
      let before: Collecting | null = null;
      let [pulse, at] = ["", 0];
      countListener(studyId, 1);
      try {
        while (!isOver) {
          const now = await pulseOf(store, studyId);
          if (now !== pulse || Date.now() - at >= atLatestMs) {
            if (!(await may())) break;
            const stands = await collecting(store, studyId, asked);
            const isKnown = before === null && markOf(stands) === mark;
            const changes = isKnown ? null : changesBetween(before ?? {}, stands);
            send(changes ? `data: ${JSON.stringify(changes)}\n\n` : ": as before\n\n");
            [before, pulse, at] = [stands, now, Date.now()];
          }
          await new Promise((resolve) => setTimeout(resolve, lookMs));
        }
        if (!isOver) stream.close();
      } catch (error) {
        if (!isOver) stream.error(error);
      } finally {
        countListener(studyId, -1);
      }
    },
    cancel: () => void (isOver = true),
  });
}
