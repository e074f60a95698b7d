import { plannedAssignment } from "~/core/allocate/allocate";
import { simulateSession } from "~/core/simulate/participant";
import { demoModel } from "~/demo/add-demo";
import { wadersFromSource } from "~/demo/make-files";
import { startServer, type Running } from "./server";
import { freshFolder, released } from "./store";

/**
 * A running server with so many finished sessions of the demo study, the study's code and link, and the cookie of its owner.
 * Only the first `withRecords` have records.
 */
export async function serverWithSessions(
  count: number,
  withRecords = count,
): Promise<{ server: Running; code: string; link: string; cookie: string; rows: number }> {
  const { document } = wadersFromSource("demo");
  const folder = freshFolder();
  const { store, study, link } = await released(document, folder);
  const wave_id = link.waveId;
  const release = await store.db.selectFrom("release").select("id").executeTakeFirstOrThrow();
  let rows = 0;
  for (let participant = 1; participant <= count; participant++) {
    const group = plannedAssignment(document, participant).group;
    const { records } =
      participant <= withRecords
        ? simulateSession(document, participant, { group, orders: {} }, "bench", demoModel)
        : { records: [] };
    const id = `s-${participant}`;
    const at = "2026-01-01T00:00:00Z";
    await store.db.transaction().execute(async (trx) => {
      await trx
        .insertInto("session")
        .values({
          ...{ id, study_id: study.id, release_id: release.id, wave_id, link_token: null, token_hash: id, participant },
          ...{ group_id: group, pilot: 0, state: "finished", records: records.length, trials: 92, trials_planned: 92 },
          ...{ part: null, code: "x", started_at: at, seen_at: at, finished_at: at, browser: "" },
        })
        .execute();
      for (const record of records) {
        const { number, kind } = record;
        const body = JSON.stringify(record);
        await trx.insertInto("record").values({ session_id: id, number, kind, body, received_at: at }).execute();
      }
    });
    rows += records.filter(({ kind }) => kind === "trial").length;
  }
  await store.close();

  const server = await startServer({ folder });
  const form = new URLSearchParams({ email: "owner@lapwing.example", password: "a long password" });
  const origin = server.address;
  const signedIn = await fetch(`${origin}/sign-in`, {
    method: "POST",
    body: form,
    headers: { origin },
    redirect: "manual",
  });
  const cookie = signedIn.headers.get("set-cookie")?.split(";")[0] ?? "";
  return { server, code: study.code, link: link.token, cookie, rows };
}
