import type { Transaction } from "kysely";
import { LRUCache } from "lru-cache";
import { parametersOf, shownEnd, type EndName, type Filling, type ShownEnd } from "../core/collect/ends";
import { codeParameter } from "../core/design/allocation";
import type { Terms } from "../core/collect/terms";
import type { SessionState } from "../core/export/tables/standing";
import { codeIn, type Parameters } from "./assignment";
import { codesOf } from "./codes";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { termsOfLink } from "./link-terms";
import { waveIds } from "./waves";

type Reading = Store["db"] | Transaction<Tables>;

/** How a session ended, as ends are named; null while it goes on, and of somebody who left. */
const endNameOf = (state: SessionState): EndName | null => (state === "active" || state === "withdrawn" ? null : state);

/** Keeps what a link brought that its return addresses ask for, beside the session and apart from its data. */
export async function keepCameWith(
  trx: Transaction<Tables>,
  session: string,
  { ends }: Terms,
  parameters: Parameters,
): Promise<void> {
  const wanted = parametersOf(ends).flatMap((name) => {
    const value = parameters[name];
    return value === undefined ? [] : [[name, value] as const];
  });
  if (wanted.length === 0) return;
  await trx
    .updateTable("session_codes")
    .set({ came_with: JSON.stringify(Object.fromEntries(wanted)) })
    .where("session_id", "=", session)
    .execute();
}

/** The next code of a list, given out now; null where none is left. */
async function nextCode(trx: Transaction<Tables>, of: string, ending: EndName): Promise<string | null> {
  for (;;) {
    const next = await trx
      .selectFrom("end_code")
      .select("code")
      .where("link", "=", of)
      .where("ending", "=", ending)
      .where("given_at", "is", null)
      .orderBy("place")
      .limit(1)
      .executeTakeFirst();
    if (!next) return null;
    const { numUpdatedRows } = await trx
      .updateTable("end_code")
      .set({ given_at: new Date().toISOString() })
      .where("link", "=", of)
      .where("ending", "=", ending)
      .where("code", "=", next.code)
      .where("given_at", "is", null)
      .executeTakeFirst();
    // Where several write at a time, another may just have been given it.
    if (numUpdatedRows === 1n) return next.code;
  }
}

type Ended = { id: string; link_token: string | null };

/** What a session showed whose data were removed as it ended, for a while: its player may not have heard the first answer. */
const removed = new LRUCache<string, ShownEnd>({ max: 1000 });

async function endAs(
  db: Reading,
  { id, link_token }: Ended,
  as: EndName,
  give: (of: string) => Promise<string | null>,
): Promise<{ shown: ShownEnd | null; code: string }> {
  const link = await termsOfLink(db, link_token);
  const { completion: own, participant, cameWith } = await codesOf(db, id);
  const end = link?.terms.ends?.[as];
  if (!link || !end) return { shown: removed.get(id) ?? null, code: own };
  const asked = end.code ?? { kind: as === "finished" ? ("own" as const) : ("none" as const) };
  const code = (asked.kind === "listed" ? await give(link.of) : null) ?? own;
  const shownCode = asked.kind === "none" ? null : asked.kind === "same" ? asked.code.trim() : code;
  const filling: Filling = {
    "participant.code": participant,
    "session.code": shownCode ?? code,
    link: cameWith,
  };
  return { shown: shownEnd(end, shownCode, filling), code };
}

/**
 * What is shown to somebody whose session ends now, null where the link says nothing of it. From then on the session has a
 * code of a list where its end gives one, and keeps its own where the list is used up.
 */
export async function endOfSession(trx: Transaction<Tables>, session: Ended, as: EndName): Promise<ShownEnd | null> {
  const { shown, code } = await endAs(trx, session, as, (of) => nextCode(trx, of, as));
  await trx
    .updateTable("session_codes")
    .set({ completion_code: code })
    .where("session_id", "=", session.id)
    .where("completion_code", "!=", code)
    .execute();
  return shown;
}

