import { execFile, spawn } from "node:child_process";
import { randomBytes } from "node:crypto";
import { copyFileSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
import Sqlite from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { freePort, startServer, type Running } from "../support/server";

let server: Running;
beforeAll(async () => {
  server = await startServer({ demo: true });
});
afterAll(async () => void (await server.stop()));

const get = (path: string, init?: RequestInit) => fetch(server.address + path, { redirect: "manual", ...init });
/** Signs in to the demo account; gives the cookie. */
async function demoCookie(): Promise<string> {
  const response = await get("/look-around", { method: "POST", headers: { origin: server.address } });
  return response.headers.get("set-cookie")?.split(";")[0] ?? "";
}

describe("serving", () => {
  it("answers the health check with status and version", async () => {
    const response = await get("/healthz");
    expect(response.status).toBe(200);
    expect(await response.json()).toMatchObject({
      status: "ok",
      version: expect.stringMatching(/^\d+\.\d+\.\d+$/) as string,
    });
  });

  it("allows no inline scripts, no framing, no guessing of kinds", async () => {
    const { headers } = await get("/sign-in");
    const policy = headers.get("content-security-policy") ?? "";
    expect(policy).toMatch(/script-src 'self' 'nonce-[\w-]{20,}'(;|$)/);
    expect(/script-src[^;]*unsafe/.test(policy)).toBe(false);
    expect(policy).toContain("frame-ancestors 'none'");
    expect(headers.get("x-content-type-options")).toBe("nosniff");
    expect(headers.get("referrer-policy")).toBe("same-origin");
  });

  it("isolates participant pages", async () => {
    for (const path of ["/join/demo-waders", "/play"]) {
      const { headers, status } = await get(path);
      expect([status, headers.get("cross-origin-opener-policy"), headers.get("cross-origin-embedder-policy")]).toEqual([
        200,
        "same-origin",
        "require-corp",
      ]);
    }
  });

  it("sends hashed files compressed and to be kept for good, pages not to be kept", async () => {
    const html = await (await get("/join/demo-waders")).text();
    const script = /src="(\/player\/[^"]+\.js)"/.exec(html)?.[1] ?? "";
    const { headers } = await get(script, { headers: { "accept-encoding": "gzip" } });
    expect(headers.get("cache-control")).toBe("public, max-age=31536000, immutable");
    expect(headers.get("content-encoding")).toBe("gzip");
    expect((await get("/sign-in")).headers.get("cache-control")).toBe("no-store");
  });

  it("refuses changes from another site", async () => {
    const cookie = await demoCookie();
    const response = await get("/studies?do=new", {
      method: "POST",
      headers: { origin: "http://elsewhere.example", cookie },
      body: new URLSearchParams({ title: "Stolen" }),
    });
    expect(response.status).toBe(403);
    expect(
      (await get("/sign-out", { method: "POST", headers: { "sec-fetch-site": "cross-site", cookie } })).status,
    ).toBe(403);
  });

  it("keeps the sign-in cookie from scripts and other sites", async () => {
    const response = await get("/look-around", { method: "POST", headers: { origin: server.address } });
    expect(response.headers.get("set-cookie")).toMatch(/HttpOnly; SameSite=Lax/);
  });

  it("shows another's study, and one without signing in, to nobody", async () => {
    expect((await get("/studies/amber-quay/plan")).status).toBe(302);
    const cookie = await demoCookie();
    expect((await get("/studies/amber-quay/plan", { headers: { cookie } })).status).toBe(200);
    for (const path of ["/studies/no-such/plan", "/studies/no-such/data", "/studies/no-such/edits", "/nothing-here"])
      expect((await get(path, { headers: { cookie } })).status).toBe(404);
  });

  it("gives media only to those who may see them", async () => {
    const cookie = await demoCookie();
    const { document } = (await (await get("/studies/amber-quay/edits", { headers: { cookie } })).json()) as {
      document: { media: { sha256: string }[] };
    };
    const path = `/studies/amber-quay/media/${document.media[0]?.sha256}`;
    const own = await get(path, { headers: { cookie } });
    expect([own.status, own.headers.get("content-type"), own.headers.get("content-security-policy")]).toEqual([
      200,
      "image/svg+xml",
      expect.stringContaining("sandbox"),
    ]);
    expect((await get(path)).status).toBe(302);
    expect((await get(`/api/session/media/${document.media[0]?.sha256}`)).status).toBe(404);
  });

  it("answers hostile participants in plain words and without a stack trace", async () => {
    const secret = "a".repeat(32);
    const json = { "content-type": "application/json" };
    const started = await get("/api/join/demo-waders", {
      method: "POST",
      headers: json,
      body: JSON.stringify({ secret }),
    });
    expect(started.status).toBe(200);
    expect((await get("/api/join/demo-waders", { method: "POST", headers: json, body: "{}" })).status).toBe(400);
    for (const body of [
      "not json",
      "[1]",
      '[{"kind":"trial"}]',
      "{}",
      `[${'{"kind":"end","number":1,"at":1},'.repeat(600)}{}]`,
    ]) {
      const response = await get("/api/session/records", {
        method: "POST",
        body,
        headers: { authorization: `Bearer ${secret}`, "content-type": "application/json" },
      });
      const text = await response.text();
      expect(response.status).toBe(400);
      expect(text).not.toMatch(/at \w+ \(|node_modules/);
      expect((JSON.parse(text) as { reason: string }).reason.length).toBeGreaterThan(10);
    }
  });
});

