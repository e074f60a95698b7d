import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { deeds } from "~/app/collect/deeds.server";
import { peopleDeeds } from "~/app/people/people-deeds.server";
import { mayDo, rights, roles, type Right, type Role } from "~/core/rights/rights";
import { createAccount } from "~/server/accounts";
import { openStore } from "~/server/database/open";
import { freezeRelease } from "~/server/releases";
import { makeKey } from "~/server/script-keys";
import { setReaderLink } from "~/server/reader-link";
import { setShare } from "~/server/sharing";
import { addStudy } from "~/server/studies";
import { allPaths } from "../support/addresses";
import { startServer, type Running } from "../support/server";
import { freshOwner } from "../support/store";
import { plainStudy } from "../support/studies";

/** What an address asks: a right of these to get it, and for each thing that is posted there. The bodies change nothing, or nothing that matters. */
type Asked = { get?: Right[]; posts?: [body: unknown, ...oneOf: Right[]][]; form?: true };

const ofCollect = Object.entries(deeds).map(([name, { right }]): [unknown, ...Right[]] => [{ do: name }, right]);
const ofPeople = Object.entries(peopleDeeds)
  .filter(([, { oneOf }]) => oneOf.length > 0)
  .map(([name, { oneOf }]): [unknown, ...Right[]] => [{ do: name }, ...oneOf]);

/** Every address of a study, with the rights it asks for. */
const table: Record<string, Asked> = {
  "/studies/:code": { get: ["open-study", "start-sessions"] },
  "/studies/:code/plan": { get: ["see-design"] },
  "/studies/:code/compose": { get: ["see-design"] },
  "/studies/:code/rehearse": { get: ["rehearse"] },
  "/studies/:code/collect": { get: ["see-sessions"], posts: [[{ do: "freeze", note: 5 }, "hand-out"], ...ofCollect] },
  "/studies/:code/sessions/:session": { get: ["see-sessions"] },
  "/studies/:code/sessions/:session/shown": { get: ["see-results"] },
  "/studies/:code/results": { get: ["see-results"] },
  "/studies/:code/privacy": { get: ["open-study"], posts: [[{}, "keep-data"]] },
  "/studies/:code/people": { get: ["open-study"], posts: ofPeople },
  "/studies/:code/together": { get: ["see-design"], posts: [[{}, "see-design"]] },
  "/studies/:code/laboratory": { get: ["start-sessions"] },
  "/studies/:code/poster/:token": { get: ["hand-out"] },
  "/studies/:code/links/:set": { get: ["hand-out"] },
  "/studies/:code/sittings/:wave": { get: ["see-sessions"] },
  "/studies/:code/edits": { get: ["open-study"], posts: [[{}, "change-design"]] },
  "/studies/:code/edits?at=1": { get: ["see-design"] },
  "/studies/:code/history": { get: ["see-design"], posts: [[{}, "change-design"]] },
  "/studies/:code/rehearsals": { get: ["rehearse"], posts: [[{}, "rehearse"]] },
  "/studies/:code/opens": { get: ["rehearse"] },
  "/studies/:code/fired": { get: ["see-design"] },
  "/studies/:code/rows": { get: ["see-results"] },
  "/studies/:code/arrivals": { get: ["see-results"] },
  "/studies/:code/exclusions": { posts: [[{}, "leave-out"]] },
  "/studies/:code/recipes/:file": { get: ["see-results"] },
  "/studies/:code/paper": { posts: [[{}, "see-results"]] },
  "/studies/:code/scores": { posts: [[{}, "see-results"]] },
  "/studies/:code/recipes": { posts: [[{}, "see-results"]] },
  "/studies/:code/media": { posts: [[{}, "change-design"]] },
  "/studies/:code/media/:sha256": { get: ["open-study"] },
  "/studies/:code/collecting": { get: ["see-sessions"] },
  "/studies/:code/releases/:number": {
    get: ["open-study"],
    posts: [
      [{ do: "copy" }, "see-design"],
      [{ do: "play" }, "rehearse"],
    ],
  },
  "/studies/:code/file": { get: ["see-design"] },
  "/studies/:code/data": { get: ["see-results"] },
  "/studies/:code/whole": { get: ["keep-data"] },
  "/studies/:code/trials.csv": { get: ["see-results"] },
  "/studies/:code/sequences.csv": { get: ["see-design", "see-results"] },
  "/studies/:code/answers": { posts: [[{}, "start-sessions"]] },
  "/studies/:code/kept-aside/:session": { get: ["see-results"] },
  "/studies/:code/participants/:number": { get: ["keep-data"] },
  "/studies/:code/lab": { get: ["start-sessions"], posts: [[{}, "start-sessions"]] },
  "/studies?do=duplicate&code=:code": { posts: [["", "see-design"]], form: true },
  "/studies?do=labels&code=:code": { posts: [["labels=", "change-design"]], form: true },
  "/studies?do=restore&code=:code": { posts: [["", "end-study"]], form: true },
  "/studies?do=delete&code=:code": { posts: [["title=another", "end-study"]], form: true },
};