/** What is shown to somebody whose session ended before; null where the link says nothing of it. */
export async function endShownBy(db: Reading, session: Ended & { state: SessionState }): Promise<ShownEnd | null> {
  const as = endNameOf(session.state);
  return as && (await endAs(db, session, as, () => Promise.resolve(null))).shown;
}

/** Of a session all of which is removed as it ends. */
export const rememberEnd = (session: string, shown: ShownEnd | null): void => {
  if (shown) removed.set(session, shown);
};

/** Where somebody is led who cannot begin because no more are wanted, and the code they are shown; null for nowhere. */
export function endWhenFull({ ends }: Terms, parameters: Parameters): ShownEnd | null {
  const end = ends?.full;
  if (!end) return null;
  const code = end.code?.kind === "same" ? end.code.code.trim() : null;
  return shownEnd(end, code, { "participant.code": codeIn(parameters), "session.code": code, link: parameters });
}

/** The same for a session that began, and gets no place since those who are wanted of its kind are there. */
export async function endAtLine(trx: Transaction<Tables>, { id, link_token }: Ended): Promise<ShownEnd | null> {
  const link = await termsOfLink(trx, link_token);
  const { cameWith, participant } = await codesOf(trx, id);
  const came = { ...cameWith, ...(participant === null ? {} : { [codeParameter]: participant }) };
  return link && endWhenFull(link.terms, came);
}

/** How many codes of a link's lists there are, and how many were given out, by end. */
export type CodesLeft = Record<string, Partial<Record<EndName, { all: number; given: number }>>>;

/** The same of all links and sets of a study. */
export async function countCodes({ db }: Store, studyId: string): Promise<CodesLeft> {
  const rows = await db
    .selectFrom("end_code")
    .select(["link", "ending"])
    .select(({ fn }) => [fn.countAll<number>().as("all"), fn.count<number>("given_at").as("given")])
    .where("study_id", "=", studyId)
    .groupBy(["link", "ending"])
    .execute();
  const found: CodesLeft = {};
  for (const { link, ending, all, given } of rows)
    (found[link] ??= {})[ending] = { all: Number(all), given: Number(given) };
  return found;
}

/** A link or set keeps at most so many codes for an end. */
const mostKept = 100_000;

/** Adds codes to a list of a link, or set of links, of a study; those that are there already stay as they are. Tells why not. */
export async function addCodes(
  store: Store,
  studyId: string,
  of: string,
  ending: EndName,
  codes: readonly string[],
): Promise<string | null> {
  return store.db.transaction().execute(async (trx) => {
    if (!(await isOfStudy(trx, studyId, of))) return "This link is gone. Load the page again.";
    const { all } = await trx
      .selectFrom("end_code")
      .select(({ fn }) => fn.countAll<number>().as("all"))
      .where("link", "=", of)
      .where("ending", "=", ending)
      .executeTakeFirstOrThrow();
    const before = Number(all);
    if (before + codes.length > mostKept) return `A list has at most ${mostKept.toLocaleString("en")} codes.`;
    for (let from = 0; from < codes.length; from += 100)
      await trx
        .insertInto("end_code")
        .values(
          codes.slice(from, from + 100).map((code, index) => ({
            ...{ study_id: studyId, link: of, ending, place: before + from + index, code, given_at: null },
          })),
        )
        .onConflict((conflict) => conflict.columns(["link", "ending", "code"]).doNothing())
        .execute();
    return null;
  });
}

/** Takes away the codes of a list that were not given out. */
export async function removeCodes({ db }: Store, studyId: string, of: string, ending: EndName): Promise<void> {
  await db
    .deleteFrom("end_code")
    .where("study_id", "=", studyId)
    .where("link", "=", of)
    .where("ending", "=", ending)
    .where("given_at", "is", null)
    .execute();
}

async function isOfStudy(trx: Transaction<Tables>, studyId: string, of: string): Promise<boolean> {
  const waves = waveIds(trx, studyId);
  const link = trx.selectFrom("entry_link").select("token").where("token", "=", of).where("wave_id", "in", waves);
  const set = trx.selectFrom("link_set").select("id").where("id", "=", of).where("wave_id", "in", waves);
  return ((await link.executeTakeFirst()) ?? (await set.executeTakeFirst())) !== undefined;
}