/** A session of the demo study, by a secret of its own. */
async function participant() {
  const secret = randomBytes(24).toString("base64url");
  const started = await get("/api/join/demo-waders", {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ secret }),
  });
  const { document } = (await started.json()) as {
    document: { media: { sha256: string }[]; runningOrder: { part: string }[] };
  };
  const send = (body: unknown) =>
    get("/api/session/records", {
      method: "POST",
      headers: { authorization: `Bearer ${secret}`, "content-type": "application/json" },
      body: JSON.stringify(body),
    });
  const consent = {
    question: "q-consent",
    kind: "agree",
    state: "answered",
    value: true,
    first: 2,
    last: 2,
    changes: 0,
  };
  const part = document.runningOrder[0]?.part;
  const page = { kind: "page", number: 1, part, shown: 0, done: 5, answers: [consent] };
  return { secret, document, send, page };
}

describe("a participant's secret", () => {
  it("reaches its own session and its study's media, and nothing of researchers or of other studies", async () => {
    const { secret, document } = await participant();
    const headers = { authorization: `Bearer ${secret}` };
    const own = await get(`/api/session/media/${document.media[0]?.sha256}`, { headers });
    expect([own.status, own.headers.get("content-type")]).toEqual([200, "image/svg+xml"]);
    expect((await own.arrayBuffer()).byteLength).toBeGreaterThan(100);
    expect((await get(`/api/session/media/${"0".repeat(64)}`, { headers })).status).toBe(404);
    for (const path of ["/studies", "/studies/amber-quay/data", "/studies/amber-quay/edits", "/self-test"])
      // To a study it is a key for scripts that is none; everywhere else nobody is signed in.
      expect([path, (await get(path, { headers })).status]).toEqual([path, path.startsWith("/studies/") ? 401 : 302]);
    const cookies = { cookie: `lapwing_sign_in=${secret}` };
    expect((await get("/studies/amber-quay/trials.csv", { headers: cookies })).status).toBe(302);
  });

  it("is kept to a pace, and told so", async () => {
    const { send, page } = await participant();
    const statuses = await Promise.all(Array.from({ length: 60 }, async () => (await send([page])).status));
    expect(new Set(statuses)).toEqual(new Set([200, 429]));
    expect(statuses.filter((status) => status === 200).length).toBeGreaterThanOrEqual(40);
  });

  it("is told to wait while the database is locked; nothing is half stored", async () => {
    const { send, page } = await participant();
    const other = new Sqlite(join(server.folder, "lapwing.db"));
    other.exec("begin exclusive");
    const refused = await send([page]);
    expect(refused.status).toBe(503);
    expect(((await refused.json()) as { reason: string }).reason).toMatch(/tried again; nothing is lost/);
    other.exec("rollback");
    other.close();
    const stored = await send([page]);
    expect(await stored.json()).toMatchObject({ acknowledged: 1, keptAside: [] });
  });
});