const folder = mkdtempSync(join(tmpdir(), "lapwing-rights-"));
let server: Running;
let code: string;
let token: string;
let keys: Record<"data" | "lapsed", string>;
let reading: string;
const cookies = new Map<Role | "stranger" | "nobody", string>();
const emailOf = (who: string) => `${who}@lapwing.example`;

beforeAll(async () => {
  const opened = await openStore(folder);
  if (!opened.ok) throw new Error(opened.reason);
  const { store } = opened;
  const study = await addStudy(store, await freshOwner(store, emailOf("owner")), plainStudy());
  const frozen = await freezeRelease(store, study, "First release.");
  if (!frozen.ok || !frozen.link) throw new Error("not released");
  [code, token] = [study.code, frozen.link.token];
  for (const who of [...roles.slice(1), "stranger"]) {
    const made = await createAccount(store, emailOf(who), who, "a long password");
    if (!made.ok) throw new Error(made.reason);
    if (who !== "stranger") await setShare(store, study, { email: emailOf(who) }, [who as Role], "the owner");
    cookies.set(who as Role, `lapwing_sign_in=${made.secret}`);
  }
  const own = await createAccount(store, emailOf("second"), "second", "a long password");
  if (!own.ok) throw new Error(own.reason);
  await setShare(store, study, { email: emailOf("second") }, ["owner"], "the owner");
  cookies.set("owner", `lapwing_sign_in=${own.secret}`);
  cookies.set("nobody", "");
  const key = async (name: string) => {
    const made = await makeKey(store, study, own.account, { name, days: 1, by: "the owner" });
    return "key" in made ? made.key : "";
  };
  keys = { data: await key("data"), lapsed: await key("lapsed") };
  await store.db
    .updateTable("script_key")
    .set({ expires_at: new Date(Date.now() - 1000).toISOString() })
    .where("name", "=", "lapsed")
    .execute();
  reading = (await setReaderLink(store, study, true, "the owner")) ?? "";
  await store.close();
  server = await startServer({ folder });
});
afterAll(async () => {
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
});

const real = (path: string) =>
  server.address +
  path
    .replace(":code", code)
    .replace(":token", token)
    .replace(":number", "1")
    .replace(/:(session|set|wave|file)/, "x-1")
    .replace(":sha256", "0".repeat(64));
const get = (path: string, headers: Record<string, string>) => fetch(real(path), { headers, redirect: "manual" });
const post = (path: string, cookie: string, body: unknown, form = false) =>
  fetch(real(path), {
    method: "POST",
    redirect: "manual",
    headers: {
      cookie,
      origin: server.address,
      "content-type": form ? "application/x-www-form-urlencoded" : "application/json",
    },
    body: form ? String(body) : JSON.stringify(body),
  });
const lines = Object.entries(table);

describe("what somebody is in a study decides", () => {
  it("at every address of it there is", () => {
    const known = new Set(Object.keys(table).map((path) => path.split("?")[0]));
    expect(allPaths().filter((path) => path.startsWith("/studies/:code") && !known.has(path))).toEqual([]);
  });

  it.each(lines)("%s: who gets it", async (path, { get: oneOf }) => {
    if (!oneOf) return;
    for (const role of roles) {
      const { status } = await get(path, { cookie: cookies.get(role) ?? "" });
      const may = oneOf.some((right) => mayDo([role], right));
      expect([path, role, status === 403, status < 500]).toEqual([path, role, !may, true]);
    }
    expect([path, (await get(path, { cookie: cookies.get("stranger") ?? "" })).status]).toEqual([path, 404]);
    expect([path, (await get(path, {})).status]).toEqual([path, 302]);
  });

  it.each(lines)("%s: who does something there", async (path, { posts = [], form }) => {
    for (const [body, ...oneOf] of posts) {
      const what = JSON.stringify(body);
      for (const role of roles) {
        const { status } = await post(path, cookies.get(role) ?? "", body, form);
        const may = oneOf.some((right) => mayDo([role], right));
        expect([path, what, role, status === 403, status < 500]).toEqual([path, what, role, !may, true]);
      }
      expect([path, what, (await post(path, cookies.get("stranger") ?? "", body, form)).status]).toEqual([
        path,
        what,
        404,
      ]);
      expect([path, what, (await post(path, "", body, form)).status]).toEqual([path, what, 302]);
    }
  });

  it("and every right there is decides somewhere", () => {
    const asked = new Set(
      lines.flatMap(([, { get: own = [], posts = [] }]) => [...own, ...posts.flatMap(([, ...all]) => all)]),
    );
    expect(rights.filter((right) => !asked.has(right))).toEqual([]);
  });

  it("also of pages that stand beside the application", async () => {
    for (const who of [...roles, "stranger", "nobody"] as const) {
      const { status } = await get("/pages/design/:code/services", { cookie: cookies.get(who) ?? "" });
      const may = who !== "stranger" && who !== "nobody" && mayDo([who], "open-study");
      expect([who, status]).toEqual([who, may ? 200 : 404]);
    }
  });

  it("says in words why not, and says nothing of the study to whoever has nothing to do with it", async () => {
    const refused = await get("/studies/:code/data", { cookie: cookies.get("assistant") ?? "" });
    expect(((await refused.json()) as { reason: string }).reason).toBe(
      "You are an assistant in this study. Only owners and analysts may see answers and results, and take the data away.",
    );
    const page = await get("/studies/:code/plan", { cookie: cookies.get("analyst") ?? "" });
    expect(await page.text()).toContain("You are an analyst in this study");
    const strange = await get("/studies/:code/plan", { cookie: cookies.get("stranger") ?? "" });
    expect(await strange.text()).not.toContain(plainStudy().title);
  });
});

