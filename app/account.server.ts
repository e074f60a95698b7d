import { data, redirect, type AppLoadContext } from "react-router";
import { accountOfSecret, hasAccounts, type Account } from "~/server/accounts";
import { signInCookie, signInSecretOf } from "~/server/http/cookie";
import { findStudy, type Study } from "~/server/studies";

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

/** The study of the signed-in account with this code; “not found” for anything else. */
export async function requireStudy(
  request: Request,
  context: AppLoadContext,
  code: string | undefined,
): Promise<Study> {
  const account = await requireAccount(request, context);
  const study = code ? await findStudy(context.store, account.id, code) : null;
  if (!study) throw data(null, { status: 404 });
  return study;
}