describe("bodies and edits without bound", () => {
  const form = { "content-type": "application/x-www-form-urlencoded" };

  it("are refused before they are read, by the limit of each address, in words", async () => {
    const large = `email=${"a".repeat(200_000)}`;
    for (const path of ["/sign-in", "/first-account", "/look-around", "/studies/amber-quay/history", "/nowhere"]) {
      const refused = await get(path, { method: "POST", body: large, headers: form });
      expect([path, refused.status]).toEqual([path, 413]);
      expect(await refused.text()).toMatch(/larger than this address takes.*Nothing was changed/);
    }
    // Of 40 MB hardly anything is taken before the answer comes.
    const huge = await get("/sign-in", { method: "POST", body: `email=${"a".repeat(40_000_000)}`, headers: form }).then(
      ({ status }) => status,
      () => "cut",
    );
    expect([413, "cut"]).toContain(huge);
    expect((await get("/healthz")).status).toBe(200);
  });

  it("end in a plain refusal where an edit names an entry far beyond a list, there or on the way back", async () => {
    const entered = await get("/look-around", { method: "POST", redirect: "manual" });
    const cookie = entered.headers.get("set-cookie")?.split(";")[0] ?? "";
    const headers = { cookie, "content-type": "application/json" };
    const edits = "/studies/amber-quay/edits";
    const { revision } = (await (await get(edits, { headers: { cookie } })).json()) as { revision: number };
    const far = { op: "add", path: ["groups", 10_000_000], value: { id: "x", name: "x" } };
    const sent = (patches: object[], inverse: object[]) =>
      get(edits, { method: "POST", headers, body: JSON.stringify({ base: revision, patches, inverse }) });
    const refused = await sent([far], []);
    expect(refused.status).toBe(422);
    expect(await refused.text()).toContain("an entry of a list that is not there");
    // What leads back is kept as it came; it is looked at when it is used.
    const title = { op: "replace", path: ["title"], value: "Waders on a mudflat, again" };
    expect((await sent([title], [far])).status).toBe(200);
    const back = await get(`${edits}?at=${revision}`, { headers: { cookie } });
    expect(back.status).toBe(404);
    expect((await get("/healthz")).status).toBe(200);
  });
});