describe("a reading link", () => {
  it("opens what readers see of the design, to be looked at, and nothing of people or data", async () => {
    const opened = await fetch(`${server.address}/reading/${reading}`, { redirect: "manual" });
    const cookie = opened.headers.getSetCookie()[0]?.split(";")[0] ?? "";
    expect(opened.headers.get("location")).toBe(`/studies/${code}/plan`);
    const toAccounts = new Map([
      ["/studies/:code/people", 404],
      ["/studies/:code/together", 302],
    ]);
    for (const [path, { get: oneOf, posts = [], form }] of lines) {
      const may = oneOf?.some((right) => mayDo(["reader"], right)) ?? false;
      const { status } = await get(path, { cookie });
      if (oneOf)
        expect([path, toAccounts.has(path) ? status === toAccounts.get(path) : (status === 403) === !may]).toEqual([
          path,
          true,
        ]);
      for (const [body] of posts) {
        const answer = await post(path, cookie, body, form);
        expect([path, body, [302, 403, 404].includes(answer.status)]).toEqual([path, body, true]);
      }
    }
    const plan = await (await get("/studies/:code/plan", { cookie })).text();
    expect(plan).toContain(plainStudy().title);
    expect(plan).not.toContain("@lapwing.example");
    expect((await get("/pages/design/:code/services", { cookie })).status).toBe(200);
    // Ended, it opens nothing, also where it was opened before.
    await post("/studies/:code/people", cookies.get("owner") ?? "", { do: "reading-link", open: false });
    expect((await get("/studies/:code/plan", { cookie })).status).toBe(302);
    expect((await get("/pages/design/:code/services", { cookie })).status).toBe(404);
    expect((await fetch(`${server.address}/reading/${reading}`, { redirect: "manual" })).status).toBe(404);
  });
});

describe("a key for scripts", () => {
  const bearer = (key: string) => ({ authorization: `Bearer ${key}` });
  it("reads the data, and does nothing else", async () => {
    const csv = await get("/studies/:code/trials.csv", bearer(keys.data));
    expect([csv.status, (await csv.text()).split("\n")[0]]).toEqual([
      200,
      expect.stringContaining("participant") as string,
    ]);
    for (const [path, { get: oneOf }] of lines) {
      if (!oneOf) continue;
      const { status } = await get(path, bearer(keys.data));
      // The screen of results is for people; what it shows is read from the data.
      const isOpen = oneOf.includes("see-results") && path !== "/studies/:code/results";
      expect([
        path,
        isOpen ? status < 400 || status === 404 : status === (path.endsWith("/together") ? 302 : 403),
      ]).toEqual([path, true]);
    }
    const changed = await fetch(real("/studies/:code/edits"), {
      method: "POST",
      headers: { ...bearer(keys.data), "content-type": "application/json", origin: server.address },
      body: "{}",
    });
    expect(changed.status).toBe(403);
  });

  it("that is too old or made up opens nothing", async () => {
    for (const key of [keys.lapsed, `lapwing-${"x".repeat(32)}`, "y".repeat(40)]) {
      const { status } = await get("/studies/:code/data", bearer(key));
      expect(status).toBe(401);
    }
  });
});

describe("what concerns everybody's accounts", () => {
  it("is for administrators: the first account is one, the others are not", async () => {
    for (const what of ["invite", "take-back", "password", "no-code", "admin", "close", "reopen"]) {
      const { status } = await post("/team", cookies.get("designer") ?? "", { do: what, email: "", account: "x" });
      expect([what, status]).toEqual([what, 404]);
    }
    const seen = await (await get("/team", { cookie: cookies.get("designer") ?? "" })).text();
    expect(seen).not.toContain(emailOf("stranger"));
  });
});
