import { gzipSync } from "node:zlib";
import { describe, expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { plainStudy } from "~/tests/support/studies";
import { newGazeSettings } from "../core/design/settings";
import type { Calibration } from "../core/gaze/calibrate";
import { emptyColumns, packSamples } from "../core/gaze/packed";
import { newSecret } from "./chance";
import { removeSessions } from "./forgetting";
import { gazeInDegrees, gazeOf, gazeState, takeGaze } from "./gaze";
import { intakeInWords, intakeProblem, mostInADay } from "./intake";
import { startSession } from "./sessions";

/** A session of a study that records gaze, of which so much came in today already. */
async function watched(characters = 0) {
  const document = plainStudy();
  document.settings.gaze = newGazeSettings();
  document.settings.viewing = { distanceCm: 60, shorterSideCm: 30 };
  const { store, link, study } = await released(document);
  const day = new Date().toISOString().slice(0, 10);
  await store.db
    .insertInto("intake")
    .values({ study_id: study.id, link: " gaze", day, sessions: 0, characters })
    .execute();
  const secret = newSecret();
  const started = await startSession(store, link.token, secret, "b", {});
  if (!started.ok) throw new Error(started.reason);
  return { store, study, secret, session: started.session.session };
}
const packed = (times: number[]) => {
  const samples = emptyColumns(times.length);
  samples.times.set(times);
  samples.leftX.set(times.map((time) => time / 10));
  return gzipSync(packSamples(samples)).toString("base64");
};
const piece = (number: number, through: number, times: number[]) => ({
  ...{ number, through, error: 0.4 },
  samples: packed(times),
});

describe("pieces of gaze", () => {
  it("are stored in their order before they are acknowledged, and once", async () => {
    const { store, secret, session } = await watched();
    expect(await gazeState(store, secret)).toEqual({ number: 0, through: 0 });
    expect(await takeGaze(store, secret, piece(1, 4, [10, 20]))).toEqual({
      ok: true,
      state: { number: 1, through: 4 },
    });
    // Its answer was lost: it comes once more, with what was recorded meanwhile.
    expect(await takeGaze(store, secret, piece(1, 6, [10, 20, 30]))).toMatchObject({
      state: { number: 1, through: 4 },
    });
    expect(await takeGaze(store, secret, piece(2, 4, [30]))).toMatchObject({ state: { number: 1, through: 4 } });
    expect(await takeGaze(store, secret, piece(2, 6, [30]))).toMatchObject({ state: { number: 2, through: 6 } });
    expect(await takeGaze(store, secret, piece(4, 9, [40]))).toMatchObject({ state: { number: 2, through: 6 } });
    const { times, leftX, rightX } = await gazeOf(store, session);
    expect([...times]).toEqual([10, 20, 30]);
    expect([...leftX]).toEqual([1, 2, 3]);
    expect(rightX[0]).toBeNaN();
  });
  it("are refused where they are none, and where the study records none", async () => {
    const { store, secret } = await watched();
    const refused = async (sent: unknown) => {
      const taken = await takeGaze(store, secret, sent);
      return taken.ok ? null : taken.reason;
    };
    expect(await refused({ ...piece(1, 1, [10]), samples: "not base64!" })).toBe("This is no piece of gaze.");
    expect(await refused({ ...piece(1, 1, [10]), more: 1 })).toBe("This is no piece of gaze.");
    expect(await refused({ ...piece(1, 1, [10]), samples: "AAAA" })).toContain("no samples");
    expect(await refused(piece(1, 1, []))).toContain("no samples");
    expect(await refused(piece(1, 1, [20, 10]))).toContain("no samples");
    // Little that becomes very much when it is unpacked.
    const bomb = gzipSync(new Uint8Array(50_000_000)).toString("base64");
    expect(await refused({ ...piece(1, 1, [10]), samples: bomb })).toContain("no samples");
    const plain = await released(plainStudy());
    const other = newSecret();
    await startSession(plain.store, plain.link.token, other, "b", {});
    expect(await gazeState(plain.store, other)).toBeNull();
    expect(await takeGaze(plain.store, other, piece(1, 1, [10]))).toMatchObject({ ok: false });
  });
  it("are told in degrees by the calibration that held at the time", async () => {
    const { store, secret, session } = await watched();
    await takeGaze(store, secret, piece(1, 4, [100, 200, 300]));
    const log = (number: number, at: number, fit: Calibration) => ({
      ...{ session_id: session, opening: "a", number, received_at: "2026-11-28T10:00:00Z" },
      entries: JSON.stringify([{ at, what: "gaze-calibration", value: JSON.stringify(fit) }]),
    });
    const shift = (by: number): Calibration => ({ left: { x: [by], y: [0] }, right: null });
    await store.db
      .insertInto("session_log")
      .values([log(2, 250, shift(-30)), log(1, 150, shift(5))])
      .execute();
    const rows = [];
    for await (const row of gazeInDegrees(store, session, { distanceCm: 60, shorterSideCm: 30 })) rows.push(row);
    // A unit is 0.3 cm: seen from 60 cm, 10 units are 2 atan(3 / 120).
    const degrees = (units: number) => (2 * Math.atan((units * 0.3) / 120) * 180) / Math.PI;
    expect(rows.map(({ left }) => left.x)).toEqual(
      [10, 25, 0].map((units) => expect.closeTo(degrees(units), 5) as number),
    );
    expect(rows[1]?.right.x).toBeNaN();
  });
  it("have room of their own, so that they crowd no records out, and are refused in words where it is full", async () => {
    const { store, study, secret } = await watched(mostInADay.gaze.characters - 10);
    expect(await takeGaze(store, secret, piece(1, 4, [10]))).toMatchObject({ ok: true });
    expect(await takeGaze(store, secret, piece(2, 5, [20]))).toMatchObject({
      ...{ ok: false, isFull: true },
      reason: expect.stringContaining("as much gaze as it may today") as string,
    });
    expect(await intakeProblem(store, store.db, study.id, null, true)).toBeNull();
    expect(await intakeInWords(store, study.id)).toContain("stays with the bridge");
  });
  it("go when their session is removed", async () => {
    const { store, study, secret, session } = await watched();
    await takeGaze(store, secret, piece(1, 4, [10, 20]));
    await store.db.transaction().execute((trx) => removeSessions(trx, study.id, [session]));
    expect(await store.db.selectFrom("gaze_piece").selectAll().execute()).toEqual([]);
  });
});
