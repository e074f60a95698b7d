import { redirect, type AppLoadContext } from "react-router";
import { accountOfSecret, hasAccounts, type Account } from "~/server/accounts";
import {
  computerCookie,
  computerSecretOf,
  providerCookie,
  providerKeptOf,
  readerCookie,
  signInCookie,
  signInSecretOf,
} from "~/server/http/cookie";
import { computerOfSecret, type LabComputer } from "~/server/lab-computers";

/** So long a browser keeps the cookie of who stays signed in; the server ends the sign-in sooner. */
const staysSeconds = 400 * 86_400;

export const secretOf = (request: Request): string | null => signInSecretOf(request.headers.get("Cookie"));

/** The protocol as the server knows it, from a proxy on this machine too. */
const secure = (request: Request) => (new URL(request.url).protocol === "https:" ? "; Secure" : "");

/** Without `stays` it is gone when the browser is closed. */
export const signedInCookie = (request: Request, secret: string, stays = false): string =>
  `${signInCookie}=${secret}; Path=/; HttpOnly; SameSite=Lax${stays ? `; Max-Age=${staysSeconds}` : ""}${secure(request)}`;
export const signedOutCookie = (): string => `${signInCookie}=; Path=/; HttpOnly; SameSite=Lax; Max-Age=0`;

/** From where a request signs in, and with which browser. */
export const signingIn = (request: Request, { clientAddress }: AppLoadContext) => ({
  from: clientAddress,
  browser: request.headers.get("User-Agent") ?? "",
});

export async function accountOf(request: Request, { store }: AppLoadContext): Promise<Account | null> {
  const secret = secretOf(request);
  return secret ? accountOfSecret(store, secret) : null;
}

/** The signed-in account; sends anyone else to sign in (or to make the first account). */
export async function requireAccount(request: Request, context: AppLoadContext): Promise<Account> {
  const account = await accountOf(request, context);
  if (account) return account;
  throw redirect((await hasAccounts(context.store, context.isDemo)) ? "/sign-in" : "/first-account");
}

export const readerCookieOf = (request: Request, secret: string): string =>
  `${readerCookie}=${secret}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${staysSeconds}${secure(request)}`;

/** The address at which Lapwing is reached, as it is configured, or else as it was asked. */
export const originOf = (request: Request, { publicAddress }: AppLoadContext): string =>
  publicAddress?.origin ?? new URL(request.url).origin;

/** The laboratory's computer that asks; null for any other. */
export async function computerOf(request: Request, { store }: AppLoadContext): Promise<LabComputer | null> {
  const secret = computerSecretOf(request.headers.get("Cookie"));
  return secret ? computerOfSecret(store, secret) : null;
}

export const computerCookieOf = (request: Request, secret: string): string =>
  `${computerCookie}=${secret}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${staysSeconds}${secure(request)}`;
export const noComputerCookie = (): string => `${computerCookie}=; Path=/; HttpOnly; SameSite=Lax; Max-Age=0`;

/** What a browser keeps while it is at a provider of sign-ins; empty to forget it. */
export const keptCookieOf = (request: Request, kept: string): string =>
  `${providerCookie}=${kept}; Path=/sign-in; HttpOnly; SameSite=Lax; Max-Age=${kept === "" ? 0 : 600}${secure(request)}`;
export const keptSecretOf = (request: Request): string | null => providerKeptOf(request.headers.get("Cookie"));
