import { describe, expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { plainStudy, withBlock } from "~/tests/support/studies";
import { itemKind } from "../core/items/registry";
import { plainModel, simulateSession } from "../core/simulate/participant";
import { newSecret } from "./chance";
import { intakeInWords, mostInADay, roomOf } from "./intake";
import { appendRecords } from "./records";
import { startInLab, startSession } from "./sessions";

const today = () => new Date().toISOString().slice(0, 10);

/** A study of which so much came in today already. */
async function alreadyIn(amount: { sessions: number; characters: number }) {
  const there = await released();
  await there.store.db
    .insertInto("intake")
    .values({ study_id: there.study.id, link: there.link.token, day: today(), ...amount })
    .execute();
  return there;
}

describe("what comes in in a day", () => {
  it("is said before it is too much, and not while it is far from that", async () => {
    const little = await alreadyIn({ sessions: 40, characters: 1e6 });
    expect(await intakeInWords(little.store, little.study.id)).toBeNull();
    const much = await alreadyIn({ sessions: 8200, characters: 1e6 });
    expect(await intakeInWords(much.store, much.study.id)).toMatch(/8,200 sessions .* 82 % of what may come in a day/);
  });

  it("has an end: no session begins, records are tried again later, and the researcher is told", async () => {
    const { store, study, link } = await alreadyIn({ sessions: 9999, characters: 1e6 });
    const secret = newSecret();
    const last = await startSession(store, link.token, secret, "b");
    if (!last.ok) throw new Error(last.reason);
    expect(await startSession(store, link.token, newSecret(), "b")).toMatchObject({
      ok: false,
      reason: expect.stringMatching(/No more sessions can begin in this study today/),
    });
    expect(await intakeInWords(store, study.id)).toMatch(/nobody can begin before tomorrow/);
    // Who has begun goes on, and so does the laboratory.
    const { records } = simulateSession(plainStudy(), 1, last.session, last.session.seed, plainModel);
    expect(await appendRecords(store, secret, records.slice(0, 2))).toMatchObject({ acknowledged: 2 });
    const asked = { participant: null, group: null, parameters: {} };
    expect((await startInLab(store, study.id, link.waveId, asked, "b")).ok).toBe(true);
  });

  it("counts what is stored, by link and in the study", async () => {
    const { store, study, link } = await alreadyIn({ sessions: 1, characters: mostInADay.link.characters - 10 });
    const secret = newSecret();
    const started = await startSession(store, link.token, secret, "b");
    if (!started.ok) throw new Error(started.reason);
    const { records } = simulateSession(plainStudy(), 1, started.session, started.session.seed, plainModel);
    expect(await appendRecords(store, secret, records.slice(0, 1))).toMatchObject({ acknowledged: 1 });
    expect(await appendRecords(store, secret, records.slice(1))).toMatchObject({ ok: false, isFull: true });
    expect(await intakeInWords(store, study.id)).toMatch(/as much as may come in a day/);
  });

  it("is the room of a session, many times what its trials need, and never a disk", () => {
    const study = plainStudy();
    expect(roomOf(8, study).all).toBeGreaterThan(8 * 100_000);
    expect(roomOf(1_000_000, study).all).toBe(64e6);
    expect(roomOf(300, study).beside * 4).toBe(roomOf(300, study).all);
    const telling = withBlock(
      study,
      (block) =>
        void block.scenes[0]!.items.push(
          itemKind("web").make(
            (prefix) => `${prefix}-1`,
            "dial",
            () => "",
          ) as never,
        ),
    );
    expect(roomOf(20, telling).all).toBe(24e6);
  });
});
