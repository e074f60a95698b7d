import { storedDocument } from "../core/design/parse";
import { counted, settleDeletion } from "./forgetting";
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
 * Removes what is over its time: participants' codes and browsers of studies that say for how long, failed sign-ins, sign-ins
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
    const days = document.includes('"namesKeptDays"')
      ? storedDocument(document).settings.participation.namesKeptDays
      : undefined;
    if (days === undefined) continue;
    for (const wave of await wavesOf(db, id))
      sessions += await removeNames(store, { id, code }, wave, { days, before: ago(days) });
  }
  await settleDeletion(store);
  return sessions;
}

/**
 * Removes what names the participants of a wave, so many days after the wave was closed, or after its last session where that
 * came later or the wave is not closed. Gives from how many sessions.
 */
async function removeNames(
  { db }: Store,
  study: { id: string; code: string },
  { id: waveId, plan, state, changedAt }: Pick<Wave, "id" | "plan" | "state" | "changedAt">,
  { days, before }: { days: number; before: string },
): Promise<number> {
  const noted = (what: string) => ({ code: study.code, by: byTheServer, what });
  return db.transaction().execute(async (trx) => {
    const last = await trx
      .selectFrom("session")
      .select(({ fn }) => fn.max("seen_at").as("at"))
      .where("wave_id", "=", waveId)
      .where("pilot", "=", 0)
      .executeTakeFirst();
    if (!last?.at || last.at > before || (state === "closed" && changedAt > before)) return 0;
    const changed = await trx
      .updateTable("session")
      .set({ participant_code: null, browser: "", go_on_code: null })
      .where("wave_id", "=", waveId)
      .where((eb) => eb.or([eb("participant_code", "is not", null), eb("browser", "!=", "")]))
      .executeTakeFirst();
    const count = Number(changed.numUpdatedRows);
    await trx
      .deleteFrom("came_with")
      .where("session_id", "in", trx.selectFrom("session").select("id").where("wave_id", "=", waveId))
      .execute();
    const after = state === "closed" ? "the wave was closed" : "the last one";
    if (count > 0)
      await noteDeed(
        trx,
        noted(
          `Codes and browser names were removed from ${counted(count, "session")} of “${plan.name}”, ${counted(days, "day")} after ${after}.`,
        ),
      );
    // Who was given a link by name is no longer told; that it was used is.
    const named = await trx
      .updateTable("entry_link")
      .set({ label: nameless, note: null })
      .where("set_id", "is not", null)
      .where("label", "!=", nameless)
      .where("wave_id", "=", waveId)
      .executeTakeFirst();
    const links = Number(named.numUpdatedRows);
    if (links > 0) await noteDeed(trx, noted(`The names of ${counted(links, "link")} were removed.`));
    return count;
  });
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
