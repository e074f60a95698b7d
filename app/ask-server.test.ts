import { afterEach, expect, it, vi } from "vitest";
import { askServer } from "./ask-server";

afterEach(() => vi.unstubAllGlobals());
const answering = (answer: () => Promise<unknown>) => vi.stubGlobal("fetch", answer);
const away = { ok: false, reason: "The server cannot be reached. Try again." };

it("gives what the server says, or why not", async () => {
  answering(() => Promise.resolve(Response.json({ address: "/play" })));
  expect(await askServer("/x")).toEqual({ ok: true, data: { address: "/play" } });
  answering(() => Promise.resolve(Response.json({ reason: "Choose another part." }, { status: 422 })));
  expect(await askServer("/x")).toEqual({ ok: false, reason: "Choose another part." });
});

it("says so where the server or the proxy before it gives no answer of its own", async () => {
  answering(() => Promise.reject(new TypeError("Failed to fetch")));
  expect(await askServer("/x")).toEqual(away);
  for (const status of [200, 502]) {
    answering(() => Promise.resolve(new Response("<h1>Away</h1>", { status })));
    expect(await askServer("/x")).toEqual(away);
  }
});

it("says so where one is signed out", async () => {
  const page = new Response("<h1>Sign in</h1>");
  Object.defineProperty(page, "redirected", { value: true });
  answering(() => Promise.resolve(page));
  expect(await askServer("/x")).toMatchObject({
    ok: false,
    reason: expect.stringMatching(/^You are signed out/) as string,
  });
});
