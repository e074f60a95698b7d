import { expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { newSecret } from "./chance";
import { countSessions, listSessions } from "./session-list";
import { startRehearsal } from "./rehearsals";
import { setExcluded, startSession } from "./sessions";

it("sessions are counted as they stand, rehearsals and what does not count apart, and listed a page at a time", async () => {
  const { store, study, link } = await released();
  const ids: string[] = [];
  for (let count = 0; count < 5; count++) {
    const started = await startSession(store, link.token, newSecret(), "test browser");
    if (!started.ok) throw new Error(started.reason);
    ids.push(started.session.session);
  }
  await startRehearsal(store, study, { participant: 1 }, "test browser");
  await store.db.updateTable("session").set({ state: "finished" }).where("id", "in", ids.slice(0, 3)).execute();
  await store.db
    .updateTable("session")
    .set({ seen_at: "2026-01-01T00:00:00.000Z" })
    .where("id", "=", ids[3]!)
    .execute();
  await setExcluded(store, study.id, ids[0]!, true);
  const [group] = study.document.groups;
  expect(await countSessions(store, study.id)).toMatchObject({
    ...{ all: 6, started: 5, finished: 2, brokenOff: 1, doNotCount: 1 },
    groups: { [group!.id]: 2 },
  });
  const pages = [0, 4].map((offset) => listSessions(store, study.id, { limit: 4, offset }));
  const [first, second] = await Promise.all(pages);
  expect([first?.length, second?.length]).toEqual([4, 2]);
  expect(new Set([...(first ?? []), ...(second ?? [])].map(({ id }) => id)).size).toBe(6);
  expect(await listSessions(store, study.id, { pilots: true, limit: 8 })).toHaveLength(1);
});
