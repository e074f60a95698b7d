import { cpus } from "node:os";
import { expect, it } from "vitest";
import { plannedAssignment } from "~/core/allocate/allocate";
import { simulateSession } from "~/core/simulate/participant";
import { demoModel } from "~/demo/add-demo";
import { wadersFromSource } from "~/demo/make-files";
import { startServer } from "../support/server";
import { freshFolder, released } from "../support/store";

/** The export over HTTP from the production build: rows per second, and how long others wait for an answer meanwhile. */
const sessions = [250, 1000];
const runs = 7;
const quantile = (sorted: number[], share: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;

it.each(sessions)("exports %d sessions of the demo study", async (count) => {
  const { document } = wadersFromSource("demo");
  const folder = freshFolder();
  const { store, study } = await released(document, folder);
  const release = await store.db.selectFrom("release").select("id").executeTakeFirstOrThrow();
  let rows = 0;
  for (let participant = 1; participant <= count; participant++) {
    const group = plannedAssignment(document, participant).group;
    const { records } = simulateSession(document, participant, { group, orders: {} }, "bench", demoModel);
    const id = `s-${participant}`;
    const at = "2026-01-01T00:00:00Z";
    await store.db.transaction().execute(async (trx) => {
      await trx
        .insertInto("session")
        .values({
          ...{ id, study_id: study.id, release_id: release.id, link_token: null, token_hash: id, participant },
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
  const lines = [
    `${cpus().length} cores, ${cpus()[0]?.model ?? ""}, Node.js ${process.version}; ${rows} rows, ${runs} runs`,
  ];
  for (const path of ["trials.csv", "data"]) {
    const speeds: number[] = [];
    const waits: number[] = [];
    for (let run = 0; run < runs; run++) {
      let isDone = false;
      const others = (async () => {
        while (!isDone) {
          const asked = performance.now();
          await (await fetch(`${origin}/healthz`)).arrayBuffer();
          waits.push(performance.now() - asked);
          await new Promise((resolve) => setTimeout(resolve, 10));
        }
      })();
      const start = performance.now();
      const response = await fetch(`${origin}/studies/${study.code}/${path}`, { headers: { cookie } });
      const bytes = (await response.arrayBuffer()).byteLength;
      speeds.push((rows / (performance.now() - start)) * 1000);
      isDone = true;
      await others;
      expect(response.status).toBe(200);
      expect(bytes).toBeGreaterThan(rows);
    }
    speeds.sort((a, b) => a - b);
    waits.sort((a, b) => a - b);
    const [low, middle, high] = [0, 0.5, 1].map((share) => Math.round(quantile(speeds, share)).toLocaleString("en"));
    const wait = [0.5, 0.99, 1].map((share) => quantile(waits, share).toFixed(1)).join(" / ");
    lines.push(
      `${path}: ${low} / ${middle} / ${high} rows/s (lowest, median, highest); another request waited ${wait} ms (median, 99th percentile, most; ${waits.length} asked)`,
    );
  }
  await server.stop();
  console.log(lines.join("\n"));
});
