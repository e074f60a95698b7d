import { mkdtempSync, rmSync } from "node:fs";
import { request as send } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { createAccount } from "~/server/accounts";
import { newSecret } from "~/server/chance";
import { mostBytesTo } from "~/server/http/bounds";
import { openStore } from "~/server/database/open";
import { freezeRelease } from "~/server/releases";
import { addStudy } from "~/server/studies";
import { allPaths } from "../support/addresses";
import { startServer, type Running } from "../support/server";
import { freshOwner } from "../support/store";
import { plainStudy } from "../support/studies";

/** Who may ask: everyone, whoever is signed in, the study's owner (what others may who work on it, `rights.test.ts` says), or who has the secret of a session. */
type Who = "everyone" | "signed in" | "owner" | "session";
type Kept = "public, max-age=3600" | "no-store" | "private" | "public";
type Line = { who: Who; gets: number | null; kept?: Kept; posts?: true; megabytes?: number };
const owner = (line: Partial<Line> = {}): Line => ({ who: "owner", gets: 200, kept: "no-store", ...line });

/** Every address there is, with `gets` as what somebody who may is answered (null: nothing is got there). */
const table: Record<string, Line> = {
  "/": { who: "everyone", gets: 302, kept: "no-store" },
  "/sign-in": { who: "everyone", gets: 200, kept: "no-store", posts: true },
  "/sign-in/provider": { who: "everyone", gets: 302, kept: "no-store" },
  "/sign-in/provider/back": { who: "everyone", gets: 302, kept: "no-store" },
  "/sign-out": { who: "everyone", gets: 302, kept: "no-store", posts: true },
  "/look-around": { who: "everyone", gets: 302, kept: "no-store", posts: true },
  "/first-account": { who: "everyone", gets: 302, kept: "no-store", posts: true },
  "/account": { who: "signed in", gets: 200, kept: "no-store", posts: true },
  "/team": { who: "signed in", gets: 200, kept: "no-store", posts: true },
  "/reading/:secret": { who: "everyone", gets: 404, kept: "no-store" },
  "/invited/:secret": { who: "everyone", gets: 404, kept: "no-store", posts: true },
  "/forgotten": { who: "everyone", gets: 200, kept: "no-store", posts: true },
  "/laboratory": { who: "signed in", gets: 200, kept: "no-store", posts: true },
  "/self-test": { who: "signed in", gets: 200, kept: "no-store", posts: true, megabytes: 4 },
  "/studies": { who: "signed in", gets: 200, kept: "no-store", posts: true, megabytes: 100 },
  "/take-in": { who: "signed in", gets: 200, kept: "no-store", posts: true, megabytes: 500 },
  "/studies/:code": owner({ gets: 302 }),
  "/studies/:code/plan": owner(),
  "/studies/:code/compose": owner(),
  "/studies/:code/rehearse": owner(),
  "/studies/:code/sessions/:session": owner({ gets: 404 }),
  "/studies/:code/collect": owner({ posts: true, megabytes: 2 }),
  "/studies/:code/results": owner(),
  "/studies/:code/together": owner({ posts: true }),
  "/studies/:code/people": owner({ posts: true }),
  "/studies/:code/laboratory": owner(),
  "/studies/:code/privacy": owner({ posts: true }),
  "/studies/:code/sittings/:wave": owner({ gets: 404 }),
  "/studies/:code/edits": owner({ posts: true, megabytes: 20 }),
  "/studies/:code/poster/:token": owner(),
  "/studies/:code/links/:set": owner({ gets: 404 }),
  "/studies/:code/history": owner({ posts: true }),
  "/studies/:code/rehearsals": owner({ posts: true }),
  "/studies/:code/opens": owner(),
  "/studies/:code/fired": owner(),
  "/studies/:code/rows": owner(),
  "/studies/:code/exclusions": owner({ gets: null, posts: true }),
  "/studies/:code/arrivals": owner(),
  "/studies/:code/recipes": owner({ gets: null, posts: true, megabytes: 1 }),
  "/studies/:code/paper": owner({ gets: null, posts: true, megabytes: 8 }),
  "/studies/:code/scores": owner({ gets: null, posts: true, megabytes: 8 }),
  "/studies/:code/recipes/:file": owner({ gets: 404 }),
  "/studies/:code/media": owner({ gets: null, posts: true, megabytes: 100 }),
  "/studies/:code/media/:sha256": owner({ gets: 404 }),
  "/studies/:code/collecting": owner(),
  "/studies/:code/releases/:number": owner({ kept: "private", posts: true }),
  "/studies/:code/file": owner(),
  "/studies/:code/data": owner(),
  "/studies/:code/whole": owner(),
  "/studies/:code/trials.csv": owner(),
  "/studies/:code/sequences.csv": owner(),
  "/studies/:code/answers": owner({ gets: null, posts: true, megabytes: 50 }),
  "/studies/:code/kept-aside/:session": owner(),
  "/studies/:code/sessions/:session/shown": owner({ gets: 404 }),
  "/studies/:code/participants/:number": owner(),
  "/studies/:code/lab": owner({ posts: true }),
  "/*": { who: "everyone", gets: 404, kept: "no-store" },
  "/healthz": { who: "everyone", gets: 200, kept: "no-store" },
  "/join/:token": { who: "everyone", gets: 200, kept: "no-store" },
  "/play": { who: "everyone", gets: 200, kept: "no-store" },
  "/participant-preview": { who: "everyone", gets: 200, kept: "no-store" },
  "/script-frame": { who: "everyone", gets: 200, kept: "public, max-age=3600" },
  "/pages/session/:session/:right/services": { who: "everyone", gets: 404, kept: "no-store" },
  "/pages/design/:code/services": { who: "everyone", gets: 404, kept: "no-store" },
  "/pages/session/:session/:right/:sha256": { who: "everyone", gets: 404, kept: "no-store" },
  "/pages/design/:code/:sha256": { who: "everyone", gets: 404, kept: "no-store" },
  "/api/join/:token/unsuited": { who: "everyone", gets: null, posts: true },
  "/api/join/:token": { who: "everyone", gets: null, posts: true, megabytes: 4 },
  "/api/session": { who: "session", gets: 200, kept: "no-store", megabytes: 4 },
  "/api/session/document": { who: "session", gets: 200, kept: "no-store", megabytes: 4 },
  "/api/session/gaze": { who: "session", gets: 404, posts: true, megabytes: 4 },
  "/api/session/place": { who: "session", gets: null, posts: true, megabytes: 4 },
  "/api/session/device": { who: "session", gets: null, posts: true, megabytes: 4 },
  "/api/session/records": { who: "session", gets: null, posts: true, megabytes: 4 },
  "/api/session/media/:sha256": { who: "session", gets: 404, kept: "no-store", megabytes: 4 },
};

