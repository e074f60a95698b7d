import { expect } from "vitest";
import type { Place } from "~/core/order/place";
import type { SessionRecord } from "~/core/records/record";
import type { SessionData } from "~/core/run/session-data";
import { plainModel, simulateSession } from "~/core/simulate/participant";
import { newSecret } from "~/server/chance";
import type { Store } from "~/server/database/open";
import { placeSession } from "~/server/places";
import { appendRecords } from "~/server/records";
import { startSession } from "~/server/sessions";

/** Somebody who is asked whether they take part, and how old they are. */
export type Person = { takesPart: "yes" | "no"; age: number };
export const adult: Person = { takesPart: "yes", age: 24 };

/** All that somebody records, given the place; and what of it comes before. */
export function playedBy({ document, entered, seed }: SessionData, person: Person, place?: Place) {
  const model = {
    ...plainModel,
    forms: { skips: 0, knows: {}, from: { takes_part: [{ option: person.takesPart }], age: [person.age] } },
  };
  let before: readonly SessionRecord[] | null = null;
  const { records } = simulateSession(
    document,
    entered,
    (made) => {
      before ??= [...made];
      return place ?? { participant: 1, group: "early", orders: {} };
    },
    seed,
    model,
  );
  return { all: records, before: before ?? records };
}

/** Begins by the link and sends the first pages. */
export async function begun(store: Store, link: string, person: Person, parameters = {}) {
  const secret = newSecret();
  const started = await startSession(store, link, secret, "browser", parameters);
  if (!started.ok) throw new Error(started.reason);
  const { session } = started;
  const { before } = playedBy(session, person);
  const sent = await appendRecords(store, secret, before);
  expect(sent).toMatchObject({ ok: true, acknowledged: before.length });
  return { secret, session, before, sent };
}

/** The same to the end, as far as that is for them. */
export async function whole(store: Store, link: string, person: Person, parameters = {}) {
  const { secret, session, before, sent: first } = await begun(store, link, person, parameters);
  if (before.at(-1)?.kind === "end") return { secret, place: null, sent: first, all: before };
  const placed = await placeSession(store, secret);
  if (!placed.ok) throw new Error(placed.reason);
  const { all } = playedBy(session, person, placed.place);
  const sent = await appendRecords(store, secret, all.slice(before.length));
  expect(sent).toMatchObject({ ok: true, acknowledged: all.length, finished: true, unplanned: [] });
  return { secret, place: placed.place, sent, all };
}
