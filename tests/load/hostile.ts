import { readFileSync } from "node:fs";
import { Agent, request } from "node:http";
import { connect } from "node:net";
import { strToU8, unzipSync, zipSync } from "fflate";
import { plannedAssignment } from "~/core/allocate/allocate";
import { plainModel, simulateSession } from "~/core/simulate/participant";
import type { SessionRecord } from "~/core/records/record";
import type { SessionData } from "~/core/run/session-data";
import type { StudyDocument } from "~/core/design/document";
import { newSecret } from "~/server/chance";
import { startServer } from "~/tests/support/server";
import { freshFolder, freshStore, released } from "~/tests/support/store";
import { withBlock, plainStudy } from "~/tests/support/studies";
import { freezeRelease } from "~/server/releases";
import { addStudy } from "~/server/studies";
import { fourHead, fourOf, machineFacts, seededChance, tableOf, watchSteal } from "./machine";

export type HostileChoice = { attacks: number; participants: number; every: number; seed: number };
export type HostileOutcome = {
  died: boolean;
  /** Answers with a status of 500 or more, by what was asked. */
  broken: string[];
  /** Answers that took longer than two seconds, by what was asked. */
  slow: string[];
  lost: number;
  acknowledgedMs: number[];
  exportFailed: string | null;
  report: string;
};

type Chance = () => number;
const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const one = <T>(chance: Chance, all: readonly T[]): T => all[Math.floor(chance() * all.length)] as T;

const oddValues = (chance: Chance): unknown =>
  one<unknown>(chance, [
    null,
    -1,
    0,
    0.5,
    1e308,
    10_000_000,
    "",
    "x".repeat(5000),
    "\u0000",
    "\ud800",
    "=1+1",
    "../../etc",
    "__proto__",
    [],
    {},
    true,
    [[[[[[[[[]]]]]]]]],
    { __proto__: null, constructor: 1 },
    Array.from({ length: 2000 }, () => 1),
    "(a+)+$".repeat(20),
    "<script>alert(1)</script>",
  ]);

/** The same value with one of what it holds, at any depth, made strange, left out, doubled or renamed. */
function mutated(value: unknown, chance: Chance): unknown {
  if (typeof value !== "object" || value === null || chance() < 0.08) return oddValues(chance);
  if (Array.isArray(value)) {
    if (value.length === 0 || chance() < 0.15) return [...(value as unknown[]), oddValues(chance)];
    const at = Math.floor(chance() * value.length);
    const copy = [...(value as unknown[])];
    const how = chance();
    if (how < 0.1) copy.splice(at, 1);
    else if (how < 0.2) copy.push(copy[at]);
    else copy[at] = mutated(copy[at], chance);
    return copy;
  }
  const entries = Object.entries(value);
  if (entries.length === 0) return { odd: oddValues(chance) };
  const [key, inner] = one(chance, entries);
  const copy = { ...(value as Record<string, unknown>) };
  const how = chance();
  if (how < 0.1) delete copy[key];
  else if (how < 0.2) copy[`${key}x`] = inner;
  else copy[key] = mutated(inner, chance);
  return copy;
}

/** Bytes with some of them changed, cut or repeated. */
function damaged(bytes: Uint8Array, chance: Chance): Uint8Array<ArrayBuffer> {
  const copy = new Uint8Array(bytes);
  for (let count = 0; count < 1 + chance() * 20; count++)
    copy[Math.floor(chance() * copy.length)] = Math.floor(chance() * 256);
  return chance() < 0.3 ? copy.slice(0, Math.floor(chance() * copy.length)) : copy;
}

const megabytes = (piece: string) => piece.repeat(1_000_000 / piece.length);
const svg = (inner: string) => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 3">${inner}</svg>`;
/** Files that once took all time or memory, and a few good ones to be damaged. */
const files = (): [string, Uint8Array][] => [
  ["comments.svg", strToU8(megabytes("<!--"))],
  ["addresses.svg", strToU8(svg(megabytes("href=")))],
  ["blanks.svg", strToU8(svg(`<rect x="${megabytes(" ")}"/>`))],
  ["nested.svg", strToU8(svg(megabytes("<g>")))],
  ["script.svg", strToU8(svg("<script>1</script>"))],
  ["good.svg", strToU8(svg('<rect width="4" height="3"/>'))],
  ["page.html", strToU8("<!doctype html><p>Turn</p>")],
  [
    "styles.zip",
    zipSync({ "index.html": strToU8("<!doctype html><style>a{}</style>"), "a.css": strToU8(megabytes("url(")) }),
  ],
  ["deep.zip", zipSync({ "index.html": strToU8(`<!doctype html>${"<div>".repeat(60_000)}`) })],
  ["bomb.zip", zipSync({ "index.html": strToU8("<!doctype html>"), big: new Uint8Array(60_000_000) })],
  ["sound.wav", new Uint8Array([...strToU8("RIFF"), 36, 0, 0, 0, ...strToU8("WAVEfmt "), ...new Uint8Array(28)])],
];

