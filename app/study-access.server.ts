import { data, type AppLoadContext } from "react-router";
import { mayDo, rightInWords, rolesInWords, rolesWith, type Right, type Role } from "~/core/rights/rights";
import type { Account } from "~/server/accounts";
import { readerSecretOf } from "~/server/http/cookie";
import type { LabComputer } from "~/server/lab-computers";
import { studyOfReader } from "~/server/reader-link";
import { accountOfKey, keyRight } from "~/server/script-keys";
import { showsGroups } from "~/server/sharing";
import { findStudy, findStudyByCode, standingIn, type Standing, type Study } from "~/server/studies";
import { whoIs } from "~/server/study-log";
import { accountOf, computerOf, requireAccount, secretOf } from "./account.server";

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
  const study = (await studyOfAccount(request, context, code)) ?? (await studyOfGuest(request, context, code));
  if (!study) {
    await requireAccount(request, context);
    throw data(null, { status: 404 });
  }
  refuseUnless(study.roles, oneOf);
  return study;
}

/** The study as whoever is signed in works on it; null where they do not, or nobody is. */
async function studyOfAccount(
  request: Request,
  context: AppLoadContext,
  code: string | undefined,
): Promise<OpenedStudy | null> {
  const account = await accountOf(request, context);
  const study = account && code ? await findStudy(context.store, account.id, code) : null;
  return account && study ? { ...study, account, by: whoIs(account) } : null;
}

/** Who reads a design by a link, without an account: nobody in particular. */
const guest: Account = { id: "", email: "", name: "A reader", isDemo: false, isAdmin: false };

/** The study whose reading link a browser has come by, as its guest sees it; null for any other, and for who has only to sign in again. */
async function studyOfGuest(
  request: Request,
  context: AppLoadContext,
  code: string | undefined,
): Promise<OpenedStudy | null> {
  const mustSignIn = secretOf(request) !== null && (await accountOf(request, context)) === null;
  const secret = mustSignIn ? null : readerSecretOf(request.headers.get("Cookie"));
  const { store } = context;
  const opened = secret ? await studyOfReader(store, secret) : null;
  const study = opened && opened.code === code ? await findStudyByCode(store, opened.code) : null;
  return study && { ...study, roles: ["reader"], account: guest, by: "a reader by the link", isGuest: true };
}

/** The same study, for those who have an account; “not found” for a guest. */
export function accountOnly(study: OpenedStudy): OpenedStudy {
  if (study.isGuest) throw data(null, { status: 404 });
  return study;
}

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

/** What somebody with an account is in a study, and the revision that stands at, without reading it: for what is asked again and again. */
export async function requireStanding(
  request: Request,
  context: AppLoadContext,
  code: string | undefined,
  ...oneOf: [Right, ...Right[]]
): Promise<Standing & { account: Account }> {
  const account = await requireAccount(request, context);
  const standing = code ? await standingIn(context.store, account.id, code) : null;
  if (!standing) throw data(null, { status: 404 });
  refuseUnless(standing.roles, oneOf);
  return { ...standing, account };
}
