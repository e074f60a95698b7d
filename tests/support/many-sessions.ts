import { plannedAssignment } from "~/core/allocate/allocate";
import { simulateSession } from "~/core/simulate/participant";
import type { SessionRecord } from "~/core/records/record";
import { demoModel } from "~/demo/add-demo";
import { wadersFromSource } from "~/demo/make-files";
import { startServer, type Running } from "./server";
import { freshFolder, released } from "./store";

/**
 * A running server with so many finished sessions of the demo study, the study's code and link, and the cookie of its owner.
 * Only the first `withRecords` have records; `different` of them were played, and the others are copies of these.
 */
export async function serverWithSessions(
  count: number,
  withRecords = count,
  different = count,
): Promise<{ server: Running; code: string; link: string; cookie: string; rows: number }> {
  const { document } = wadersFromSource("demo");
  const folder = freshFolder();
  const { store, study, link } = await released(document, folder);
  const wave_id = link.waveId;
  const release = await store.db.selectFrom("release").select("id").executeTakeFirstOrThrow();
  const played: { group: string; records: { number: number; kind: SessionRecord["kind"]; body: string }[] }[] = [];
  for (let participant = 1; participant <= Math.min(different, withRecords); participant++) {
    const { group } = plannedAssignment(document, participant);
    const { records } = simulateSession(document, participant, { group, orders: {} }, "bench", demoModel);
    played.push({
      group,
      records: records.map((record) => ({
        number: record.number,
        kind: record.kind,
        body: JSON.stringify(record),
      })),
    });
  }
  let rows = 0;
  const at = "2026-01-01T00:00:00Z";
  for (let from = 1; from <= count; from += 50)
    await store.db.transaction().execute(async (trx) => {
      for (let participant = from; participant < Math.min(from + 50, count + 1); participant++) {
        const id = `s-${participant}`;
        const copied = played[(participant - 1) % played.length];
        const group = copied?.group ?? plannedAssignment(document, participant).group;
        const records = participant <= withRecords ? (copied?.records ?? []) : [];
        await trx
          .insertInto("session")
          .values({
            ...{
              id,
              study_id: study.id,
              release_id: release.id,
              wave_id,
              link_token: null,
              token_hash: id,
              participant,
            },
            ...{
              group_id: group,
              pilot: 0,
              state: "finished",
              records: records.length,
              trials: 92,
              trials_planned: 92,
            },
            ...{ part: null, started_at: at, seen_at: at, finished_at: at, browser: "" },
          })
          .execute();
        for (let first = 0; first < records.length; first += 100)
          await trx
            .insertInto("record")
            .values(records.slice(first, first + 100).map((record) => ({ session_id: id, ...record, received_at: at })))
            .execute();
        rows += records.filter(({ kind }) => kind === "trial").length;
      }
    });
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
