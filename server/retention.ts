import { storedDocument } from "../core/design/parse";
import type { Transaction } from "kysely";
import type { Tables } from "./database/tables";
import type { Study } from "./studies";
import { counted, keepNumbers, removeSessions } from "./forgetting";
import { lockStudy } from "./database/locked";
import { pruneTidy } from "./tidy/forget";
import { noteDeed } from "./study-log";
import type { Store } from "./database/open";
import { nameless } from "./link-names";
import { wavesOf, type Wave } from "./waves";

const day = 86_400_000;
/** Failed sign-ins are kept for so long. */
const daysOfTries = 30;
/** By whom, in the list of what was removed. */
const byTheServer = "the server, daily";

/**
 * Removes what is over its time: participants' codes and browsers, and sessions with all their answers, of studies that say for how long, failed sign-ins, sign-ins
 * that have ended, and counts of what came in. Gives how many sessions it concerned.
 */
export async function removeWhatIsOver(store: Store, now: number = Date.now()): Promise<number> {
  const { db } = store;
  const ago = (days: number) => new Date(now - days * day).toISOString();
  await db.deleteFrom("sign_in_try").where("at", "<", ago(daysOfTries)).execute();
  await db.deleteFrom("sign_in").where("expires_at", "<", new Date(now).toISOString()).execute();
  await db.deleteFrom("intake").where("day", "<", ago(daysOfTries).slice(0, 10)).execute();
  let sessions = 0;
  const studies = await db.selectFrom("study").select(["id", "code"]).execute();
  for (const { id, code } of studies) {
    const { document } = await db.selectFrom("study").select("document").where("id", "=", id).executeTakeFirstOrThrow();
    if (!/"(?:namesKeptDays|answersKeptYears)"/.test(document)) continue;
    const { namesKeptDays, answersKeptYears } = storedDocument(document).settings.participation;
    for (const wave of await wavesOf(db, id)) {
      if (answersKeptYears !== undefined) {
        const before = new Date(now);
        before.setUTCFullYear(before.getUTCFullYear() - answersKeptYears);
        sessions += await removeAnswers(store, { id, code }, wave, {
          years: answersKeptYears,
          before: before.toISOString(),
        });
      }
      if (namesKeptDays !== undefined)
        sessions += await removeNames(store, { id, code }, wave, { days: namesKeptDays, before: ago(namesKeptDays) });
    }
  }
  await pruneTidy(store);
  await store.settle();
  return sessions;
}

/** Whether a wave that had sessions was closed before a time, and had its last one before it. */
async function isOver(
  trx: Transaction<Tables>,
  { id, state, changedAt }: Pick<Wave, "id" | "state" | "changedAt">,
  before: string,
): Promise<boolean> {
  if (state === "closed" && changedAt > before) return false;
  const last = await trx
    .selectFrom("session")
    .select(({ fn }) => fn.max("seen_at").as("at"))
    .where("wave_id", "=", id)
    .where("pilot", "=", 0)
    .executeTakeFirst();
  return typeof last?.at === "string" && last.at <= before;
}

/** Removes the sessions of a wave for good, so many years after it was over. Gives how many; their numbers are given to nobody else. */
async function removeAnswers(
  store: Store,
  study: Pick<Study, "id" | "code">,
  wave: Wave,
  { years, before }: { years: number; before: string },
): Promise<number> {
  return store.db.transaction().execute(async (trx) => {
    await lockStudy(trx, study.id);
    if (!(await isOver(trx, wave, before))) return 0;
    const there = await trx
      .selectFrom("session")
      .select(["id", "participant"])
      .where("wave_id", "=", wave.id)
      .where("pilot", "=", 0)
      .orderBy("participant")
      .execute();
    await keepNumbers(trx, study.id, there.at(-1)?.participant ?? 0);
    await store.tombstones.add(there.map(({ id }) => ({ kind: "deleted", id })));
    const ids = there.map(({ id }) => id);
    await removeSessions(trx, study.id, ids);
    const after = wave.state === "closed" ? "it was closed" : "the last one";
    const what = `${counted(ids.length, "session")} of “${wave.plan.name}” ${ids.length === 1 ? "was" : "were"} deleted with all answers, ${counted(years, "year")} after ${after}.`;
    await noteDeed(trx, { code: study.code, by: byTheServer, what });
    await forgetLinkNames(trx, study, wave.id);
    return ids.length;
  });
}

/**
 * Removes what names the participants of a wave, so many days after the wave was closed, or after its last session where that
 * came later or the wave is not closed. Gives from how many sessions.
 */
async function removeNames(
  { db }: Store,
  study: { id: string; code: string },
  wave: Wave,
  { days, before }: { days: number; before: string },
): Promise<number> {
  const { id: waveId, plan, state } = wave;
  return db.transaction().execute(async (trx) => {
    if (!(await isOver(trx, wave, before))) return 0;
    const named = trx.selectFrom("session_codes").select("session_id");
    const changed = await trx
      .updateTable("session")
      .set({ browser: "" })
      .where("wave_id", "=", waveId)
      .where((eb) => eb.or([eb("id", "in", named), eb("browser", "!=", "")]))
      .executeTakeFirst();
    const count = Number(changed.numUpdatedRows);
    await trx
      .deleteFrom("session_codes")
      .where("session_id", "in", trx.selectFrom("session").select("id").where("wave_id", "=", waveId))
      .execute();
    const after = state === "closed" ? "the wave was closed" : "the last one";
    const what = `Codes and browser names were removed from ${counted(count, "session")} of “${plan.name}”, ${counted(days, "day")} after ${after}.`;
    if (count > 0) await noteDeed(trx, { code: study.code, by: byTheServer, what });
    await forgetLinkNames(trx, study, waveId);
    return count;
  });
}

/** Who was given a link of a wave by name is no longer told; that it was used is. */
async function forgetLinkNames(trx: Transaction<Tables>, study: Pick<Study, "code">, waveId: string): Promise<void> {
  const named = await trx
    .updateTable("entry_link")
    .set({ label: nameless, note: null })
    .where("set_id", "is not", null)
    .where("label", "!=", nameless)
    .where("wave_id", "=", waveId)
    .executeTakeFirst();
  const links = Number(named.numUpdatedRows);
  const what = `The names of ${counted(links, "link")} were removed.`;
  if (links > 0) await noteDeed(trx, { code: study.code, by: byTheServer, what });
}

/** Does that daily, the first time a minute after the start; returns a function that ends it. */
export function removeDaily(store: Store): () => void {
  const once = () => void removeWhatIsOver(store).catch((error: unknown) => console.error(error));
  const first = setTimeout(once, 60_000).unref();
  const daily = setInterval(once, day).unref();
  return () => {
    clearTimeout(first);
    clearInterval(daily);
  };
}