/** What is sent without any HTTP library. */
const rawRequests = (port: number): string[] => {
  const host = `Host: localhost:${port}\r\n`;
  return [
    `TRACE / HTTP/1.1\r\n${host}\r\n`,
    `CONNECT example.org:443 HTTP/1.1\r\n${host}\r\n`,
    `PUT /studies HTTP/1.1\r\n${host}Content-Length: 0\r\n\r\n`,
    `GET / HTTP/1.1\r\nHost: evil.example\r\n\r\n`,
    `GET / HTTP/1.1\r\nHost: ]bad[\r\n\r\n`,
    `GET / HTTP/1.1\r\n\r\n`,
    `GET /%zz%00 HTTP/1.1\r\n${host}\r\n`,
    `GET /studies/%E0%A4%A HTTP/1.1\r\n${host}\r\n`,
    `GET /sign-in HTTP/1.1\r\n${host}X-Forwarded-Host: ]bad[\r\nX-Forwarded-Proto: gopher\r\n\r\n`,
    `GET /sign-in HTTP/1.1\r\n${host}X-Forwarded-For: ${"1,".repeat(3000)}\r\n\r\n`,
    `GET /sign-in HTTP/1.1\r\n${host}Cookie: ${"a=b;".repeat(3000)}\r\n\r\n`,
    `POST /sign-in HTTP/1.1\r\n${host}Content-Length: 40000000\r\n\r\n`,
    `POST /sign-in HTTP/1.1\r\n${host}Transfer-Encoding: chunked\r\n\r\nfffffff\r\n`,
    `POST /sign-in HTTP/1.1\r\n${host}Content-Length: abc\r\n\r\n`,
    `POST /sign-in HTTP/1.1\r\n${host}Content-Type: multipart/form-data\r\nContent-Length: 3\r\n\r\nabc`,
    `POST /studies.data?do=import HTTP/1.1\r\n${host}Content-Type: multipart/form-data; boundary=x\r\nContent-Length: 4\r\n\r\n--x-`,
    `POST /api/join/x HTTP/1.1\r\n${host}Content-Type: text/xml\r\nContent-Length: 3\r\n\r\n<a>`,
    "\u0000\u0001\u0002\r\n\r\n",
    `GET / HTTP/9.9\r\n${host}\r\n`,
    `GET /__manifest?p=${"/x".repeat(3000)} HTTP/1.1\r\n${host}\r\n`,
    `GET /studies.data?_routes=${"%5B".repeat(500)} HTTP/1.1\r\n${host}\r\n`,
    `GET /pages/session/x/y/z HTTP/1.1\r\n${host}\r\n`,
    `GET //evil.example/%2f.. HTTP/1.1\r\n${host}\r\n`,
  ];
};

/**
 * Attacks a server in every way we know while participants take part: damaged documents, patches, records, logs, starts and
 * files, and raw requests. What is sent follows from the seed.
 */
