import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Browser } from "playwright-core";
import { afterAll, beforeAll, expect, it } from "vitest";
import { createAccount } from "~/server/accounts";
import { openStore } from "~/server/database/open";
import { invite } from "~/server/invites";
import { launch, openWindow } from "~/tests/support/browser";
import { startProvider } from "~/tests/support/provider";
import { startServer, type Running } from "~/tests/support/server";

let browser: Browser;
let server: Running;
let provider: Awaited<ReturnType<typeof startProvider>>;
beforeAll(async () => {
  const folder = mkdtempSync(join(tmpdir(), "lapwing-provider-"));
  const opened = await openStore(folder);
  if (!opened.ok) throw new Error(opened.reason);
  await createAccount(opened.store, "mira@shore.example", "Mira Sandvik", "a long password");
  await invite(opened.store, { email: "jonas@shore.example", by: "Mira Sandvik" });
  await opened.store.close();
  [browser, provider] = await Promise.all([launch(), startProvider("lapwing", "a client's secret")]);
  server = await startServer({
    folder,
    env: {
      LAPWING_OIDC: provider.issuer,
      LAPWING_OIDC_CLIENT: "lapwing",
      LAPWING_OIDC_SECRET: "a client's secret",
      LAPWING_OIDC_NAME: "the university",
    },
  });
});
afterAll(async () => {
  await browser.close();
  await server.stop();
  await provider.stop();
});

/** A browser of somebody's own, after they came back from the provider. */
async function cameBack() {
  const { page } = await openWindow(browser);
  await page.goto(`${server.address}/sign-in`);
  await page.getByRole("link", { name: "Sign in with the university" }).click();
  return page;
}

it("an account is signed in to by a provider that has verified its address, and known there from then on", async () => {
  provider.is({ sub: "m-1", email: "Mira@Shore.example", email_verified: true, name: "Mira" });
  const first = await cameBack();
  await first.waitForURL("**/studies");
  await first.getByRole("button", { name: "Mira Sandvik" }).waitFor();
  // Who is given that address later on is somebody else.
  provider.is({ sub: "m-2", email: "mira@shore.example", email_verified: true });
  const successor = await cameBack();
  await successor.getByText("The account with your address belongs to somebody else at the provider.").waitFor();
  // Another address later on: it is still the same person.
  provider.is({ sub: "m-1", email: "married@shore.example", email_verified: true });
  const again = await cameBack();
  await again.getByRole("button", { name: "Mira Sandvik" }).waitFor();
});

it("who was invited gets the account; nobody else does, and nobody whose address was not verified", async () => {
  provider.is({ sub: "j-1", email: "jonas@shore.example", email_verified: false, name: "Jonas Pell" });
  const unverified = await cameBack();
  await unverified.getByText("The provider does not say which e-mail address is yours.").waitFor();
  provider.is({ sub: "x-1", email: "eve@shore.example", email_verified: true, name: "Eve" });
  const stranger = await cameBack();
  await stranger
    .getByText("Nobody here has the address you have at the provider. An administrator can invite you.")
    .waitFor();
  provider.is({ sub: "j-1", email: "jonas@shore.example", email_verified: true, name: "Jonas Pell" });
  const invited = await cameBack();
  await invited.getByRole("button", { name: "Jonas Pell" }).waitFor();
  // Somebody who says that an account's address is theirs without proof does not get it.
  provider.is({ sub: "z-9", email: "mira@shore.example", email_verified: false });
  const thief = await cameBack();
  await thief.getByText("The provider does not say which e-mail address is yours.").waitFor();
});

it("an answer that was not asked for, or is used again, signs nobody in", async () => {
  provider.is({ sub: "m-1", email: "mira@shore.example", email_verified: true });
  const { page } = await openWindow(browser);
  await page.goto(`${server.address}/sign-in/provider/back?code=code-0&state=made-up`);
  await page.getByText("Signing in by the provider did not work. Try again.").waitFor();
  const page2 = await cameBack();
  await page2.waitForURL("**/studies");
  const { page: other } = await openWindow(browser);
  const begun = await other.request.get(`${server.address}/sign-in/provider`, { maxRedirects: 0 });
  expect(begun.status()).toBe(302);
  await other.goto(`${server.address}/sign-in/provider/back?code=code-0&state=made-up`);
  await other.getByText("Signing in by the provider did not work. Try again.").waitFor();
});
