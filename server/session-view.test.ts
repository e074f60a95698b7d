import { strFromU8, unzipSync } from "fflate";
import { expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { plainStudy } from "~/tests/support/studies";
import { plainModel, simulateSession } from "../core/simulate/participant";
import { newSecret } from "./chance";
import { deleteSession } from "./forgetting";
import { participantZip } from "./export/study-data";
import { appendRecords } from "./records";
import { addNote, sessionView } from "./session-view";
import { setExcluded, startSession } from "./sessions";
import { Shown } from "../core/run/shown";
import { mostShown, storedSession } from "./shown-session";

async function played() {
  const there = await released();
  const secret = newSecret();
  const started = await startSession(there.store, there.link.token, secret, "A browser 1.0");
  if (!started.ok) throw new Error(started.reason);
  const { session } = started;
  const { records } = simulateSession(plainStudy(), session.participant, session, session.seed, plainModel);
  const log = [{ opening: "a", number: 1, entries: [{ at: 1500, what: "full-screen-left" as const }] }];
  expect(await appendRecords(there.store, secret, { records, log })).toMatchObject({ finished: true });
  return { ...there, id: session.session, records };
}

it("one session is opened with its course, its answers, its link and wave", async () => {
  const { store, study, id, records } = await played();
  const view = await sessionView(store, study.id, id);
  expect(view).toMatchObject({
    line: { participant: 1, state: "finished" },
    ...{ groupName: "Everyone", wave: "First wave", link: "Open link", browser: "A browser 1.0", because: null },
    ...{ notes: [], course: { marks: [{ at: 1500, says: "full screen was left", lasted: null }] } },
  });
  expect(view?.course.spans.length).toBeGreaterThan(1);
  expect(view?.answered.length).toBe(records.filter(({ kind }) => kind === "trial").length);
  expect(await sessionView(store, "another study", id)).toBeNull();
  expect(await sessionView(store, study.id, "s-none")).toBeNull();
});

it("a session is stored with all that shows it again, to its last record", async () => {
  const { store, study, id, records } = await played();
  const found = await storedSession(store, study.id, id);
  if (found === null || "reason" in found) throw new Error(JSON.stringify(found));
  expect(found).toMatchObject({ records, window: null, whose: { participant: 1, entered: 1 } });
  expect(new Shown(found.document, found.whose, found.records).followed).toBe(records.length);
  const display = { refreshMs: 16.7, refreshSd: 0.1, width: 1024, height: 700, pixelRatio: 1, isolated: true };
  const told = JSON.stringify({ ...display, soundLatencyMs: null });
  await store.db.updateTable("session").set({ display: told }).where("id", "=", id).execute();
  expect(await storedSession(store, study.id, id)).toMatchObject({ window: { width: 1024, height: 700 } });
  expect(await storedSession(store, "another study", id)).toBeNull();
  for (const tooMuch of [
    { records: mostShown.records + 1, stored_characters: 1 },
    { records: 7, stored_characters: mostShown.characters + 1 },
  ]) {
    await store.db.updateTable("session").set(tooMuch).where("id", "=", id).execute();
    expect(await storedSession(store, study.id, id)).toEqual({
      reason: `This session is too long to be shown again: it has ${tooMuch.records} records.`,
    });
  }
});

it("the team notes things of a session and says why it does not count; with the session all of that is gone", async () => {
  const { store, study, id } = await played();
  expect(await addNote(store, study.id, id, { by: "Ada", text: "Came late." })).toBeNull();
  expect(await addNote(store, study.id, id, { by: "Bo", text: "Left early." })).toBeNull();
  expect(await addNote(store, "another study", id, { by: "Cy", text: "x" })).toMatch(/gone/);
  await setExcluded(store, study.id, id, true, "Asked somebody for the answers");
  expect(await sessionView(store, study.id, id)).toMatchObject({
    ...{ line: { excluded: true }, because: "Asked somebody for the answers" },
    notes: [
      { by: "Ada", text: "Came late." },
      { by: "Bo", text: "Left early." },
    ],
  });
  // Whoever asks for their data is given what was noted of them too.
  const pieces: Uint8Array[] = [];
  for await (const piece of participantZip(store, study, { participant: 1 })) pieces.push(piece);
  const files = unzipSync(new Uint8Array(Buffer.concat(pieces)));
  const sitting = JSON.parse(strFromU8(files["sitting-1.json"] ?? new Uint8Array())) as { notes: object[] };
  expect(sitting.notes).toMatchObject([{ text: "Came late." }, { text: "Left early." }]);
  await setExcluded(store, study.id, id, false);
  expect(await sessionView(store, study.id, id)).toMatchObject({ line: { excluded: false }, because: null });
  expect(await deleteSession(store, study, id, { by: "Ada" })).toBe(true);
  expect(await sessionView(store, study.id, id)).toBeNull();
  expect(await store.db.selectFrom("session_note").selectAll().execute()).toEqual([]);
});
