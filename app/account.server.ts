import { data, redirect, type AppLoadContext } from "react-router";
import { accountOfSecret, hasAccounts, type Account } from "~/server/accounts";
import {
  computerCookie,
  providerCookie,
  providerKeptOf,
  computerSecretOf,
  readerCookie,
  readerSecretOf,
  signInCookie,
  signInSecretOf,
} from "~/server/http/cookie";
import { studyOfReader } from "~/server/reader-link";
import { computerOfSecret, type LabComputer } from "~/server/lab-computers";
import { showsGroups } from "~/server/sharing";
import { mayDo, rightInWords, rolesInWords, rolesWith, type Right, type Role } from "~/core/rights/rights";
import { accountOfKey, keyRight } from "~/server/script-keys";
import { findStudy, findStudyByCode, type Study } from "~/server/studies";
import { whoIs } from "~/server/study-log";

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

/** A study with who asks for it and what they are in it. */
export type OpenedStudy = Study & {
  roles: Role[];
  account: Account;
  by: string;
  /** Somebody without an account, who reads the design by a link. */
  isGuest?: true;
};

/**
 * The study with this code, for whoever has one of these rights in it: the signed-in account, or the owner of a key where only
 * data are read. “Not found” for those who have nothing to do with it, a plain refusal for those who may do other things.
 */
export async function requireStudy(
  request: Request,
  context: AppLoadContext,
  code: string | undefined,
  ...oneOf: [Right, ...Right[]]
): Promise<OpenedStudy> {
  const key = /^Bearer (\S{20,100})$/.exec(request.headers.get("Authorization") ?? "")?.[1];
  if (key !== undefined) return studyOfKey(request, context, code, key, oneOf);
  const signedIn = await accountOf(request, context);
  const mine = signedIn && code ? await findStudy(context.store, signedIn.id, code) : null;
  const study = mine ?? (await studyOfGuest(request, context, code));
  if (!study) {
    await requireAccount(request, context);
    throw data(null, { status: 404 });
  }
  refuseUnless(study.roles, oneOf);
  return "account" in study || !signedIn
    ? (study as OpenedStudy)
    : { ...study, account: signedIn, by: whoIs(signedIn) };
}

/** Who reads a design by a link, without an account: nobody in particular. */
const guest: Account = { id: "", email: "", name: "A reader", isDemo: false, isAdmin: false };

/** The study whose reading link a browser has come by, as its guest sees it; null for any other. */
async function studyOfGuest(
  request: Request,
  { store }: AppLoadContext,
  code: string | undefined,
): Promise<OpenedStudy | null> {
  const secret = readerSecretOf(request.headers.get("Cookie"));
  const opened = secret ? await studyOfReader(store, secret) : null;
  const study = opened && opened.code === code ? await findStudyByCode(store, opened.code) : null;
  return study && { ...study, roles: ["reader"], account: guest, by: "a reader by the link", isGuest: true };
}

/** The same study, for those who have an account; “not found” for a guest. */
export function accountOnly(study: OpenedStudy): OpenedStudy {
  if (study.isGuest) throw data(null, { status: 404 });
  return study;
}

export const readerCookieOf = (request: Request, secret: string): string =>
  `${readerCookie}=${secret}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${staysSeconds}${secure(request)}`;

async function studyOfKey(
  request: Request,
  { store }: AppLoadContext,
  code: string | undefined,
  key: string,
  oneOf: readonly Right[],
): Promise<OpenedStudy> {
  const study = code ? await findStudyByCode(store, code) : null;
  const account = study && (await accountOfKey(store, key, study.id));
  const opens = request.method === "GET" && oneOf.includes(keyRight);
  if (!study || !account)
    throw new Response("This key opens nothing here: it was ended, is too old, or belongs to another study.\n", {
      status: 401,
      headers: { "WWW-Authenticate": "Bearer", "Cache-Control": "no-store" },
    });
  if (!opens) throw new Response("A key opens the data only, to be read.\n", { status: 403 });
  return { ...study, roles: ["analyst"], account, by: `${whoIs(account)}, with the key “${account.key}”` };
}

/** Refuses, in words, those who have none of these rights. */
export function refuseUnless(roles: readonly Role[], oneOf: readonly Right[]): void {
  if (oneOf.some((right) => mayDo(roles, right))) return;
  const [right] = oneOf;
  throw Response.json(
    {
      reason: `You are ${rolesInWords(roles)} in this study. ${right ? `Only ${rolesWith(right)} may ${rightInWords(right)}.` : ""}`,
    },
    { status: 403 },
  );
}

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

/** Who works in the laboratory: a person, or its computer, of which nobody knows who sits at it. */
export type InLaboratory = {
  study: Study;
  computer: LabComputer | null;
  /** As what they note is signed. */
  name: string;
  /** Whether they are shown who is in which group. */
  seesGroups: boolean;
};

/** The study for whoever may start sessions of it: somebody with that right, or a computer that was enrolled for it. */
export async function requireLaboratory(
  request: Request,
  context: AppLoadContext,
  code: string | undefined,
): Promise<InLaboratory> {
  const { store } = context;
  const computer = await computerOf(request, context);
  const there = computer && code ? await findStudyByCode(store, code) : null;
  if (computer && there && there.binnedAt === null && computer.studies.includes(there.id))
    return { study: there, computer, name: computer.name, seesGroups: await showsGroups(store, there.id) };
  const study = await requireStudy(request, context, code, "start-sessions");
  const seesGroups = mayDo(study.roles, "see-sessions") || (await showsGroups(store, study.id));
  return { study, computer: null, name: study.account.name, seesGroups };
}

/** What a browser keeps while it is at a provider of sign-ins; empty to forget it. */
export const keptCookieOf = (request: Request, kept: string): string =>
  `${providerCookie}=${kept}; Path=/sign-in; HttpOnly; SameSite=Lax; Max-Age=${kept === "" ? 0 : 600}${secure(request)}`;
export const keptSecretOf = (request: Request): string | null => providerKeptOf(request.headers.get("Cookie"));