describe("a signed-in window", () => {
  it("is told in plain words what is wrong with what it sends, and nothing is changed by it", async () => {
    const entered = await get("/look-around", { method: "POST", redirect: "manual" });
    const cookie = entered.headers.get("set-cookie")?.split(";")[0] ?? "";
    const post = (path: string, body: string) =>
      get(path, { method: "POST", body, headers: { cookie, "content-type": "application/json" } });
    const study = "/studies/amber-quay";
    const before = await (await get(`${study}/edits`, { headers: { cookie } })).text();
    const { revision } = JSON.parse(before) as { revision: number };
    const hostile = { op: "replace", path: ["__proto__", "polluted"], value: 1 };
    for (const [path, body] of [
      ["edits", "not json"],
      ["edits", JSON.stringify({ base: revision, patches: [hostile], inverse: [] })],
      [
        "edits",
        JSON.stringify({ base: revision, patches: [{ op: "replace", path: ["title"], value: 5 }], inverse: [] }),
      ],
      ["history", "{"],
      ["history", JSON.stringify({ revision: -1, name: "x" })],
      ["rehearsals", "[]"],
    ] as const) {
      const response = await post(`${study}/${path}`, body);
      const text = await response.text();
      expect([path, [400, 422].includes(response.status)]).toEqual([path, true]);
      expect(text).not.toMatch(/at \w+ \(|node_modules/);
    }
    expect(await (await get(`${study}/edits`, { headers: { cookie } })).text()).toBe(before);
    expect((await get("/pages/none")).status).toBe(404);
  });
});

describe("starting", () => {
  const failing = async (env: Record<string, string>, ...more: string[]): Promise<{ code: number; out: string }> => {
    const child = spawn("node", ["build/node/start.js", ...more], {
      env: { ...process.env, NODE_ENV: "production", ...env },
    });
    let out = "";
    child.stderr.on("data", (piece: Buffer) => (out += piece.toString()));
    const code = await new Promise<number>((resolve) => child.once("exit", (status) => resolve(status ?? -1)));
    return { code, out: out.trim() };
  };
  const folder = mkdtempSync(join(tmpdir(), "lapwing-start-"));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  it("on a taken port stops with one sentence", async () => {
    const taken = createServer().listen(0);
    const address = taken.address();
    const port = typeof address === "object" && address ? address.port : 0;
    const { code, out } = await failing({ PORT: String(port), LAPWING_DATA: folder });
    taken.close();
    expect([code, out]).toEqual([1, `Port ${port} is taken. Choose another, for example PORT=${port + 1} ./demo.sh.`]);
  });

  it("on a folder that cannot be written stops with one sentence", async () => {
    writeFileSync(join(folder, "a-file"), "");
    const { code, out } = await failing({ PORT: String(await freePort()), LAPWING_DATA: join(folder, "a-file") });
    expect(code).toBe(1);
    expect(out).toMatch(/^The data folder \S+ cannot be written\. Choose another with LAPWING_DATA[^\n]*$/);
  });

  it("on a port that is no number stops with one sentence", async () =>
    expect(await failing({ PORT: "abc", LAPWING_DATA: folder })).toMatchObject({
      code: 1,
      out: expect.stringMatching(/^PORT is “abc”/) as string,
    }));

  it("on an address that this computer does not have stops with one sentence", async () => {
    const { code, out } = await failing({ HOST: "203.0.113.7", PORT: "0", LAPWING_DATA: folder });
    expect([code, out]).toEqual([
      1,
      expect.stringMatching(/^HOST is “203.0.113.7”; this computer has no such address/),
    ]);
    const url = await failing({ LAPWING_URL: "lapwing.example.org/x", PORT: "0", LAPWING_DATA: folder });
    expect(url).toMatchObject({ code: 1, out: expect.stringMatching(/^LAPWING_URL is/) as string });
  });

  it("without the demo on its folder shuts the door to look around, and lets the first account be made, once", async () => {
    const demo = await startServer({ demo: true });
    expect(statSync(join(demo.folder, "lapwing.db")).mode & 0o077).toBe(0);
    expect(statSync(demo.folder).mode & 0o077).toBe(0);
    expect(readFileSync(join(demo.folder, "THIS-IS-A-DEMO.txt"), "utf8")).toContain("demo data");
    await demo.stop("SIGKILL");
    const own = await startServer({ folder: demo.folder });
    const at = (path: string, init?: RequestInit) => fetch(own.address + path, { redirect: "manual", ...init });
    expect((await at("/look-around", { method: "POST" })).headers.get("set-cookie")).toBeNull();
    expect((await at("/sign-in")).headers.get("location")).toBe("/first-account");
    const made = await Promise.all(
      ["a", "b", "c", "d"].map((name) =>
        at("/first-account", {
          method: "POST",
          body: new URLSearchParams({ name, email: `${name}@x.example`, password: "a long password" }),
        }),
      ),
    );
    // One is signed in to it; the others are led to sign in.
    expect(made.filter(({ headers }) => headers.get("set-cookie") !== null).length).toBe(1);
    expect(made.map(({ headers }) => headers.get("location")).toSorted()).toEqual([
      "/sign-in",
      "/sign-in",
      "/sign-in",
      "/studies",
    ]);
    await own.stop("SIGKILL");
    // Real accounts are there now; a folder that is marked as the demo's may still be shown as one.
    rmSync(join(demo.folder, "THIS-IS-A-DEMO.txt"));
    const refused = await failing({ PORT: String(await freePort()), LAPWING_DATA: demo.folder }, "--demo");
    expect(refused).toMatchObject({ code: 1, out: expect.stringMatching(/holds real accounts/) as string });
    rmSync(demo.folder, { recursive: true, force: true });
  });

  it("behind TLS says that it is, and believes a proxy only as far as it can be true", async () => {
    const ask = (headers: Record<string, string>) => get("/sign-in", { headers });
    const behind = await ask({ "x-forwarded-proto": "https", "x-forwarded-for": "203.0.113.9" });
    expect(behind.headers.get("strict-transport-security")).toBe("max-age=31536000");
    expect((await ask({})).headers.get("strict-transport-security")).toBeNull();
    expect((await ask({ "x-forwarded-for": "not an address" })).status).toBe(400);
    expect((await ask({ "x-forwarded-proto": "gopher" })).status).toBe(400);
  });

  it("ends cleanly on Ctrl-C", async () => {
    const own = await startServer();
    expect(await own.stop("SIGINT")).toBe(0);
  });
});

describe("the command line", () => {
  const run = promisify(execFile);
  const cli = (...args: string[]) =>
    run("node", ["build/node/cli.js", ...args], {
      env: { ...process.env, LAPWING_DATA: server.folder, PORT: String(server.port) },
    }).then(
      ({ stdout }) => ({ code: 0, stdout, stderr: "" }),
      (error: { code: number; stdout: string; stderr: string }) => ({
        code: error.code,
        stdout: error.stdout,
        stderr: error.stderr,
      }),
    );
  const folder = mkdtempSync(join(tmpdir(), "lapwing-cli-"));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  it("checks a file: exit code 0 without errors, 1 with them", async () => {
    expect((await cli("check", "demo/waders.lapwing.zip")).code).toBe(0);
    writeFileSync(join(folder, "broken.json"), '{"format":"lapwing-study","version":1}');
    const broken = await cli("check", join(folder, "broken.json"));
    expect(broken.code).toBe(1);
    expect(broken.stderr).toMatch(/is not a study that can be used:\n {2}.*is missing/);
  });

  it("imports, releases, and the printed link is open; exports the data", async () => {
    const { stdout } = await cli("import", "demo/waders.lapwing.zip", "--owner", "demo@lapwing.example", "--release");
    const [code = "", link = ""] = stdout.trim().split("\n");
    expect((await fetch(link)).status).toBe(200);
    expect((await cli("export", code, "--out", join(folder, "data.zip"))).code).toBe(0);
    expect((await cli("export", "amber-quay", "--out", join(folder, "demo.zip"))).code).toBe(0);
  });

  it("makes a consistent copy while the server runs, and writes over nothing", async () => {
    const copy = join(folder, "backup.db");
    const { send, page } = await participant();
    await send([page]);
    expect(await cli("backup", copy)).toMatchObject({ code: 0 });
    const read = new Sqlite(copy, { readonly: true });
    expect(read.pragma("integrity_check", { simple: true })).toBe("ok");
    const { count } = read.prepare("select count(*) as count from session").get() as { count: number };
    expect(count).toBeGreaterThanOrEqual(28);
    read.close();
    expect(await cli("backup", copy)).toMatchObject({
      code: 1,
      stderr: expect.stringMatching(/already exists/) as string,
    });
    const restored = await startServer({
      folder: (() => {
        const fresh = mkdtempSync(join(tmpdir(), "lapwing-restored-"));
        copyFileSync(copy, join(fresh, "lapwing.db"));
        return fresh;
      })(),
    });
    expect((await fetch(`${restored.address}/join/demo-waders`)).status).toBe(200);
    await restored.stop();
  });

  it("explains itself and its mistakes plainly", async () => {
    expect((await cli("--help")).stdout).toMatch(/\.\/lapwing check FILE/);
    expect(await cli("dance")).toMatchObject({
      code: 1,
      stderr: "There is no command “dance”. See ./lapwing --help.\n",
    });
    expect(await cli("check", "gone.json")).toMatchObject({ code: 1, stderr: "The file gone.json cannot be read.\n" });
    expect(await cli("import", "demo/waders.lapwing.zip", "--owner", "nobody@x")).toMatchObject({
      code: 1,
      stderr: expect.stringMatching(/no account nobody@x/) as string,
    });
    expect((await cli("sequence", "demo/waders.lapwing.zip", "--sede", "x")).stderr).toMatch(/Unknown option '--sede'/);
  });
});
