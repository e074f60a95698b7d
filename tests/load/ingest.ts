import { rmSync } from "node:fs";
import { Agent, request } from "node:http";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import { plannedAssignment } from "~/core/allocate/allocate";
import { freshFolder, releasedAt, withBlockOf } from "~/tests/load/long-study";
import { simulateSession, plainModel } from "~/core/simulate/participant";
import type { SessionData } from "~/core/run/session-data";
import type { SessionRecord } from "~/core/records/record";
import { newSecret } from "~/server/chance";
import { startServer, type Running } from "~/tests/support/server";
import { memoryOf } from "./steady";
import { fourHead, fourOf, machineFacts, seededChance, tableOf } from "./machine";

export type IngestChoice = {
  participants: number;
  seconds: number;
  /** Seconds between two records of a participant. */
  every: number;
  /** How often the server is killed and started again. */
  kills: number;
  /** Pictures asked for by participants in a second. */
  picturesPerSecond: number;
  seed: number;
};
export type IngestOutcome = {
  lost: number;
  doubled: number;
  differing: number;
  acknowledgedMs: number[];
  report: string;
};

type Participant = {
  secret: string;
  session: string;
  records: SessionRecord[];
  /** Records made so far, and up to which they are acknowledged. */
  made: number;
  acknowledged: number;
  isSending: boolean;
  failures: number;
  due: number;
  retryAt: number;
};

const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * Many participants send records at their own pace over connections of their own, and load pictures meanwhile; the server
 * is killed without warning and started again. What every one of them sent is compared with what lies in the database.
 */