const folder = mkdtempSync(join(tmpdir(), "lapwing-routes-"));
let server: Running;
let code: string;
let token: string;
let mine: string;
let theirs: string;
let secret: string;
beforeAll(async () => {
  const opened = await openStore(folder);
  if (!opened.ok) throw new Error(opened.reason);
  const { store } = opened;
  const study = await addStudy(store, await freshOwner(store), plainStudy());
  const frozen = await freezeRelease(store, study, "First release.");
  if (!frozen.ok || !frozen.link) throw new Error("not released");
  const { link } = frozen;
  await createAccount(store, "other@lapwing.example", "Other", "a long password");
  [code, token] = [study.code, link.token];
  await store.close();
  server = await startServer({ folder });
  [mine, theirs] = [await signedIn("owner@lapwing.example"), await signedIn("other@lapwing.example")];
  secret = newSecret();
  const started = await ask(
    "POST",
    `/api/join/${token}`,
    { "content-type": "application/json" },
    JSON.stringify({ secret }),
  );
  expect(started.status).toBe(200);
});
afterAll(async () => {
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
});

type Answer = { status: number; text: string; headers: Record<string, string | string[] | undefined> };
/** One request as it is, with the length it says; what is left of its body is never sent. */
function ask(
  method: string,
  path: string,
  headers: Record<string, string | number> = {},
  body: string | undefined = undefined,
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const length = body === undefined ? {} : { "content-length": Buffer.byteLength(body) };
    const asked = send(
      { host: "127.0.0.1", port: server.port, method, path, headers: { ...length, ...headers } },
      (response) => {
        let text = "";
        response.on("data", (piece: Buffer) => (text += piece.toString()));
        const settle = () => {
          asked.destroy();
          resolve({ status: response.statusCode ?? 0, text, headers: response.headers });
        };
        response.on("end", settle);
        response.on("error", settle);
      },
    );
    asked.on("error", reject);
    // Only what is asked for is written: a body that is only announced waits for its answer.
    if (body === undefined && Number(headers["content-length"] ?? 0) > 0) asked.flushHeaders();
    else asked.end(body);
  });
}