export async function hostile(choice: HostileChoice): Promise<HostileOutcome> {
  const facts = machineFacts();
  const stolen = watchSteal();
  const chance = seededChance(choice.seed);
  const odd = files();
  const folder = freshFolder();
  const { store, study, link } = await released(
    withBlock(plainStudy(), (block) => void (block.order.passes = 200)),
    folder,
  );
  // A release of an earlier version that asks for more than a session may have.
  const large = withBlock(plainStudy(), (block) => {
    for (const row of block.table.rows) row.copies = 10_000;
    block.order.passes = 1000;
  });
  const small = await addStudy(store, study.ownerId, plainStudy());
  const second = await freezeRelease(store, small, "To be too large.");
  if (!second.ok) throw new Error("not released");
  await store.db
    .updateTable("release")
    .set({ document: JSON.stringify(large) })
    .where("id", "=", second.release.id)
    .execute();
  await store.close();
  const server = await startServer({ folder });
  const { port } = server;
  const pid = server.process.pid ?? 0;
  let died = false;
  let said = "";
  server.process.stderr?.on("data", (piece: Buffer) => (said = (said + piece.toString()).slice(-4000)));
  server.process.once("exit", () => (died = true));
  const slow: string[] = [];
  const agent = new Agent({ keepAlive: true, maxSockets: choice.participants + 100 });
  const call = (
    method: string,
    path: string,
    headers: Record<string, string | number>,
    body?: Uint8Array | string,
  ): Promise<{ status: number; body: Buffer; headers: Record<string, unknown> }> =>
    new Promise((resolve, reject) => {
      const from = performance.now();
      const asked = request(
        {
          host: "127.0.0.1",
          port,
          agent,
          method,
          path,
          timeout: 60_000,
          headers: { ...(body === undefined ? {} : { "content-length": Buffer.byteLength(body) }), ...headers },
        },
        (response) => {
          // A long file takes its time; that it begins is the answer.
          const took = performance.now() - from;
          if (took > 2000) slow.push(`${method} ${path}: ${Math.round(took)} ms`);
          const pieces: Buffer[] = [];
          response.on("data", (piece: Buffer) => pieces.push(piece));
          response.on("end", () =>
            resolve({ status: response.statusCode ?? 0, body: Buffer.concat(pieces), headers: response.headers }),
          );
          response.on("error", reject);
        },
      );
      asked.on("timeout", () => asked.destroy(new Error("no answer")));
      asked.on("error", reject);
      asked.end(body);
    });
  const json = { "content-type": "application/json" };
  const form = { "content-type": "application/x-www-form-urlencoded" };
  const signedIn = await call(
    "POST",
    "/sign-in",
    form,
    new URLSearchParams({ email: "owner@lapwing.example", password: "a long password" }).toString(),
  );
  const cookie = String((signedIn.headers["set-cookie"] as string[] | undefined)?.[0] ?? "").split(";")[0] ?? "";

  // Those who take part, with records that follow by the plan.
  type Person = { secret: string; records: SessionRecord[]; made: number; acknowledged: number };
  const document = withBlock(plainStudy(), (block) => void (block.order.passes = 200));
  const begin = async (): Promise<Person> => {
    const secret = newSecret();
    const { status, body } = await call("POST", `/api/join/${link.token}`, json, JSON.stringify({ secret }));
    if (status !== 200) throw new Error(`A start was answered with ${status}: ${body.toString()}`);
    const data = JSON.parse(body.toString()) as SessionData;
    const assignment = { ...plannedAssignment(document, data.participant), group: data.group, orders: data.orders };
    const { records } = simulateSession(document, data.participant, assignment, data.seed, plainModel);
    return { secret, records, made: 0, acknowledged: 0 };
  };
  const people: Person[] = [];
  for (let count = 0; count < choice.participants; count++) people.push(await begin());
  const acknowledgedMs: number[] = [];
  const healthMs: number[] = [];
  const memory: number[] = [];
  let isOver = false;
  let refusedHonest = 0;
  let cut = 0;
  const takePart = async (person: Person, offset: number) => {
    await sleep(offset);
    while (!isOver) {
      if (person.made < person.records.length) person.made++;
      const records = person.records.slice(person.acknowledged, person.made);
      const asked = performance.now();
      const { status, body } = await call(
        "POST",
        "/api/session/records",
        { ...json, authorization: `Bearer ${person.secret}` },
        JSON.stringify({ records, log: [] }),
      ).catch((error: unknown) => ({ status: 0, body: Buffer.from(String(error)) }));
      if (status === 200) {
        acknowledgedMs.push(performance.now() - asked);
        person.acknowledged = (JSON.parse(body.toString()) as { acknowledged: number }).acknowledged;
      } else if (status !== 429) {
        // A connection that is cut is tried again, as a player does.
        if (status !== 0) refusedHonest++;
        else cut++;
      }
      await sleep(choice.every * 1000 * (0.75 + 0.5 * chance()));
    }
  };
  const taking = people.map((person) => takePart(person, choice.every * 1000 * chance()));
  const watching = (async () => {
    while (!isOver) {
      const asked = performance.now();
      await call("GET", "/healthz", {}).catch(() => undefined);
      healthMs.push(performance.now() - asked);
      const status = died ? "" : readFileSync(`/proc/${pid}/status`, "utf8");
      memory.push(Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024);
      await sleep(100);
    }
  })();

  const broken: string[] = [];
  const answers = new Map<string, Map<string, number>>();
  const attack = async (what: string, made: () => Promise<number | string>) => {
    const status = await made().catch((error: unknown) => (error instanceof Error ? error.message : "cut"));
    const own = answers.get(what) ?? new Map<string, number>();
    answers.set(what, own);
    own.set(String(status), (own.get(String(status)) ?? 0) + 1);
    if (typeof status === "number" && status >= 500) broken.push(`${what}: ${status}`);
  };
  const edits = `/studies/${study.code}/edits`;
  const current = async () =>
    JSON.parse((await call("GET", edits, { cookie })).body.toString()) as { revision: number; document: StudyDocument };
  const multipart = (name: string, content: Uint8Array) => {
    const head = `--cut\r\nContent-Disposition: form-data; name="file"; filename="${name}"\r\n\r\n`;
    return Buffer.concat([Buffer.from(head), content, Buffer.from("\r\n--cut--\r\n")]);
  };
  const asForm = { "content-type": "multipart/form-data; boundary=cut", cookie };
  const victim = await begin();
  const hostileSession = { ...json, authorization: `Bearer ${victim.secret}` };
  const raw = rawRequests(port);
  const kinds: Record<string, () => Promise<number | string>> = {
    documents: async () => {
      const { document: there } = await current();
      const text = chance() < 0.1 ? "[".repeat(200_000) : JSON.stringify(mutated(there, chance));
      return (await call("POST", "/studies.data?do=import", asForm, multipart("s.lapwing.json", strToU8(text)))).status;
    },
    "zipped studies": async () => {
      const { document: there } = await current();
      const whole = zipSync({ "study.lapwing.json": strToU8(JSON.stringify(there)) });
      const content =
        chance() < 0.2 ? (odd.find(([name]) => name === "bomb.zip")?.[1] ?? whole) : damaged(whole, chance);
      return (await call("POST", "/studies?do=import", asForm, multipart("s.lapwing.zip", content))).status;
    },
    patches: async () => {
      const { revision } = await current();
      const patch = { op: "replace", path: ["parts", "block-1", "table", "rows", 0, "copies"], value: 2 };
      const list = mutated([patch, { op: "add", path: ["groups", Math.floor(chance() * 1e8)], value: {} }], chance);
      const body = JSON.stringify({ base: revision, patches: list, inverse: chance() < 0.5 ? [] : list });
      return (await call("POST", edits, { ...json, cookie }, body)).status;
    },
    records: async () => {
      const record: Record<string, unknown> = { ...one(chance, victim.records.slice(0, 30)) };
      // As earlier versions sent them.
      if (chance() < 0.3) {
        delete record.answers;
        Object.assign(record, { answer: { value: "f", rt: 300 }, tooLate: null, right: true, outcome: "right" });
      }
      const body =
        chance() < 0.05 ? "[".repeat(300_000) : JSON.stringify({ records: [mutated(record, chance)], log: [] });
      return (await call("POST", "/api/session/records", hostileSession, body)).status;
    },
    "forged ends": async () => {
      const { secret } = await begin();
      const bearer = { ...json, authorization: `Bearer ${secret}` };
      const forged = [{ kind: "end", number: Math.ceil(chance() * 3), at: chance() * 1e6 }];
      const { status, body } = await call("POST", "/api/session/records", bearer, JSON.stringify({ records: forged }));
      if (body.toString().includes('"finished":true')) return "a forged end was believed";
      return status;
    },
    logs: async () => {
      const chunk = {
        opening: "a",
        number: Math.floor(chance() * 1e6),
        entries: [{ at: 1, what: "key-down", value: "f" }],
      };
      const body = JSON.stringify({ records: [], log: mutated([chunk], chance) });
      return (await call("POST", "/api/session/records", hostileSession, body)).status;
    },
    starts: async () => {
      const start = { secret: newSecret(), parameters: { participant: "tern" }, documentApart: true };
      const token = chance() < 0.3 ? second.link?.token : link.token;
      return (await call("POST", `/api/join/${token}`, json, JSON.stringify(mutated(start, chance)))).status;
    },
    "guessed codes": async () => {
      const body = JSON.stringify({ secret: newSecret(), goOn: "AAAA-AAAA" });
      return (await call("POST", `/api/join/${link.token}`, json, body)).status;
    },
    media: async () => {
      const [name, content] = one(chance, odd);
      const bytes = chance() < 0.5 ? content : damaged(content, chance);
      return (await call("POST", `/studies/${study.code}/media`, asForm, multipart(name, bytes))).status;
    },
    "saved answers": async () => {
      const saved = { session: "s-x", records: victim.records.slice(0, 5), log: [] };
      const content = strToU8(JSON.stringify(mutated(saved, chance)));
      return (await call("POST", `/studies/${study.code}/answers`, asForm, multipart("a.json", content))).status;
    },
    forms: async () => {
      const path = one(chance, [
        "/sign-in",
        "/first-account",
        "/account",
        "/studies?do=new",
        "/self-test",
        "/studies.data?do=delete",
      ]);
      const body = chance() < 0.2 ? "a=%zz&".repeat(10_000) : `email=${"a".repeat(chance() * 90_000)}&title=x`;
      const headers = one<Record<string, string>>(chance, [form, { ...form, cookie }, { ...json, cookie }, asForm]);
      return (await call("POST", path, headers, body)).status;
    },
    addresses: async () => {
      const path = one(chance, [
        "results",
        "plan",
        "edits?at=-1",
        "edits?at=1e9",
        "data?format=x",
        "sequences.csv?participants=1e9",
        "releases/1e9",
        "history",
        "kept-aside/x",
        "privacy?who=%00",
        "participants/99999999",
        "collecting?page=1e9",
        "rehearsals?session=x",
        "fired?rule=x",
        "results.data?tab=records&page=1e9&sort=%00",
      ]);
      return (await call("GET", `/studies/${study.code}/${path}`, { cookie })).status;
    },
    raw: () =>
      new Promise<number | string>((resolve) => {
        const socket = connect(port, "127.0.0.1", () => socket.write(one(chance, raw)));
        let text = "";
        const settle = () => {
          socket.destroy();
          resolve(Number(/^HTTP\/1\.1 (\d{3})/.exec(text)?.[1] ?? 0) || "cut");
        };
        socket.on("data", (piece) => {
          text += piece.toString();
          if (text.includes("\r\n")) settle();
        });
        socket.on("close", settle);
        socket.on("error", settle);
        socket.setTimeout(1500, settle);
      }),
  };
  const names = process.env.LAPWING_KINDS?.split(",") ?? Object.keys(kinds);
  const began = performance.now();
  const atOnce = 4;
  let left = choice.attacks;
  const attacker = async () => {
    while (left-- > 0 && !died) {
      const name = names[left % names.length] as string;
      await attack(name, kinds[name] as () => Promise<number | string>);
    }
  };
  await Promise.all(Array.from({ length: atOnce }, attacker));
  const seconds = (performance.now() - began) / 1000;
  isOver = true;
  await Promise.all([...taking, watching]);

  // Nothing of it breaks what is read.
  let exportFailed: string | null = null;
  if (!died)
    try {
      const whole = await call("GET", `/studies/${study.code}/data`, { cookie });
      const zip = unzipSync(new Uint8Array(whole.body));
      if (whole.status !== 200 || !zip["trials.csv"]) exportFailed = `status ${whole.status}`;
      for (const page of ["results?tab=records", "results?tab=timing", "results", "collect", "privacy"]) {
        const { status } = await call("GET", `/studies/${study.code}/${page}`, { cookie });
        if (status !== 200) exportFailed = `${page}: ${status}`;
      }
    } catch (error) {
      exportFailed = error instanceof Error ? error.message : String(error);
    }
  const hasDied = died;
  await server.stop("SIGKILL");
  const reopened = await freshStore(folder);
  let lost = 0;
  for (const { acknowledged, records, secret } of people) {
    const { secretHash } = await import("~/server/chance");
    const rows = await reopened.db
      .selectFrom("record")
      .innerJoin("session", "session.id", "record.session_id")
      .select(["record.number", "record.body"])
      .where("session.token_hash", "=", secretHash(secret))
      .orderBy("record.number")
      .execute();
    for (let index = 0; index < acknowledged; index++) if (rows[index]?.body !== JSON.stringify(records[index])) lost++;
  }
  lost += refusedHonest;
  const counted = [...answers].map(([what, own]) => [
    what,
    [...own]
      .sort((a, b) => b[1] - a[1])
      .map(([status, count]) => `${count} × ${status}`)
      .join(", "),
  ]);
  if (hasDied || process.env.LAPWING_SAID) console.error(said);
  const report = [
    `hostile, seed ${choice.seed}: ${facts}; ${stolen()}`,
    `${choice.attacks} attacks in ${seconds.toFixed(0)} s, ${atOnce} at once, while ${choice.participants} participants sent a record each ${choice.every} s; ${cut} of their sendings were cut`,
    tableOf([["attack", "answers"], ...counted]),
    tableOf([
      ["ms", "count", ...fourHead],
      ["acknowledged", acknowledgedMs.length, ...fourOf(acknowledgedMs)],
      ["/healthz meanwhile", healthMs.length, ...fourOf(healthMs)],
      ["server's memory, MiB", memory.length, ...fourOf(memory, 0)],
    ]),
  ].join("\n");
  return { died: hasDied, broken, slow, lost, acknowledgedMs, exportFailed, report };
}