export async function ingest(choice: IngestChoice): Promise<IngestOutcome> {
  const facts = machineFacts();
  const chance = seededChance(choice.seed);
  const document = withBlockOf(Math.ceil(choice.seconds / choice.every) + 20);
  const { folder, token, pictures } = await releasedAt(freshFolder(), document);
  let server: Running = await startServer({ folder });
  const { port } = server;
  const agent = new Agent({ keepAlive: true, maxSockets: choice.participants + 50 });
  const call = (method: string, path: string, secret: string | null, body?: string) =>
    new Promise<{ status: number; text: string }>((resolve, reject) => {
      const asked = request(
        {
          host: "127.0.0.1",
          port,
          agent,
          method,
          path,
          timeout: 20_000,
          headers: {
            ...(secret ? { Authorization: `Bearer ${secret}` } : {}),
            ...(body === undefined
              ? {}
              : { "Content-Type": "application/json", "Content-Length": Buffer.byteLength(body) }),
          },
        },
        (response) => {
          const pieces: Buffer[] = [];
          response.on("data", (piece: Buffer) => pieces.push(piece));
          response.on("end", () =>
            resolve({ status: response.statusCode ?? 0, text: Buffer.concat(pieces).toString("utf8") }),
          );
          response.on("error", reject);
        },
      );
      asked.on("timeout", () => asked.destroy(new Error("timeout")));
      asked.on("error", reject);
      asked.end(body);
    });

  // Everybody starts first, a few at a time, as a class does.
  const people: Participant[] = [];
  const startedMs: number[] = [];
  const starting = Array.from({ length: choice.participants }, () => newSecret());
  const startOne = async (secret: string) => {
    const asked = performance.now();
    let { text, status } = await call("POST", `/api/join/${token}`, null, JSON.stringify({ secret }));
    for (
      ;
      status === 429;
      { text, status } = await call("POST", `/api/join/${token}`, null, JSON.stringify({ secret }))
    )
      await sleep(2000);
    if (status !== 200) throw new Error(`A start was answered with ${status}: ${text}`);
    startedMs.push(performance.now() - asked);
    const data = JSON.parse(text) as SessionData;
    const assignment = plannedAssignment(document, data.participant);
    const { records } = simulateSession(
      document,
      data.participant,
      { ...assignment, group: data.group },
      data.seed,
      plainModel,
    );
    people.push({
      secret,
      session: data.session,
      records,
      made: 0,
      acknowledged: 0,
      isSending: false,
      failures: 0,
      due: chance() * choice.every * 1000,
      retryAt: 0,
    });
  };
  for (let from = 0; from < starting.length; from += 25)
    await Promise.all(starting.slice(from, from + 25).map(startOne));

  const calm: number[] = [];
  const troubled: number[] = [];
  const memory: number[] = [];
  let failures = 0;
  const reasons = new Map<string, number>();
  let loaded = 0;
  let troubleUntil = 0;
  const began = performance.now();
  const now = () => performance.now() - began;
  const send = async (one: Participant) => {
    one.isSending = true;
    const asked = performance.now();
    const records = one.records.slice(one.acknowledged, Math.min(one.made, one.acknowledged + 200));
    const log = [
      { opening: "load", number: one.made, entries: [{ at: now(), what: "key-down", trial: 1, value: "f KeyF" }] },
    ];
    try {
      const { status, text } = await call("POST", "/api/session/records", one.secret, JSON.stringify({ records, log }));
      if (status !== 200) throw new Error(`${status} ${text}`);
      one.acknowledged = (JSON.parse(text) as { acknowledged: number }).acknowledged;
      one.failures = 0;
      (now() < troubleUntil ? troubled : calm).push(performance.now() - asked);
    } catch (error) {
      failures++;
      const why = error instanceof Error ? error.message.slice(0, 40) : String(error);
      reasons.set(why, (reasons.get(why) ?? 0) + 1);
      one.retryAt = now() + Math.min(15_000, 500 * 2 ** one.failures++) * (0.75 + 0.5 * chance());
    } finally {
      one.isSending = false;
    }
  };
  const killing = (async () => {
    for (let kill = 1; kill <= choice.kills; kill++) {
      const at = ((kill - 0.2 - 0.6 * chance()) / choice.kills) * choice.seconds * 1000;
      await sleep(Math.max(0, at - now()));
      troubleUntil = Infinity;
      await server.stop("SIGKILL");
      await sleep(200 + 1500 * chance());
      server = await startServer({ folder, port });
      // Until what was held back meanwhile has come in.
      troubleUntil = now() + 20_000;
    }
  })();
  const watching = setInterval(() => memory.push(memoryOf(server.process.pid)), 2000);
  const loading = setInterval(() => {
    for (let each = 0; each < choice.picturesPerSecond / 10; each++) {
      const one = people[Math.floor(chance() * people.length)];
      const picture = pictures[Math.floor(chance() * pictures.length)];
      if (one && picture)
        void call("GET", `/api/session/media/${picture}`, one.secret).then(
          ({ status }) => (loaded += status === 200 ? 1 : 0),
          () => undefined,
        );
    }
  }, 100);
  const isOver = () => now() > choice.seconds * 1000;
  for (;;) {
    let waiting = 0;
    for (const one of people) {
      while (!isOver() && now() >= one.due && one.made < one.records.length) {
        one.made++;
        one.due += choice.every * 1000;
      }
      if (one.made > one.acknowledged) {
        waiting++;
        if (!one.isSending && now() >= one.retryAt) void send(one);
      }
    }
    if (isOver() && waiting === 0) break;
    if (now() > choice.seconds * 1000 + 120_000) break;
    await sleep(4);
  }
  await killing;
  clearInterval(watching);
  clearInterval(loading);
  await sleep(300);
  await server.stop("SIGKILL");
  agent.destroy();
  const found = compared(folder, people);
  rmSync(folder, { recursive: true, force: true });
  return { ...found, ...told() };

  function told(): Pick<IngestOutcome, "acknowledgedMs" | "report"> {
    const made = people.reduce((sum, { made }) => sum + made, 0);
    const { lost, doubled, differing } = found;
    return {
      acknowledgedMs: calm,
      report: [
        `ingest, seed ${choice.seed}: ${facts}`,
        `${choice.participants} participants, a record each ${choice.every} s for ${choice.seconds} s, ${loaded} pictures loaded meanwhile, server killed ${choice.kills} times, ${failures} sendings failed and were repeated${reasons.size > 0 ? ` (${[...reasons].map(([why, times]) => `${times} × ${why}`).join("; ")})` : ""}`,
        tableOf([
          ["ms", "count", ...fourHead],
          ["start of a session", startedMs.length, ...fourOf(startedMs, 0)],
          ["acknowledged", calm.length, ...fourOf(calm)],
          ["within 20 s of a kill", troubled.length, ...fourOf(troubled, 0)],
          ["server's memory, MiB", memory.length, ...fourOf(memory, 0)],
        ]),
        `${made} records sent: ${lost} lost, ${doubled} doubled, ${differing} differing`,
      ].join("\n"),
    };
  }
}

/** What lies in the database beside what was sent. */
function compared(folder: string, people: Participant[]): Pick<IngestOutcome, "lost" | "doubled" | "differing"> {
  const db = new Sqlite(join(folder, "lapwing.db"), { readonly: true });
  const read = db.prepare("select number, body from record where session_id = ? order by number");
  let [lost, doubled, differing] = [0, 0, 0];
  for (const { session, records, made } of people) {
    const rows = read.all(session) as { number: number; body: string }[];
    const byNumber = new Map(rows.map(({ number, body }) => [number, body]));
    doubled += rows.length - byNumber.size;
    for (const record of records.slice(0, made)) {
      const body = byNumber.get(record.number);
      if (body === undefined) lost++;
      else if (JSON.stringify(JSON.parse(body)) !== JSON.stringify(record)) differing++;
    }
  }
  const { count } = db.prepare("select count(*) as count from refused_record").get() as { count: number };
  db.close();
  return { lost, doubled, differing: differing + count };
}