async function signedIn(email: string): Promise<string> {
  const form = new URLSearchParams({ email, password: "a long password" }).toString();
  const { headers } = await ask("POST", "/sign-in", { "content-type": "application/x-www-form-urlencoded" }, form);
  return String(headers["set-cookie"]?.[0] ?? "").split(";")[0] ?? "";
}

const real = (path: string) =>
  path
    .replace(":code", code)
    .replace(":token", token)
    .replace(":number", "1")
    .replace(":session", "s-x")
    .replace(":right", "r")
    .replace(":secret", "s")
    .replace(":sha256", "0".repeat(64))
    .replace("*", "nothing-here");
const lines = Object.entries(table);
const bearer = () => ({ authorization: `Bearer ${secret}` });
const rights = (who: Who): Record<string, string> =>
  who === "session" ? bearer() : who === "everyone" ? {} : { cookie: mine };

describe("every address", () => {
  it("stands in the table, and nothing else does", () => {
    expect([...new Set(allPaths())].toSorted()).toEqual(Object.keys(table).toSorted());
  });

  it.each(lines)("%s is answered to whoever may, and to nobody else", async (path, { who, gets, kept }) => {
    if (gets !== null) {
      const answer = await ask("GET", real(path), rights(who));
      expect([path, answer.status]).toEqual([path, gets]);
      const cache = String(answer.headers["cache-control"]);
      if (kept)
        expect([path, cache.includes(kept), /no-store.*(private|public)/.test(cache)]).toEqual([path, true, false]);
    }
    const method = gets === null ? "POST" : "GET";
    const body = gets === null ? "{}" : undefined;
    const type = gets === null ? { "content-type": "application/json" } : {};
    const stranger = await ask(method, real(path), type, body);
    const another = await ask(method, real(path), { ...type, cookie: theirs }, body);
    const guessed = await ask(method, real(path), { ...type, authorization: `Bearer ${"g".repeat(32)}` }, body);
    if (who === "owner") expect([path, stranger.status, another.status]).toEqual([path, 302, 404]);
    if (who === "signed in") expect([path, stranger.status, another.status]).toEqual([path, 302, 200]);
    if (who === "session")
      expect([path, stranger.status, another.status, guessed.status]).toEqual([path, 404, 404, 404]);
    for (const answer of [stranger, another, guessed]) expect([path, answer.status < 500]).toEqual([path, true]);
  });

  it.each(lines)(
    "%s takes no more than it says, no other methods, and changes from no other site",
    async (path, line) => {
      const to = real(path);
      const most = (line.megabytes ?? 0) * 1024 * 1024 || 100 * 1024;
      expect([path, mostBytesTo(to) >= most && mostBytesTo(to) <= most + 100 * 1024]).toEqual([path, true]);
      // What a session's secret has to open is refused before its body counts.
      const json = { ...rights(line.who), "content-type": "application/json" };
      const large = await ask("POST", to, { ...json, "content-length": mostBytesTo(to) + 1 });
      expect([path, large.status]).toEqual([path, 413]);
      for (const method of ["PUT", "DELETE", "PATCH", "TRACE", "OPTIONS"])
        expect([path, method, (await ask(method, to)).status]).toEqual([path, method, 405]);
      expect([path, (await ask("POST", to, { ...json, origin: "http://elsewhere.example" }, "{}")).status]).toEqual([
        path,
        403,
      ]);
      expect([path, (await ask("POST", to, { ...json, "content-type": "text/xml" }, "<a/>")).status]).toEqual([
        path,
        415,
      ]);
      expect([path, (await ask("GET", to, { host: "elsewhere.example" })).status]).toEqual([path, 421]);
      const posted = await ask("POST", to, json, "{}");
      const isTaken = line.posts === true;
      expect([path, posted.status < 500, isTaken || posted.status === 405 || posted.status === 404]).toEqual([
        path,
        true,
        true,
      ]);
    },
  );
});

describe("an answer of any kind", () => {
  it("says nothing of what runs inside, and may be framed, sniffed or kept by nobody", async () => {
    for (const path of ["/sign-in", "/nothing-here", "/api/session", "/%zz", "/pages/session/a/b/c"]) {
      const { headers, text } = await ask("GET", path);
      expect([path, headers["x-powered-by"], headers["server"]]).toEqual([path, undefined, undefined]);
      expect([path, /at \w+ \(|node_modules/.test(text)]).toEqual([path, false]);
      expect([path, headers["cache-control"]]).toEqual([path, "no-store"]);
    }
  });
});
