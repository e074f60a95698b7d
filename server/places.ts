import type { Transaction } from "kysely";
import { hasPlace, noPlace, type Place } from "../core/order/place";
import { outline } from "../core/compile/compile";
import type { Orders } from "../core/order/parts";
import { outcomesIn } from "../core/records/outcomes";
import { presentRecord } from "../core/records/stored";
import { Follower } from "../core/run/follower";
import { toldOf } from "../core/run/told";
import { assignAtLine, type Asked } from "./assignment";
import { lockStudy } from "./database/locked";
import { codesOf } from "./codes";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import type { ShownEnd } from "../core/collect/ends";
import { endAtLine } from "./ends";
import { takenBy } from "./link-terms";
import { filledWithin, waveOf } from "./waves";
import { beginningOf, sessionOfSecret, type SessionRow } from "./session-of-secret";

/** `isElsewhere`: the session continues on another computer; `isEarly`: not all of the first pages are stored yet. `end`: what the link shows those who are too many. */
export type Placed =
  { ok: true; place: Place } | { ok: false; reason: string; isElsewhere?: true; isEarly?: true; end?: ShownEnd };

const elsewhere: Placed = { ok: false, reason: "This session continues on another computer.", isElsewhere: true };

/**
 * Gives a session that has come to where places are given its number, group and orders, in one transaction, by what is
 * stored of its first pages. Asked again it gives the same.
 */
export async function placeSession(store: Store, secret: string): Promise<Placed> {
  const session = await sessionOfSecret(store, secret);
  if (!session) return { ok: false, reason: "There is no such session." };
  if (session.superseded) return elsewhere;
  return hasPlace(session) ? placed(session) : store.write((trx) => placeIn(trx, session));
}

const placed = ({ participant, group, orders }: Place): Placed => ({ ok: true, place: { participant, group, orders } });

async function placeIn(trx: Transaction<Tables>, session: SessionRow): Promise<Placed> {
  const { id, studyId, document } = session;
  await lockStudy(trx, studyId);
  const there = await trx.selectFrom("session").selectAll().where("id", "=", id).executeTakeFirst();
  if (!there) return { ok: false, reason: "There is no such session." };
  if (there.token_hash !== session.tokenHash) return elsewhere;
  if (hasPlace(there)) return placed({ ...there, group: there.group_id, orders: JSON.parse(there.orders) as Orders });
  const stored = await trx
    .selectFrom("record")
    .select("body")
    .where("session_id", "=", id)
    .where("number", "<=", there.records)
    .orderBy("number")
    .execute();
  const records = stored.map(({ body }) => presentRecord(JSON.parse(body), document));
  const follower = new Follower(document, {
    ...noPlace,
    seed: session.seed,
    entered: session.entered,
    begins: beginningOf(there),
  });
  const isWhole = records.every((record) => follower.take(record) === null);
  if (there.state !== "active" || !isWhole || !follower.isAtLine)
    return { ok: false, reason: "The pages before this one have not all arrived.", isEarly: true };
  const wave = there.wave_id === null ? undefined : await waveOf(trx, studyId, there.wave_id);
  const asked = JSON.parse(there.asked ?? '{"parameters":{}}') as Asked;
  const given = await assignAtLine(
    trx,
    studyId,
    document,
    { ...asked, code: (await codesOf(trx, id)).participant, sitting: there.sitting },
    toldOf(document, outcomesIn(records)),
    wave ? filledWithin(wave) : null,
    await takenBy(trx, there.link_token),
  );
  if (!given.ok) {
    const end = given.isFull ? await endAtLine(trx, there) : null;
    return { ok: false, reason: given.reason, ...(end ? { end } : {}) };
  }
  const { participant, group, orders } = given.place;
  await trx
    .updateTable("session")
    .set({
      participant,
      group_id: group,
      orders: JSON.stringify(orders),
      stratum: given.stratum,
      asked: null,
      trials_planned: outline(document, { ...given.place, sitting: there.sitting }).trialCount,
    })
    .where("id", "=", id)
    .execute();
  return placed(given.place);
}
